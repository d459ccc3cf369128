using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Cli.Bundle;

/// <summary>Writes the register as a bundle, sorted by names and keys, so that the same register gives the same bytes.</summary>
public sealed class BundleExport : INamesForBundle
{
    private const int Batch = 1000;
    private readonly Dictionary<PersonId, string> people;
    private readonly Dictionary<GroupId, GroupName> groups;

    private BundleExport(PeopleDirectory directory, Dictionary<GroupId, GroupName> groups)
    {
        people = Names(directory);
        this.groups = groups;
    }

    public static Task Write(Database database, DirectoryInfo folder) =>
        BundleFolder.Write(folder, database.Now, writer => database.Read(async connection =>
            {
                var directory = await connection.PeopleDirectory(database.Now, await connection.OrganisationTime());
                var groups = (await connection.GroupKeys()).ToDictionary(
                    pair => pair.Value,
                    pair => new GroupName(pair.Key.Source, pair.Key.Key)
                );
                var export = new BundleExport(directory, groups);
                export.WritePeople(
                    writer,
                    directory,
                    await connection.PeopleByHand(),
                    (await connection.Sponsorships()).ToLookup(claim => claim.Guest)
                );
                await WriteOrganisation(writer, connection);
                await export.WriteSites(writer, connection);
                return 0;
            }));

    // People with erased names are identified by their sequence.
    private static Dictionary<PersonId, string> Names(PeopleDirectory directory)
    {
        var erased = 0;
        return directory.People.ToDictionary(
            person => person.Id,
            person => person.Mail.Length > 0 ? person.Mail.ToLowerInvariant() : $"erased-{++erased}"
        );
    }

    private void WritePeople(
        BundleWriter writer,
        PeopleDirectory directory,
        HashSet<PersonId> byHand,
        ILookup<PersonId, Sponsorship> sponsors
    )
    {
        foreach (var unit in InTreeOrder(directory))
        {
            writer.Add("units.jsonl", new UnitRow(unit.Code.Value, unit.Name, unit.Parent?.Value));
        }

        foreach (var person in directory.People.OrderBy(person => people[person.Id], StringComparer.Ordinal))
        {
            var isNamed = person.Mail.Length > 0;
            writer.Add(
                "people.jsonl",
                new PersonRow(
                    people[person.Id],
                    person.Kind,
                    person.Standing,
                    isNamed ? person.Name : null,
                    isNamed ? person.Mail : null,
                    person.Day,
                    person.Unit.Select(unit => unit.Value),
                    person.Classification,
                    person.MailFails,
                    byHand.Contains(person.Id),
                    sponsors.Contains(person.Id)
                        ? [.. sponsors[person.Id].Select(claim => new SponsorRow(claim.Source, people[claim.Sponsor]))]
                        : null
                )
            );
        }

        foreach (
            var group in directory
                .Groups.OrderBy(group => groups[group.Id].Source, StringComparer.Ordinal)
                .ThenBy(group => groups[group.Id].Key, StringComparer.Ordinal)
        )
        {
            writer.Add(
                "groups.jsonl",
                new GroupRow(
                    groups[group.Id].Source,
                    groups[group.Id].Key,
                    group.Name,
                    group.Complete,
                    [
                        .. group.Members.Select(member => new MemberRow(
                            member.Person is { } person ? people[person] : null,
                            member.Group is { } inner ? groups[inner] : null,
                            member.Unit?.Value
                        )),
                    ]
                )
            );
        }
    }

    // A unit comes after its parent.
    private static IEnumerable<Unit> InTreeOrder(PeopleDirectory directory) =>
        directory
            .Units.OrderBy(unit => directory.ChainOf(unit.Code).Count)
            .ThenBy(unit => unit.Code.Value, StringComparer.Ordinal);

