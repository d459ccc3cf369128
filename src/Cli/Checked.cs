using AtticLedger.Cli.Bundle;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli;

/// <summary>Sites that are not in the register, with everything by which they are judged.</summary>
/// <param name="Rules">All versions of all rules.</param>
internal sealed record Checked(
    IEnumerable<SiteFacts> Sites,
    Organisation Organisation,
    PeopleDirectory PeopleDirectory,
    IReadOnlyList<Rule> Rules
)
{
    public Today Today => Today.At(PeopleDirectory.Now, PeopleDirectory.Time);

    public static Checked OfBundle(DirectoryInfo folder, DateTimeOffset now)
    {
        var register = new BundleRegister(BundleFolder.Open(folder));
        List<Unit> units = [.. register.Units()];
        List<Person> people = [.. register.People().Select(pair => pair.Person)];
        List<Group> groups = [.. register.Groups().Select(named => named.Group)];
        List<(Setting, string)> settings = [.. register.Settings()];
        var time = OrganisationTables.TimeOf(settings);
        List<SiteKind> kinds = [.. register.Kinds()];
        var organisation = OrganisationTables.OrganisationOf(
            [.. register.Limits()],
            kinds,
            [.. register.RetentionRules()],
            settings
        );
        return new Checked(
            register.Sites(),
            organisation,
            new PeopleDirectory(people, units, groups, now, time),
            [.. register.Rules()]
        );
    }

    public RuleBook Book(IEnumerable<Rule> versions) => new(versions, Today);
}
