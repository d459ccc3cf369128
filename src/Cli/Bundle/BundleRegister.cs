using System.Text.Json;
using AtticLedger.Core.Filters;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli.Bundle;

/// <summary>A bundle as the register that it describes. A named object has to be read before the rows that name it, so the parts
/// are read in the sequence of this class. Ids are assigned from 1.
/// </summary>
/// <exception cref="BundleError">The bundle has a fault; the message names the file and the line.</exception>
public sealed class BundleRegister(BundleFolder bundle) : INamesInBundle
{
    private readonly HashSet<string> units = [];
    private readonly Dictionary<string, PersonId> people = [];
    private readonly Dictionary<GroupName, GroupId> groups = [];
    private readonly List<(long Line, SiteId From, SiteName To)> moved = [];
    private readonly List<(long Line, PersonId Guest, SponsorRow Said)> sponsored = [];
    private readonly List<PersonId> byHand = [];
    private readonly Dictionary<SiteName, SiteId> keys = [];
    private string file = "";
    private long line;

    public IEnumerable<Unit> Units()
    {
        foreach (var row in Rows<UnitRow>("units.jsonl"))
        {
            Must(row.Parent is null || units.Contains(row.Parent), $"there is no unit \"{row.Parent}\" before this line");
            Must(units.Add(row.Code), $"there are two units \"{row.Code}\"");
            yield return new Unit(new UnitCode(row.Code), row.Name, row.Parent is { } parent ? new UnitCode(parent) : null);
        }
    }

    /// <summary>People, and whether their names are erased.</summary>
    public IEnumerable<(Person Person, bool IsNamed)> People()
    {
        foreach (var row in Rows<PersonRow>("people.jsonl"))
        {
            Must((row.Name is null) == (row.Mail is null), "name and mail are both given or both erased");
            Must(row.Mail is null || row.Id == row.Mail.ToLowerInvariant(), "the id has to be the mail address in lower case");
            Must(people.TryAdd(row.Id, new PersonId(people.Count + 1)), $"there are two people \"{row.Id}\"");
            if (row.ByHand)
            {
                byHand.Add(people[row.Id]);
            }

            sponsored.AddRange((row.Sponsors ?? []).Select(said => (line, people[row.Id], said)));
            yield return (
                new Person(
                    people[row.Id],
                    row.Kind,
                    row.Name ?? "",
                    row.Mail ?? "",
                    row.Standing,
                    row.Day,
                    Unit(row.Unit),
                    row.Classification,
                    row.MailFails
                ),
                row.Mail is not null
            );
        }
    }

    /// <summary>The people so far that an imported list reports.</summary>
    public IReadOnlyCollection<PersonId> ByHand => byHand;

    /// <summary>The sponsors of guests, who can come later in the file than the guests.</summary>
    public IEnumerable<Sponsorship> Sponsorships()
    {
        foreach (var (at, guest, said) in sponsored)
        {
            line = at;
            yield return new Sponsorship(guest, said.Source, Person(said.Person));
        }
    }

    /// <summary>Groups by source and key.</summary>
    public IEnumerable<(Group Group, string Source, string Key)> Groups()
    {
        // Groups name each other, also in cycles, so their names are read before their members.
        List<(long Line, GroupRow Row)> rows = [.. bundle.Rows<GroupRow>("groups.jsonl")];
        file = "groups.jsonl";
        foreach (var (at, row) in rows)
        {
            line = at;
            Must(
                groups.TryAdd(new GroupName(row.Source, row.Key), new GroupId(groups.Count + 1)),
                $"there are two groups \"{row.Key}\" of {row.Source}"
            );
        }

        foreach (var (at, row) in rows)
        {
            line = at;
            yield return (
                new Group(groups[new GroupName(row.Source, row.Key)], row.Name, [.. row.Members.Select(MemberOf)], row.Complete),
                row.Source,
                row.Key
            );
        }
    }

    public IEnumerable<(Setting Setting, string Value)> Settings()
    {
        foreach (var row in Rows<SettingRow>("settings.jsonl"))
        {
            var setting = Setting.Find(row.Name);
            Must(setting is not null, $"there is no setting \"{row.Name}\"");
            var fault = setting!.Fault(row.Value);
            Must(fault is null, fault ?? "");
            yield return (setting, row.Value);
        }
    }

    public IEnumerable<SiteKind> Kinds() =>
        Rows<KindRow>("kinds.jsonl").Select(row => new SiteKind(row.Code, row.Name, row.AlwaysAllStaff));

    public IEnumerable<LimitSetting> Limits() =>
        Rows<LimitRow>("limits.jsonl")
            .Select(row => new LimitSetting(row.Kind, row.Code, row.Enforcer, row.Limits.Select(caps => caps.Limits)));

    public IEnumerable<RetentionRule> RetentionRules()
    {
        foreach (var row in Rows<RetentionRow>("retention.jsonl"))
        {
            Must(row.Days > 0, "days has to be at least 1");
            yield return new RetentionRule(row.Host, row.Classification, row.Days, row.From, row.Until);
        }
    }

    public IEnumerable<Rule> Rules() => Rows<RuleRow>("rules.jsonl").Select(RuleOf);

    public IEnumerable<SiteFacts> Sites()
    {
        foreach (var row in Rows<SiteRow>("sites.jsonl"))
        {
            var id = new SiteId(keys.Count + 1);
            Must(keys.TryAdd(new SiteName(row.Host, row.Key), id), $"there are two sites \"{row.Key}\" on {row.Host}");
            if (row.Moved is { } to)
            {
                moved.Add((line, id, to));
            }

            yield return Site(row, id);
        }
    }

