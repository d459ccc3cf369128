using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A finding in plain sentences: the current state, and the facts that decided it.</summary>
public sealed record Explanation(string Headline, string Detail)
{
    // Of more people a finding gives the number.
    private const int MostNamed = 3;

    public static Explanation Of(Finding finding, ComputedSite line, PeopleDirectory directory) =>
        (finding.Rule.Demand, finding.IsUntold) switch
        {
            (_, true) => CannotTell(finding.Rule, line),
            (Demand.WithinAllowed, _) => Wider(line, directory),
            (Demand.EditingNamedOnly, _) => Editing(line),
            (Demand.ActiveOwners(var least), _) => Owners(line, least, directory),
            _ => new Explanation(Capital(finding.Rule.Short), $"The rule demands: {finding.Rule.Demand.Expression}."),
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
        // The widest audience first, then the strongest power.
        List<Audience> audiences =
        [
            .. Powers
                .Limited.Where(power => line.ExcessOf(power) == Truth.Yes)
                .SelectMany(power => Audiences(line, power, directory))
                .OrderByDescending(audience => audience.Width)
                .ThenByDescending(audience => audience.Count)
                .ThenByDescending(audience => audience.Power),
        ];
        var host = line.Site.Host;
        if (audiences is not [var widest, .. var others])
        {
            return new Explanation(
                "Access exceeds policy",
                $"Policy cannot allow all of the people to whom {host} gives access at once."
            );
        }

        if (widest.HasLeft)
        {
            return new Explanation(
                $"{widest.Who}, who left, still {Can(widest)}",
                $"{host} has not removed them. Policy allows no access for people who have left."
            );
        }

        var accessPath = line.AccessPath(widest.Power);
        var layers = accessPath
            .Steps.Where(step => step.Layer.Enforcer == Enforcer.Policy && step.Bindings.Any(binding => binding.IsCertain))
            .Select(step => KindWord(step.Layer))
            .ToList();
        var allowed = accessPath.Permitted.Has(out var limit)
            ? !widest.IsOutside
                ? Inside(limit.Inside)
                : limit.Widest == OutsideLevel.NoOne
                    ? "nobody outside"
                    : $"{limit.Widest.Word()} at most"
            : "less";
        var also =
            others.Count == 0
                ? ""
                : $" Also: {Listed([.. others.Select(other => $"{(other.HasLeft ? $"{other.Who}, who left," : LowerFirst(other.Who))} {Can(other)}")])}.";
        return new Explanation(
            $"{widest.Who} {Can(widest)}; policy allows {allowed}",
            $"{host} gives them access. Policy does not: {Listed(layers)} {(layers.Count == 1 ? "limits" : "limit")} it, but {host} does not enforce that.{also}"
        );
    }

    /// <summary>People whose access exceeds policy for one power: from outside, inside, or who have left.</summary>
    /// <param name="Width">0 for people who have left, 1 inside, then by the level outside.</param>
    private sealed record Audience(Power Power, int Width, int Count, string Who, bool IsOutside = false, bool HasLeft = false);

    private static IEnumerable<Audience> Audiences(ComputedSite line, Power power, PeopleDirectory directory)
    {
        const int Inside = 1;
        var certain = line.AccessPath(power).Excess.Certain;
        var present = certain.Without(directory.Left);
        if (!present.Doors.IsEmpty)
        {
            var widest = present.Doors.Widest;
            yield return new Audience(power, Inside + (int)widest, 0, Capital(widest.Word()), IsOutside: true);
        }
        else if (present.Guests.Count > 0)
        {
            var width = Inside + (int)OutsideLevel.NamedGuests;
            yield return new Audience(
                power,
                width,
                present.Guests.Count,
                $"{Capital(present.Guests.Count.Counted("guest"))}",
                IsOutside: true
            );
        }

        if (present.Inside.Count > 0)
        {
            yield return new Audience(power, Inside, present.Inside.Count, Capital($"{People(present.Inside.Count)} inside"));
        }

        var left = certain.Inside.Union(certain.Guests).Intersect(directory.Left);
        if (left.Count > 0)
        {
            List<string> names = [.. left.Places().Take(MostNamed).Select(place => directory.People[place].Name)];
            yield return new Audience(
                power,
                0,
                left.Count,
                Listed(left.Count > MostNamed ? [.. names, $"{Number(left.Count - MostNamed)} more"] : names),
                HasLeft: true
            );
        }
    }

    private static string Can(Audience audience) =>
        audience.Power switch
        {
            Power.View => "can view the published site",
            Power.Preview => "can view the draft",
            _ => "can edit",
        };

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
