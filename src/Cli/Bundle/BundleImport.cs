using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli.Bundle;

/// <summary>Reads a bundle into an empty register: all of it in one transaction, or nothing.</summary>
public sealed class BundleImport
{
    private const int Batch = 5000;
    private readonly BundleFolder bundle;
    private readonly Change change;
    private readonly HashSet<string> units = [];
    private readonly Dictionary<string, PersonId> people = [];
    private readonly Dictionary<GroupName, GroupId> groups = [];
    private string file = "";
    private long line;

    private BundleImport(BundleFolder bundle, Change change)
    {
        this.bundle = bundle;
        this.change = change;
    }

    /// <returns>How many sites were read.</returns>
    /// <exception cref="BundleError">Something is wrong with the bundle, or the register is not empty; nothing was written.</exception>
    public static Task<long> Read(Database database, DirectoryInfo folder)
    {
        var bundle = BundleFolder.Open(folder);
        return database.Change(async change =>
        {
            if (!await change.Connection.IsEmpty())
            {
                throw new BundleError(folder.Name, 0, "the register is not empty; a bundle is read into an empty installation only");
            }

            var import = new BundleImport(bundle, change);
            await import.Units();
            await import.People();
            await import.Groups();
            await import.House();
            await import.Sites();
            await change.Append([new Draft("register.loaded", "house", "source:bundle")
            {
                After = JournalValue.Of(("sites", JournalValue.Of(bundle.Lines("sites.jsonl"))), ("digest", JournalValue.Of(bundle.Digest))),
            }]);
            return bundle.Lines("sites.jsonl");
        });
    }

    private async Task Units()
    {
        foreach (var row in Rows<UnitRow>("units.jsonl"))
        {
            Must(row.Parent is null || units.Contains(row.Parent), $"there is no unit \"{row.Parent}\" before this line");
            Must(units.Add(row.Code), $"there are two units \"{row.Code}\"");
            await change.SetUnit(row.Code, row.Name, row.Parent);
        }
    }

    private async Task People()
    {
        var read = new List<(Person, bool)>();
        foreach (var row in Rows<PersonRow>("people.jsonl"))
        {
            Must((row.Name is null) == (row.Mail is null), "name and mail are both there or both erased");
            Must(row.Mail is null || row.Id == row.Mail.ToLowerInvariant(), "the id is not the mail address in lower case");
            Must(people.TryAdd(row.Id, new PersonId(people.Count + 1)), $"there are two people \"{row.Id}\"");
            read.Add((new Person(people[row.Id], row.Kind, row.Name ?? "", row.Mail ?? "", row.Standing, row.Day, Unit(row.Unit), row.Class, row.MailFails), row.Mail is not null));
        }

        await change.LoadPeople(read);
    }

    private async Task Groups()
    {
        // Groups name each other, in circles too, so their names are read before their members.
        List<(long Line, GroupRow Row)> rows = [.. bundle.Rows<GroupRow>("groups.jsonl")];
        file = "groups.jsonl";
        foreach (var (at, row) in rows)
        {
            line = at;
            Must(groups.TryAdd(new GroupName(row.Source, row.Key), new GroupId(groups.Count + 1)), $"there are two groups \"{row.Key}\" of {row.Source}");
        }

        await change.LoadGroups([.. rows.Select(pair =>
        {
            line = pair.Line;
            var row = pair.Row;
            return (new Group(groups[new GroupName(row.Source, row.Key)], row.Name, [.. row.Members.Select(MemberOf)], row.Complete), row.Source, row.Key);
        })]);
    }

    private Member MemberOf(MemberRow row) =>
        row switch
        {
            { Person: { } person, Group: null, Unit: null } => Member.Of(Person(person)),
            { Person: null, Group: { } group, Unit: null } => Member.Of(Group(group)),
            { Person: null, Group: null, Unit: { } unit } => Member.Of(Unit(unit)),
            _ => throw Error("a member is exactly one of person, group and unit"),
        };

    private async Task House()
    {
        foreach (var row in Rows<SettingRow>("settings.jsonl"))
        {
            await change.SetSetting(row.Name, row.Value);
        }

        foreach (var row in Rows<KindRow>("kinds.jsonl"))
        {
            await change.SetKind(new SiteKind(row.Code, row.Name, row.AlwaysAllStaff));
        }

        foreach (var row in Rows<LimitRow>("limits.jsonl"))
        {
            await change.SetLimit(new LimitSetting(row.Kind, row.Code, row.Enforcer, row.Limits.Select(caps => caps.Limits)));
        }

        foreach (var row in Rows<KeepRow>("keeping.jsonl"))
        {
            Must(row.Days > 0, "days is a number from 1 on");
            await change.AddKeepRule(new KeepRule(row.Host, row.Class, row.Days, row.From, row.Until));
        }

        foreach (var row in Rows<RuleRow>("rules.jsonl"))
        {
            await change.SetRule(RuleOf(row));
        }
    }

