using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>The register's own keys of grants, the same at every host, so that a grant can be requested that is not there
/// yet.</summary>
public static class GrantKeys
{
    public const string Staff = "everyone";
    public const string Partners = "partners";
    public const string Anonymous = "world";

    public static string Of(Person person) => $"person:{person.Mail.ToLowerInvariant()}";

    /// <summary>Of a group by the host's own key.</summary>
    public static string OfGroup(string key) => $"g:{key}";

    public static string Of(UnitCode unit) => $"unit:{unit.Value}";

    /// <summary>The key under which a subject is granted something on a site: that of its grant there, or a new one; null if only
    /// the host can give one, as to a group.</summary>
    public static string? KeyFor(this IReadOnlyList<Grant> grants, Subject subject, PeopleDirectory directory) =>
        grants.FirstOrDefault(grant => grant.Subject == subject && !grant.IsLink)?.Key
        ?? subject switch
        {
            Subject.OnePerson(var person) => directory.Find(person) is { } found ? Of(found) : null,
            Subject.WholeUnit(var unit) => Of(unit),
            Subject.AllStaff => Staff,
            Subject.Partners => Partners,
            Subject.Anonymous => Anonymous,
            _ => null,
        };
}