    private static async Task WriteOrganisation(BundleWriter writer, NpgsqlConnection connection)
    {
        var organisation = await connection.Organisation();
        foreach (var (setting, value) in await connection.Settings())
        {
            writer.Add("settings.jsonl", new SettingRow(setting.Name, value));
        }

        foreach (var kind in organisation.Kinds.OrderBy(kind => kind.Code, StringComparer.Ordinal))
        {
            writer.Add("kinds.jsonl", new KindRow(kind.Code, kind.Name, kind.AlwaysAllStaff));
        }

        foreach (
            var limit in organisation
                .Limits.OrderBy(limit => limit.Kind)
                .ThenBy(limit => limit.Code, StringComparer.Ordinal)
                .ThenBy(limit => limit.Enforcer)
        )
        {
            writer.Add("limits.jsonl", new LimitRow(limit.Kind, limit.Code, limit.Enforcer, limit.Limits.Select(CapsRow.Of)));
        }

        foreach (var keep in organisation.RetentionRules)
        {
            writer.Add(
                "retention.jsonl",
                new RetentionRow(
                    keep.Days,
                    keep.From.ToUniversalTime(),
                    keep.Until?.ToUniversalTime(),
                    keep.Host,
                    keep.Classification
                )
            );
        }

        foreach (var rule in await connection.AllRules())
        {
            writer.Add(
                "rules.jsonl",
                new RuleRow(
                    rule.Id.Value,
                    rule.Title,
                    rule.Short,
                    rule.Level,
                    rule.Scope,
                    RuleTables.DemandText(rule.Demand),
                    rule.From,
                    rule.Version,
                    rule.IsOff
                )
            );
        }
    }

    private async Task WriteSites(BundleWriter writer, NpgsqlConnection connection)
    {
        foreach (var ids in (await connection.SiteIdsByKey()).Chunk(Batch))
        {
            var sites = (await connection.Sites(new Scope.Everything(), ids)).ToDictionary(site => site.Id);
            var now = (
                await connection.Sites(new Scope.Everything(), [.. sites.Values.Select(site => site.MovedTo).OfType<SiteId>()])
            ).ToDictionary(site => site.Id, site => new SiteName(site.Host, site.HostKey));
            foreach (var id in ids)
            {
                if (sites[id].Fault is { } fault)
                {
                    throw new InvalidOperationException(
                        $"Site {id.Value} ({sites[id].Host}, {sites[id].HostKey}) cannot be read, so the bundle would be incomplete: {fault}"
                    );
                }

                writer.Add("sites.jsonl", Row(sites[id]) with { Moved = sites[id].MovedTo is { } to ? now[to] : null });
            }
        }
    }

    private SiteRow Row(SiteFacts site) =>
        new(
            site.Host,
            site.HostKey,
            site.SeenAt.ToUniversalTime(),
            site.NoLongerReported,
            site.Existence,
            site.StandsAt.ToUniversalTime(),
            site.Bin is { } bin
                ? new BinRow(
                    bin.Since.ToUniversalTime(),
                    bin.By is { } by ? people[by] : null,
                    bin.RecoverableUntil.Select(at => at.ToUniversalTime()),
                    bin.ErasedBy.Select(at => at.ToUniversalTime())
                )
                : null,
            site.Sharing.Select(sharing => new SharingRow(
                sharing.At.ToUniversalTime(),
                sharing.Source,
                [.. sharing.Grants.OrderBy(grant => grant.Key, StringComparer.Ordinal).Select(Row)],
                sharing.OwnLimit is { } own ? CapsRow.Of(own) : null
            )),
            site.Claims.Count == 0
                ? null
                :
                [
                    .. site.Claims.Select(claim => new ClaimRow(
                        claim.Fact,
                        claim.Source,
                        claim.Since.ToUniversalTime(),
                        claim.Value,
                        claim.By is { } by ? people[by] : null
                    )),
                ]
        )
        {
            Facts = BundleFacts.Write(site.Facts, this),
        };

    string INamesForBundle.Of(PersonId person) => people[person];

    GroupName INamesForBundle.Of(GroupId group) => groups[group];

    SectionRow INamesForBundle.Of(SiteSection section) =>
        new(section.Key, section.Name, section.Tie, [.. section.Grants.Select(Row)]);

    private GrantRow Row(Grant grant)
    {
        var row = new GrantRow(
            grant.Key,
            grant.Power,
            VisitorSignIn: grant.VisitorSignIn,
            Link: grant.IsLink,
            Through: grant.Through
        );
        return grant.Subject switch
        {
            Subject.OnePerson(var person) => row with { Person = people[person] },
            Subject.OneGroup(var group) => row with { Group = groups[group] },
            Subject.WholeUnit(var unit) => row with { Unit = unit.Value },
            Subject.AllStaff => row with { To = "staff" },
            Subject.Partners => row with { To = "partners" },
            _ => row with { To = "anonymous" },
        };
    }
}