    private Rule RuleOf(RuleRow row)
    {
        try
        {
            var rule = new Rule(new RuleId(row.Id), row.Title, row.Short, row.Level, row.Scope, HouseTables.ReadDemand(row.Demand), row.From);
            _ = new RuleBook([rule], DateOnly.MaxValue);
            return rule;
        }
        catch (Exception error) when (error is FilterError or InvalidOperationException or FormatException)
        {
            throw Error(error.Message);
        }
    }

    private async Task Sites()
    {
        var keys = new Dictionary<SiteName, SiteId>();
        var moved = new List<(long Line, SiteId From, SiteName To)>();
        var batch = new List<SiteFacts>(Batch);
        foreach (var row in Rows<SiteRow>("sites.jsonl"))
        {
            var id = new SiteId(keys.Count + 1);
            Must(keys.TryAdd(new SiteName(row.Host, row.Key), id), $"there are two sites \"{row.Key}\" on {row.Host}");
            batch.Add(Site(row, id));
            if (row.Moved is { } to)
            {
                moved.Add((line, id, to));
            }

            if (batch.Count == Batch)
            {
                await change.LoadSites(batch);
                batch.Clear();
            }
        }

        await change.LoadSites(batch);
        foreach (var (at, from, to) in moved)
        {
            // The site that it is now may stand further down.
            line = at;
            await change.SetMoved(from, keys.TryGetValue(to, out var now) ? now : throw Error($"there is no site \"{to.Key}\" on {to.Host} that it could have moved to"));
        }

        await change.Loaded();
    }

    private SiteFacts Site(SiteRow row, SiteId id) =>
        new()
        {
            Id = id,
            Host = row.Host,
            HostKey = row.Key,
            Name = row.Name,
            Address = row.Address,
            Unit = Unit(row.Unit),
            Class = row.Class,
            Kind = row.Kind,
            Purpose = row.Purpose,
            Tags = row.Tags,
            Said = [.. (row.Said ?? []).Select(said => new Statement(said.Fact, said.Source, said.Value, said.Since, said.By is { } by ? Person(by) : null))],
            Stage = row.Stage,
            Created = row.Created,
            LastEdit = row.Edited,
            LastVisit = row.Visited,
            Visits = row.Visits,
            Sharing = row.Sharing.Select(Sharing),
            Content = new Content
            {
                Pages = row.Pages,
                Bytes = row.Bytes,
                Domains = row.Domains,
                Parent = row.Parent,
                Group = row.OwnGroup.Select(Group),
                Editing = row.Editing.Select(editing => (IReadOnlyList<PersonId>)[.. editing.Select(Person)]),
                Joining = row.Joining,
                Shared = row.Shared,
                ShownName = row.ShownName,
                HomeTitle = row.HomeTitle,
                Description = row.Description,
                Language = row.Language,
                Plan = row.Plan,
                MailAlias = row.MailAlias,
                Obligations = row.Obligations,
                Records = row.Records,
                Signals = row.Signals,
                Sections = row.Sections.Select(sections => (IReadOnlyList<SiteSection>)[.. sections.Select(section => new SiteSection(section.Key, section.Name, section.Tie, Grants(section.Grants)))]),
            },
            Existence = row.Existence,
            StandsAt = row.StandsAt,
            Bin = row.Bin is { } bin ? new Bin(bin.Since, bin.By is { } by ? Person(by) : null, bin.Until, bin.Erased) : null,
            SeenAt = row.SeenAt,
            Vanished = row.Vanished,
        };

    private Sharing Sharing(SharingRow row) => new(Grants(row.Grants), row.OwnLimit?.Limits, row.At, row.Source);

    private List<Grant> Grants(IReadOnlyList<GrantRow> rows)
    {
        var keys = new HashSet<string>();
        return
        [
            .. rows.Select(grant =>
            {
                Must(keys.Add(grant.Key), $"there are two grants \"{grant.Key}\"");
                return new Grant(grant.Key, grant.Power, SubjectOf(grant), grant.Proof, grant.Link, grant.Through);
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
            { Person: null, Group: null, Unit: null, To: "passers-by" } => new Subject.PassersBy(),
            _ => throw Error($"the grant \"{row.Key}\" is to exactly one of person, group, unit and to (staff, partners or passers-by)"),
        };

    private PersonId Person(string id) => people.TryGetValue(id, out var person) ? person : throw Error($"there is no person \"{id}\"");

    private GroupId Group(GroupName name) => groups.TryGetValue(name, out var group) ? group : throw Error($"there is no group \"{name.Key}\" of {name.Source}");

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
