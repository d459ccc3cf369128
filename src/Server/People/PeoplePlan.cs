using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.People;

/// <summary>A list of people with what its lines say.</summary>
internal sealed record ReadPeople(UnderstoodList How, IReadOnlyList<ListedPersonLine> Lines);

/// <summary>What a list of people comes to, decided line by line on one state of the register.</summary>
internal sealed class PeoplePlan
{
    private const int Together = 500;
    private readonly Roll roll;
    private readonly List<ListRowWire> rows = [];
    private readonly List<HeardPerson.Taken> taken = [];
    private readonly FirstWords refused = new();
    private readonly FirstWords problems = new();

    private PeoplePlan(Roll roll) => this.roll = roll;

    /// <summary>The people whom it brings or changes; whoever is new has no id yet.</summary>
    public IReadOnlyList<HeardPerson.Taken> Taken => taken;

    public IReadOnlyList<ListRowWire> Rows => rows;

    public string Fingerprint =>
        Head.HashOf(
            JournalValue
                .Of(
                    taken.Select(one =>
                        JournalValue.Of([
                            JournalValue.Of(one.After.Mail),
                            .. PeopleLists
                                .Differences(one.Before, one.After)
                                .SelectMany(change => new[] { change.Fact, change.Before, change.After })
                                .Select(JournalValue.Of),
                        ])
                    )
                )
                .Canonical()
        );

    /// <param name="isConnected">Whether a staff list is connected.</param>
    public static async Task<PeoplePlan> Of(
        ReadPeople read,
        PersonId doer,
        bool isConnected,
        NpgsqlConnection connection,
        Roll roll
    )
    {
        var byHand = await connection.PeopleByHand();
        var plan = new PeoplePlan(roll);
        foreach (var line in read.Lines)
        {
            var before =
                line.Person is { } said && roll.ByMail.TryGetValue(said.Mail.ToLowerInvariant(), out var known)
                    ? roll.Find(known)
                    : null;
            plan.Add(
                line,
                line.Person is null
                    ? null
                    : PeopleLists.Hear(
                        line.Person,
                        before,
                        isConnected && before is { IsOutside: false } && !byHand.Contains(before.Id),
                        doer,
                        roll.Now,
                        roll.Time
                    )
            );
        }

        return plan;
    }

    /// <param name="uncertain">Sites of which facts are not known that decide who is let in.</param>
    public async Task<PeoplePlanWire> Wire(ReadPeople read, NpgsqlConnection connection, IReadOnlyCollection<SiteId> uncertain)
    {
        var time = roll.Time;
        var (house, rules) = (await connection.House(), await connection.Rules(time.DayOf(roll.Now)));
        var changed = taken.Where(one => one.Before is not null).ToDictionary(one => one.Before!.Id, one => one.After);
        var last = roll.People.Select(person => person.Id.Value).DefaultIfEmpty().Max();
        var after = new Roll(
            [
                .. roll.People.Select(person => changed.GetValueOrDefault(person.Id, person)),
                .. taken
                    .Where(one => one.Before is null)
                    .Select((one, place) => one.After with { Id = new PersonId(last + 1 + place) }),
            ],
            roll.Units,
            roll.Groups,
            roll.Now,
            time
        );
        var sites = RollChange.Between(roll, after, house.FitDays) switch
        {
            null => (await connection.SiteIdsByKey()).ToHashSet(),
            { IsNothing: true } => [],
            var moved => [.. await connection.SitesTouched(moved, roll, after), .. moved.Uncertain ? uncertain : []],
        };
        var moves = new RuleMoves(rules);
        foreach (var few in sites.Chunk(Together))
        {
            var these = await connection.Sites(new Sight.Everything(), few);
            moves.Count(
                [.. these.Select(site => new SiteLine(site, house, roll))],
                [.. these.Select(site => new SiteLine(site, house, after))]
            );
        }

        int Count(ListVerdict verdict) => rows.Count(row => row.Verdict == verdict);
        return new PeoplePlanWire(
            Fingerprint,
            rows.Count - Count(ListVerdict.Refused),
            Count(ListVerdict.New),
            Count(ListVerdict.Changed),
            Count(ListVerdict.Same),
            Count(ListVerdict.Refused),
            sites.Count,
            moves.Wire,
            problems.All,
            [.. refused.Words, .. problems.Words],
            ListReadingWire.Of(read.How)
        );
    }

    private void Add(ListedPersonLine line, HeardPerson? heard)
    {
        foreach (var fault in line.Faults)
        {
            (fault.IsRefused ? refused : problems).Add(fault.Words);
        }

        if (heard is HeardPerson.Taken one)
        {
            var verdict =
                one.Before is null ? ListVerdict.New
                : one.Before == one.After ? ListVerdict.Same
                : ListVerdict.Changed;
            if (verdict != ListVerdict.Same)
            {
                taken.Add(one);
            }

            var changes = one.Before is null
                ? []
                : PeopleLists
                    .Differences(one.Before, one.After)
                    .Select(change => new FactChangeWire(change.Fact, change.Before, change.After));
            rows.Add(
                new ListRowWire(
                    line.Line,
                    verdict,
                    one.After.Name,
                    one.Before?.Id.Value,
                    [.. changes],
                    [.. line.Faults.Select(fault => fault.Why)]
                )
            );
            return;
        }

        var why = heard is HeardPerson.Refused(var reason) ? reason : line.Faults[0].Why;
        if (heard is not null)
        {
            refused.Add($"Line {line.Line}: {why}");
        }

        rows.Add(new ListRowWire(line.Line, ListVerdict.Refused, line.Person?.Mail ?? "", null, [], [why]));
    }
}