    /// <summary>Rows of sites that moved to another row, which can come later in the file.</summary>
    public IEnumerable<(SiteId From, SiteId To)> Moved()
    {
        foreach (var (at, from, to) in moved)
        {
            line = at;
            yield return (
                from,
                keys.TryGetValue(to, out var now)
                    ? now
                    : throw Error($"there is no site \"{to.Key}\" on {to.Host} to which it could have moved")
            );
        }
    }

    private Member MemberOf(MemberRow row) =>
        row switch
        {
            { Person: { } person, Group: null, Unit: null } => Member.Of(Person(person)),
            { Person: null, Group: { } group, Unit: null } => Member.Of(Group(group)),
            { Person: null, Group: null, Unit: { } unit } => Member.Of(Unit(unit)),
            _ => throw Error("a member is exactly one of person, group and unit"),
        };

    private Rule RuleOf(RuleRow row)
    {
        try
        {
            var rule = new Rule(
                new RuleId(row.Id),
                row.Title,
                row.Short,
                row.Level,
                row.Scope,
                RuleTables.ReadDemand(row.Demand),
                row.From
            )
            {
                Version = row.Version,
                IsOff = row.Off,
            };
            rule.Expression.Check(new Today(row.From, new OrganisationTime(TimeZoneInfo.Utc)));
            return rule;
        }
        catch (Exception error) when (error is RuleError or InvalidOperationException or FormatException)
        {
            throw Error(error.Message);
        }
    }

    private SiteFacts Site(SiteRow row, SiteId id) =>
        new()
        {
            Id = id,
            Host = row.Host,
            HostKey = row.Key,
            Facts = Facts(row.Facts),
            Claims =
            [
                .. (row.Claims ?? []).Select(said => new Claim(
                    said.Fact,
                    said.Source,
                    said.Value,
                    said.Since,
                    said.By is { } by ? Person(by) : null
                )),
            ],
            Sharing = row.Sharing.Select(Sharing),
            Existence = row.Existence,
            StandsAt = row.StandsAt,
            Bin = row.Bin is { } bin ? new Bin(bin.Since, bin.By is { } by ? Person(by) : null, bin.Until, bin.Erased) : null,
            SeenAt = row.SeenAt,
            NoLongerReported = row.NoLongerReported,
        };

    private FactSet Facts(IReadOnlyDictionary<string, JsonElement>? fields)
    {
        try
        {
            return BundleFacts.Read(fields, this);
        }
        catch (JsonException error)
        {
            throw Error(error.Message);
        }
    }

    PersonId INamesInBundle.Person(string id) => Person(id);

    GroupId INamesInBundle.Group(GroupName name) => Group(name);

    UnitCode INamesInBundle.Unit(string code) => Unit(code);

    SiteSection INamesInBundle.Section(SectionRow row) => new(row.Key, row.Name, row.Tie, [.. Grants(row.Grants)]);

    private Sharing Sharing(SharingRow row) => new(Grants(row.Grants), row.OwnLimit?.Limits, row.At, row.Source);

    private List<Grant> Grants(IReadOnlyList<GrantRow> rows)
    {
        var keys = new HashSet<string>();
        return
        [
            .. rows.Select(grant =>
            {
                Must(keys.Add(grant.Key), $"there are two grants \"{grant.Key}\"");
                return new Grant(grant.Key, grant.Power, SubjectOf(grant), grant.VisitorSignIn, grant.Link, grant.Through);
            }),
        ];
    }

    private Subject SubjectOf(GrantRow row) =>
        row switch
        {
            { Person: { } person, Group: null, Unit: null, To: null } => new Subject.OnePerson(Person(person)),
            { Person: null, Group: { } group, Unit: null, To: null } => new Subject.OneGroup(Group(group)),
            { Person: null, Group: null, Unit: { } unit, To: null } => new Subject.WholeUnit(Unit(unit)),
            { Person: null, Group: null, Unit: null, To: "staff" } => new Subject.AllStaff(),
            { Person: null, Group: null, Unit: null, To: "partners" } => new Subject.Partners(),
            { Person: null, Group: null, Unit: null, To: "anonymous" } => new Subject.Anonymous(),
            _ => throw Error(
                $"the grant \"{row.Key}\" is to exactly one of person, group, unit and to (staff, partners or anonymous)"
            ),
        };

    private PersonId Person(string id) =>
        people.TryGetValue(id, out var person) ? person : throw Error($"there is no person \"{id}\"");

    private GroupId Group(GroupName name) =>
        groups.TryGetValue(name, out var group) ? group : throw Error($"there is no group \"{name.Key}\" of {name.Source}");

    private UnitCode Unit(string code) => units.Contains(code) ? new UnitCode(code) : throw Error($"there is no unit \"{code}\"");

    private Known<UnitCode> Unit(Known<string> code) => code.Select(Unit);

    private IEnumerable<TRow> Rows<TRow>(string name)
    {
        file = name;
        foreach (var (at, row) in bundle.Rows<TRow>(name))
        {
            line = at;
            yield return row;
        }
    }

    private void Must(bool holds, string message)
    {
        if (!holds)
        {
            throw Error(message);
        }
    }

    private BundleError Error(string message) => new(file, line, message);
}
