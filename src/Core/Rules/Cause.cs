using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;

namespace AtticLedger.Core.Rules;

/// <summary>What a finding is decided by: each has exactly one cause.</summary>
public static class Cause
{
    /// <summary>The owner who leaves or has left, where that is why a site has too few active owners; of several the first who
    /// leaves. Null for a finding that is decided by its rule.</summary>
    public static SiteOwner? PersonBehind(IReadOnlyList<SiteOwner> owners, Rule rule) =>
        rule.Demand is Demand.ActiveOwners
            ? owners
                .Where(holder => holder.Standing is Standing.Leaving or Standing.Left)
                .OrderBy(holder => holder.Person.Day ?? DateOnly.MinValue)
                .FirstOrDefault()
            : null;

    /// <summary>The name of a cause in filters: the person's mail address, or the rule's id.</summary>
    public static string Name(IReadOnlyList<SiteOwner> owners, Rule rule) =>
        PersonBehind(owners, rule) is { } behind ? Name(behind.Person) : Name(rule);

    public static string Name(Person person) => person.Mail.Length > 0 ? person.Mail : $"person {person.Id}";

    public static string Name(Rule rule) => rule.Id.Value;
}
