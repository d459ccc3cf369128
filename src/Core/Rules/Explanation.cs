using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A finding in plain sentences: the current state, and the facts that decided it.</summary>
public sealed record Explanation(string Headline, string Detail)
{
    public static Explanation Of(Finding finding, ComputedSite line, PeopleDirectory directory) =>
        (finding.Rule.Demand, finding.Verdict) switch
        {
            (_, Verdict.CannotTell) => CannotTell(finding.Rule, line),
            (Demand.WithinAllowed, _) => Wider(line, directory),
            (Demand.EditingNamedOnly, _) => Editing(line),
            (Demand.ActiveOwners(var least), _) => Owners(line, least, directory),
            _ => new Explanation(finding.Rule.Title, $"The rule demands: {finding.Rule.Demand.Expression}."),
        };

    private static Explanation CannotTell(Rule rule, ComputedSite line)
    {
        var missing = new List<string>();
        if (line.Site.Fault is not null)
        {
            missing.Add("the site cannot be computed");
        }
        else if (line.Site.Sharing.IsUnknown)
        {
            missing.Add($"{line.Site.Host} does not report the access");
        }
        else if (
            !line.Owners.Complete
            || Powers.Limited.Any(power =>
                line.AccessPath(power).SetAccess is var asked
                && !ReferenceEquals(asked.AtLeast, asked.AtMost)
                && asked.AtLeast != asked.AtMost
            )
        )
        {
            missing.Add("a group with access is reported only in part");
        }

        missing.AddRange(
            Powers
                .Limited.SelectMany(power => line.AccessPath(power).Steps)
                .Where(step => step.Limit.IsUnknown)
                .Select(step => $"{step.Layer.Name.ToLowerInvariant()}, so its limits are not known")
                .Distinct()
        );
        return new Explanation(
            $"Cannot tell: {LowerFirst(rule.Title)}",
            missing.Count > 0 ? Capital(string.Join("; ", missing)) + "." : "A fact that the rule needs is not known."
        );
    }

    private static Explanation Wider(ComputedSite line, PeopleDirectory directory)
    {
        var power = Powers.Limited.Last(power => line.ExcessOf(power) == Truth.Yes);
        var accessPath = line.AccessPath(power);
        var exceeds = accessPath.Excess.Certain;
        var who = exceeds.Doors.IsEmpty ? $"{People(exceeds.Inside.Count)} inside" : Capital(exceeds.Doors.Widest.Word());
        var isOne = exceeds.Doors.IsEmpty && exceeds.Inside.Count == 1;
        var verb = power switch
        {
            Power.View => isOne ? "has access" : "have access",
            Power.Preview => isOne ? "can view the draft" : "can view the draft",
            _ => "can edit",
        };
        if (exceeds.Doors.IsEmpty && directory.Left.Includes(exceeds.Inside))
        {
            return new Explanation(
                $"{Capital(People(exceeds.Inside.Count))} who left still {verb}",
                $"{line.Site.Host} has not removed them. Policy allows no access for people who have left."
            );
        }

        var organisation = accessPath
            .Steps.Where(step => step.Layer.Enforcer == Enforcer.Policy && step.Bindings.Any(binding => binding.IsCertain))
            .ToList();
        var names = Listed([.. organisation.Select(step => $"{KindWord(step.Layer)}")]);
        var allowed = accessPath.Permitted.Has(out var limit)
            ? exceeds.Doors.IsEmpty
                ? Inside(limit.Inside)
                : limit.Widest == OutsideLevel.NoOne
                    ? "nobody outside"
                    : $"{limit.Widest.Word()} at most"
            : "less";
        return new Explanation(
            $"{Capital(who)} {verb}; policy allows {allowed}",
            $"{line.Site.Host} gives them access. Policy does not: {names} {(organisation.Count == 1 ? "limits" : "limit")} it, but {line.Site.Host} does not enforce that."
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

    private static Explanation Editing(ComputedSite line)
    {
        var outside = line.Outside(Power.Edit).Or(default).AtLeast;
        var who =
            outside > (int)OutsideLevel.NamedGuests
                ? Capital(((OutsideLevel)outside).Word())
                : "All of the " + ((InsideLevel)line.Inside(Power.Edit).Or(default).AtLeast).Word();
        return new Explanation(
            $"{who} can edit",
            "Only named people, one by one or in groups, may edit. Nobody is responsible for edits by anyone else."
        );
    }

    private static Explanation Owners(ComputedSite line, int least, PeopleDirectory directory)
    {
        var active = line.Owners.ActiveAtLeast;
        var holders = line.Owners.Holders;
        var headline = (holders.Count, active) switch
        {
            (0, _) => "The site has no owner",
            (1, 0) => $"One owner, who {Reason(holders[0], directory)}",
            (_, 0) => $"{Capital(Number(holders.Count))} owners, none of them active",
            _ => $"{Capital(Number(active))} active owner{(active == 1 ? "" : "s")}, of {Number(least)} wanted",
        };
        var inactive = holders
            .Where(holder => !holder.IsActive)
            .Select(holder => $"{holder.Person.Name} {Reason(holder, directory)}")
            .ToList();
        return new Explanation(
            headline,
            inactive.Count > 0
                    ? string.Join("; ", inactive.Take(5)) + (inactive.Count > 5 ? $"; and {inactive.Count - 5} more." : ".")
                : holders.Count == 0 ? "Nobody can answer for it, hand it over or move it to the attic."
                : "A second owner can act when the first is away."
        );
    }

    public static string Reason(SiteOwner holder, PeopleDirectory directory) =>
        holder
            .Why.Select(why =>
                why switch
                {
                    InactiveReason.Outside => "is from outside",
                    InactiveReason.Service => "is a service account",
                    InactiveReason.Left => holder.Person.Day is { } day ? $"left on {Date(day, directory)}" : "has left",
                    InactiveReason.Leaving => holder.Person.Day is { } day ? $"leaves on {Date(day, directory)}" : "is leaving",
                    InactiveReason.Absent => holder.Person.Day is { } day ? $"is away until {Date(day, directory)}" : "is away",
                    _ => "does not receive mail",
                }
            )
            .DefaultIfEmpty("is active")
            .Aggregate((all, one) => $"{all} and {one}");

    public static string Date(DateOnly day, PeopleDirectory directory) =>
        day.ToString(
            day.Year == directory.Time.DayOf(directory.Now).Year ? "d MMM" : "d MMM yyyy",
            System.Globalization.CultureInfo.InvariantCulture
        );

    private static string KindWord(Access.Layer layer) =>
        layer.Kind switch
        {
            LayerKind.Organisation => "the organisation",
            LayerKind.Unit => $"unit {layer.Name}",
            LayerKind.Classification => $"classification {layer.Name}",
            LayerKind.Kind => $"kind {layer.Name}",
            LayerKind.OwnersClassification => $"the classification of its owners ({layer.Name["Owners: ".Length..]})",
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
