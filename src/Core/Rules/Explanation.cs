using AtticLedger.Core.Keys;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A finding in plain sentences: what is so, and the facts that decided it.</summary>
public sealed record Explanation(string Headline, string Detail)
{
    public static Explanation Of(Finding finding, SiteLine line, Roll roll) =>
        (finding.Rule.Demand, finding.Verdict) switch
        {
            (_, Verdict.CannotTell) => CannotTell(finding.Rule, line),
            (Demand.WithinAllowed, _) => Wider(line, roll),
            (Demand.EditingNamedOnly, _) => Editing(line),
            (Demand.FitKeyHolders(var least), _) => Keys(line, least, roll),
            _ => new Explanation(finding.Rule.Title, $"The rule asks: {finding.Rule.Demand.Expression}."),
        };

    private static Explanation CannotTell(Rule rule, SiteLine line)
    {
        var missing = new List<string>();
        if (line.Site.Fault is not null)
        {
            missing.Add("what is known of the site cannot be read");
        }
        else if (line.Site.Sharing.IsUnknown)
        {
            missing.Add($"{line.Site.Host} did not say who is let in");
        }
        else if (
            !line.Keys.Complete
            || Powers.Limited.Any(power =>
                line.Passage(power).Asked is var asked
                && !ReferenceEquals(asked.AtLeast, asked.AtMost)
                && asked.AtLeast != asked.AtMost
            )
        )
        {
            missing.Add("a group it lets in was read only in part");
        }

        missing.AddRange(
            Powers
                .Limited.SelectMany(power => line.Passage(power).Steps)
                .Where(step => step.Limit.IsUnknown)
                .Select(step => $"{step.Layer.Name.ToLowerInvariant()}, so its limits are not known")
                .Distinct()
        );
        return new Explanation(
            $"Cannot tell: {LowerFirst(rule.Title)}",
            missing.Count > 0 ? Capital(string.Join("; ", missing)) + "." : "A fact that decides it is not known."
        );
    }

    private static Explanation Wider(SiteLine line, Roll roll)
    {
        var power = Powers.Limited.Last(power => line.BeyondOf(power) == Truth.Yes);
        var passage = line.Passage(power);
        var beyond = passage.Beyond.Certain;
        var who = beyond.Doors.IsEmpty ? $"{People(beyond.Inside.Count)} inside" : Capital(beyond.Doors.Widest.Word());
        var isOne = beyond.Doors.IsEmpty && beyond.Inside.Count == 1;
        var verb = power switch
        {
            Power.View => isOne ? "gets in" : "get in",
            Power.Preview => isOne ? "reads the working copy" : "read the working copy",
            _ => "can edit",
        };
        if (beyond.Doors.IsEmpty && roll.Left.Includes(beyond.Inside))
        {
            return new Explanation(
                $"{Capital(People(beyond.Inside.Count))} who left still {verb}",
                $"{line.Site.Host} has not dropped them. People who have left count as nothing in what the house allows."
            );
        }

        var house = passage
            .Steps.Where(step => step.Layer.Enforcer == Enforcer.House && step.Bindings.Any(binding => binding.IsCertain))
            .ToList();
        var names = Listed([.. house.Select(step => $"{KindWord(step.Layer)}")]);
        var allowed = passage.Permitted.Has(out var limit)
            ? beyond.Doors.IsEmpty
                ? Inside(limit.Inside)
                : limit.Widest == OutsideLevel.NoOne
                    ? "nobody outside"
                    : $"{limit.Widest.Word()} at the most"
            : "less";
        return new Explanation(
            $"{Capital(who)} {verb}; the house allows {allowed}",
            $"{line.Site.Host} lets them in. The house does not: {names} {(house.Count == 1 ? "binds" : "bind")}, and no host setting holds that limit."
        );
    }

