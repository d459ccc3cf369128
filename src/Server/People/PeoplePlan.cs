using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Sources;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.People;

/// <summary>A list of people with its lines.</summary>
internal sealed record ReadPeople(UnderstoodList How, IReadOnlyList<ListedPersonLine> Lines);

/// <summary>The plan of an import of people, decided line by line on one state of the register.</summary>
internal sealed class PeoplePlan
{
    private const int Together = 500;
    private readonly PeopleDirectory directory;
    private readonly List<ImportRow> rows = [];
    private readonly List<PersonImportOutcome.Imported> taken = [];
    private readonly FirstLines refused = new();
    private readonly FirstLines problems = new();
    private readonly DoubtfulWords words = new();

    private PeoplePlan(PeopleDirectory directory) => this.directory = directory;

    /// <summary>The people whom it adds or changes; new people have no id yet.</summary>
    public IReadOnlyList<PersonImportOutcome.Imported> Taken => taken;

    public IReadOnlyList<ImportRow> Rows => rows;

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

    /// <param name="isConnected">True if a staff list is connected.</param>
    public static async Task<PeoplePlan> Of(
        ReadPeople read,
        PersonId actor,
        bool isConnected,
        NpgsqlConnection connection,
        PeopleDirectory directory
    )
    {
        var byHand = await connection.PeopleByHand();
        var plan = new PeoplePlan(directory);
        foreach (var line in read.Lines)
        {
            var before =
                line.Person is { } said && directory.ByMail.TryGetValue(said.Mail.ToLowerInvariant(), out var known)
                    ? directory.Find(known)
                    : null;
            plan.Add(
                line,
                line.Person is null
                    ? null
                    : PeopleLists.Apply(
                        line.Person,
                        before,
                        isConnected && before is { IsOutside: false } && !byHand.Contains(before.Id),
                        actor,
                        directory.Now,
                        directory.Time
                    )
            );
        }

        return plan;
    }

    /// <param name="uncertain">Sites with unknown facts that decide who has access.</param>
    public async Task<PeoplePlanResponse> ToResponse(
        ReadPeople read,
        NpgsqlConnection connection,
        IReadOnlyCollection<SiteId> uncertain
    )
    {
        var time = directory.Time;
        var (organisation, rules) = (await connection.Organisation(), await connection.Rules(Today.At(directory.Now, time)));
        var changed = taken.Where(one => one.Before is not null).ToDictionary(one => one.Before!.Id, one => one.After);
        var last = directory.People.Select(person => person.Id.Value).DefaultIfEmpty().Max();
        var after = new PeopleDirectory(
            [
                .. directory.People.Select(person => changed.GetValueOrDefault(person.Id, person)),
                .. taken
                    .Where(one => one.Before is null)
                    .Select((one, place) => one.After with { Id = new PersonId(last + 1 + place) }),
            ],
            directory.Units,
            directory.Groups,
            directory.Now,
            time
        );
        var sites = DirectoryChange.Between(directory, after, organisation.ActiveDays) switch
        {
            null => (await connection.SiteIdsByKey()).ToHashSet(),
            { IsNothing: true } => [],
            var moved => [.. await connection.SitesTouched(moved, directory, after), .. moved.Uncertain ? uncertain : []],
        };
        var moves = new RuleMoves(rules);
        foreach (var few in sites.Chunk(Together))
        {
            var these = await connection.Sites(new Scope.Everything(), few);
            moves.Count(
                [.. these.Select(site => new ComputedSite(site, organisation, directory))],
                [.. these.Select(site => new ComputedSite(site, organisation, after))]
            );
        }

        int Count(ImportVerdict verdict) => rows.Count(row => row.Verdict == verdict);
        return new PeoplePlanResponse(
            Fingerprint,
            rows.Count - Count(ImportVerdict.Refused),
            Count(ImportVerdict.New),
            Count(ImportVerdict.Changed),
            Count(ImportVerdict.Same),
            Count(ImportVerdict.Refused),
            sites.Count,
            moves.Moves,
            problems.All,
            [.. refused.Words, .. problems.Words],
            ListMappingResponse.Of(read.How, words, directory)
        );
    }

    private void Add(ListedPersonLine line, PersonImportOutcome? applied)
    {
        words.Add(line.Doubtful);
        foreach (var fault in line.Faults)
        {
            (fault.IsRefused ? refused : problems).Add(fault.Words);
        }

        if (applied is PersonImportOutcome.Imported one)
        {
            var verdict =
                one.Before is null ? ImportVerdict.New
                : one.Before == one.After ? ImportVerdict.Same
                : ImportVerdict.Changed;
            if (verdict != ImportVerdict.Same)
            {
                taken.Add(one);
            }

            var changes = one.Before is null
                ? []
                : PeopleLists
                    .Differences(one.Before, one.After)
                    .Select(change => new FactChange(change.Fact, change.Before, change.After));
            rows.Add(
                new ImportRow(
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

        var why = applied is PersonImportOutcome.Refused(var reason) ? reason : line.Faults[0].Why;
        if (applied is not null)
        {
            refused.Add($"Line {line.Line}: {why}");
        }

        rows.Add(new ImportRow(line.Line, ImportVerdict.Refused, line.Person?.Mail ?? "", null, [], [why]));
    }
}
