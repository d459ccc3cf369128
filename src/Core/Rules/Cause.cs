using AtticLedger.Core.Access;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

public enum CauseKind : byte
{
    /// <summary>The rule itself.</summary>
    Rule,

    /// <summary>An owner who leaves or has left.</summary>
    OwnerLeaves,

    /// <summary>A person who has left and still has access at a host.</summary>
    StillHasAccess,
}

/// <summary>What a finding is decided by. Findings with the same cause are decided together.</summary>
/// <param name="Rule">The rule that is broken.</param>
/// <param name="Person">The person, unless it is the rule itself.</param>
public sealed record Cause(CauseKind Kind, Rule Rule, Person? Person, string Host)
{
    /// <summary>The name in filters: the rule's id, the person's mail address, or the mail address and the host.</summary>
    public string Name =>
        Kind switch
        {
            CauseKind.Rule => Rule.Id.Value,
            CauseKind.OwnerLeaves => MailOf(Person!),
            _ => $"{MailOf(Person!)} at {Host}",
        };

    /// <summary>Equal for causes with the same name.</summary>
    internal (CauseKind, RuleId?, PersonId?, string) Key =>
        (Kind, Kind == CauseKind.Rule ? Rule.Id : null, Person?.Id, Kind == CauseKind.StillHasAccess ? Host : "");

    /// <summary>What people read for a name of a cause: the rule's title, or the person, with the host if it is one host's.</summary>
    public static string Title(string name, RuleBook rules, PeopleDirectory directory)
    {
        if (rules.Find(new RuleId(name)) is { } rule)
        {
            return rule.Title;
        }

        var (person, host) = PersonOf(name, directory);
        return (person?.Name ?? "somebody") + (host is null ? "" : $" at {host}");
    }

    /// <summary>A name of a cause in the journal: the rule, or the person by their id and the host. A mail address would stay readable
    /// there when the name is erased.</summary>
    public static IReadOnlyList<(string, JournalValue)> InJournal(string name, RuleBook rules, PeopleDirectory directory)
    {
        if (rules.Find(new RuleId(name)) is { } rule)
        {
            return [("rule", JournalValue.Of(rule.Id.Value))];
        }

        var (person, host) = PersonOf(name, directory);
        return
        [
            ("person", person is null ? JournalValue.Unknown : JournalValue.Of(EntryActor.Of(person.Id))),
            .. host is null ? Array.Empty<(string, JournalValue)>() : [("host", JournalValue.Of(host))],
        ];
    }

    /// <summary>The causes of a broken rule: the owner who leaves, of several the first; the people who have left, if access
    /// exceeds policy because of them; the rule, where anything else breaks it.</summary>
    public static IEnumerable<Cause> Of(ComputedSite line, Rule rule)
    {
        var host = line.Site.Host;
        if (rule.Demand is not Demand.WithinAllowed)
        {
            yield return Of(host, line.Owners.Holders, rule);
            yield break;
        }

        foreach (var person in line.LeftWithAccess)
        {
            yield return new Cause(
                IsLastOwner(line, person) ? CauseKind.OwnerLeaves : CauseKind.StillHasAccess,
                rule,
                person,
                host
            );
        }

        if (line.LeftWithAccess.Count == 0 || line.ExceedsOtherwise)
        {
            yield return new Cause(CauseKind.Rule, rule, null, host);
        }
    }

    /// <summary>The cause of a broken rule that follows from what a row keeps; null if all facts of the site are needed.</summary>
    internal static Cause? Of(RegisterRow row, Rule rule) =>
        rule.Demand is Demand.WithinAllowed ? null : Of(row.Host, row.Owners.Holders, rule);

    private static Cause Of(string host, IReadOnlyList<SiteOwner> owners, Rule rule) =>
        rule.Demand is Demand.ActiveOwners && FirstLeaver(owners) is { } leaver
            ? new Cause(CauseKind.OwnerLeaves, rule, leaver.Person, host)
            : new Cause(CauseKind.Rule, rule, null, host);

    // Another version of a rule is another cause; equal people are the same instance in one index.
    public bool Equals(Cause? other) =>
        other is not null
        && Kind == other.Kind
        && (ReferenceEquals(Rule, other.Rule) || Rule.Equals(other.Rule))
        && Person?.Id == other.Person?.Id
        && Host == other.Host;

    public override int GetHashCode() => HashCode.Combine(Kind, Rule.Id, Person?.Id, Host);

    // Handing the site over removes the access too, and comes first.
    private static bool IsLastOwner(ComputedSite line, Person person) =>
        line.Owners.ActiveAtLeast == 0
        && line.Owners.Holders.Any(holder => holder.Through is null && holder.Person.Id == person.Id);

    private static SiteOwner? FirstLeaver(IReadOnlyList<SiteOwner> owners) =>
        owners
            .Where(holder => holder.Standing is Standing.Leaving or Standing.Left)
            .OrderBy(holder => holder.Person.Day ?? DateOnly.MinValue)
            .FirstOrDefault();

    private static (Person? Person, string? Host) PersonOf(string name, PeopleDirectory directory)
    {
        var at = name.IndexOf(" at ", StringComparison.Ordinal);
        var mail = at < 0 ? name : name[..at];
        return (directory.People.FirstOrDefault(person => MailOf(person) == mail), at < 0 ? null : name[(at + 4)..]);
    }

    private static string MailOf(Person person) => person.Mail.Length > 0 ? person.Mail : $"person {person.Id}";
}