    private static string Inside(InsideLimit limit) =>
        limit switch
        {
            InsideLimit.Staff => "only the staff",
            InsideLimit.Unit => "only the site's own unit",
            InsideLimit.Named => "only people who are named",
            InsideLimit.NamedInUnit => "only people of its unit who are named",
            _ => "nobody",
        };

    private static Explanation Editing(SiteLine line)
    {
        var outside = line.Outside(Power.Edit).Or(default).AtLeast;
        var who =
            outside > (int)OutsideLevel.NamedGuests
                ? Capital(((OutsideLevel)outside).Word())
                : "All of the " + ((InsideLevel)line.Inside(Power.Edit).Or(default).AtLeast).Word();
        return new Explanation(
            $"{who} can edit",
            "Editing belongs to people who are named, one by one or in groups. A change by anybody else cannot be told from a mistake."
        );
    }

    private static Explanation Keys(SiteLine line, int least, Roll roll)
    {
        var fit = line.Keys.FitAtLeast;
        var holders = line.Keys.Holders;
        var headline = (holders.Count, fit) switch
        {
            (0, _) => "Nobody holds a key",
            (1, 0) => $"One key holder, who {Reason(holders[0], roll)}",
            (_, 0) => $"{Capital(Number(holders.Count))} key holders, none of them fit",
            _ => $"{Capital(Number(fit))} fit key holder{(fit == 1 ? "" : "s")}, of {Number(least)} wanted",
        };
        var unfit = holders
            .Where(holder => !holder.IsFit)
            .Select(holder => $"{holder.Person.Name} {Reason(holder, roll)}")
            .ToList();
        return new Explanation(
            headline,
            unfit.Count > 0 ? string.Join("; ", unfit.Take(5)) + (unfit.Count > 5 ? $"; and {unfit.Count - 5} more." : ".")
                : holders.Count == 0 ? "Nobody can answer for it, hand it over or put it away."
                : "A second one keeps the site when the first is away."
        );
    }

    public static string Reason(KeyHolder holder, Roll roll) =>
        holder
            .Why.Select(why =>
                why switch
                {
                    Unfit.Outside => "is from outside",
                    Unfit.Service => "is a service account",
                    Unfit.Left => holder.Person.Day is { } day ? $"left on {Date(day, roll)}" : "has left",
                    Unfit.Leaving => holder.Person.Day is { } day ? $"leaves on {Date(day, roll)}" : "is leaving",
                    Unfit.Absent => holder.Person.Day is { } day ? $"is away until {Date(day, roll)}" : "is away",
                    _ => "does not get our mail",
                }
            )
            .DefaultIfEmpty("is fit")
            .Aggregate((all, one) => $"{all} and {one}");

    public static string Date(DateOnly day, Roll roll) =>
        day.ToString(
            day.Year == roll.Time.DayOf(roll.Now).Year ? "d MMM" : "d MMM yyyy",
            System.Globalization.CultureInfo.InvariantCulture
        );

    private static string KindWord(Doors.Layer layer) =>
        layer.Kind switch
        {
            LayerKind.Organisation => "the organisation",
            LayerKind.Unit => $"unit {layer.Name}",
            LayerKind.Class => $"class {layer.Name}",
            LayerKind.Kind => $"kind {layer.Name}",
            LayerKind.OwnersClass => $"the class of its owners ({layer.Name["Owners: ".Length..]})",
            _ => layer.Name,
        };

    private static string People(int count) => count == 1 ? "one person" : $"{Number(count)} people";

    private static string Number(int count) =>
        count is >= 0 and <= 9
            ? new[] { "no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine" }[count]
            : count.ToString("#,0", System.Globalization.CultureInfo.InvariantCulture);

    private static string Listed(IReadOnlyList<string> words) =>
        words.Count < 2 ? string.Concat(words) : $"{string.Join(", ", words.SkipLast(1))} and {words[^1]}";

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string LowerFirst(string text) => text.Length == 0 ? text : char.ToLowerInvariant(text[0]) + text[1..];
}
