using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Hosts;
using AtticLedger.Server.Contracts;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Sources;

/// <summary>The plan of an import, decided line by line. The same intake decides the plan and the import.</summary>
internal sealed class ImportPreview
{
    private const int First = 20;
    private const int Together = 500;
    private const string GrantField = "grant ";
    private readonly string name;
    private readonly DateTimeOffset asOf;
    private readonly DateTimeOffset now;
    private readonly NpgsqlConnection connection;
    private readonly Resolution resolution;
    private readonly Core.People.PeopleDirectory directory;
    private readonly Organisation organisation;
    private readonly ILookup<SiteId, HostChange> confirmed;
    private readonly Action<ImportRow> each;
    private readonly IncrementalHash digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly HashSet<string> keys = [];
    private readonly int[] counts = new int[Enum.GetValues<ImportVerdict>().Length];
    private readonly RuleMoves moves;
    private readonly List<ManualTaskClaim> hostChanges = [];
    private readonly FirstLines refused = new();
    private readonly FirstLines problems = new();
    private readonly DoubtfulWords words = new();
    private readonly List<string> noLongerReported = [];
    private int sites;
    private int gone;

    private ImportPreview(
        string name,
        DateTimeOffset asOf,
        DateTimeOffset now,
        NpgsqlConnection connection,
        Resolution resolution,
        Core.People.PeopleDirectory directory,
        Organisation organisation,
        RuleBook rules,
        ILookup<SiteId, HostChange> confirmed,
        Action<ImportRow> each
    )
    {
        (this.name, this.asOf, this.now, this.connection, this.resolution) = (name, asOf, now, connection, resolution);
        (this.directory, this.organisation, this.confirmed, this.each) = (directory, organisation, confirmed, each);
        moves = new RuleMoves(rules);
    }

    public string Fingerprint { get; private set; } = "";

    /// <param name="each">Called for each line, in sequence.</param>
    public static async Task<ImportPreview> Of(
        string name,
        ParsedList read,
        bool whole,
        DateTimeOffset asOf,
        NpgsqlConnection connection,
        Database database,
        Action<ImportRow>? each = null
    )
    {
        var (now, time) = (database.Now, await connection.OrganisationTime());
        var directory = (await database.PeopleDirectories.Of(connection, now, time)).With(read.How.Words.NewUnits);
        var foresight = new ImportPreview(
            name,
            asOf,
            now,
            connection,
            await SiteIntake.Resolution(connection, directory),
            directory,
            await connection.Organisation(),
            await connection.Rules(Today.At(now, time)),
            (await connection.ChangesUnderWay())
                .Where(hostChange => hostChange.State == ChangeState.Confirmed)
                .ToLookup(hostChange => hostChange.Site),
            each ?? (_ => { })
        );
        foreach (var few in read.Chunks)
        {
            await foresight.Look(await ParsedList.Recognised(connection, name, few));
        }

        if (whole && foresight.refused.All == 0)
        {
            await foresight.FindMissing();
        }

        foresight.Fingerprint = Convert.ToHexStringLower(foresight.digest.GetHashAndReset());
        return foresight;
    }

    public ImportPlan ToResponse(ParsedList read) =>
        new(
            Fingerprint,
            sites,
            counts[(int)ImportVerdict.New],
            counts[(int)ImportVerdict.Changed],
            counts[(int)ImportVerdict.Same],
            counts[(int)ImportVerdict.Refused],
            gone,
            noLongerReported,
            hostChanges,
            moves.Moves,
            refused.All,
            refused.Words,
            problems.All,
            problems.Words,
            ListMappingResponse.Of(read.How, words, directory)
        );

    private async Task Look(ListedLine[] lines)
    {
        var known = (await connection.SitesByKey(name, [.. lines.Select(line => line.Site?.Key).OfType<string>()])).ToDictionary(
            site => site.HostKey
        );
        var hands = await connection.ManualTasks([
            .. known.Values.SelectMany(site => confirmed[site.Id]).Select(hostChange => hostChange.Id),
        ]);
        var elsewhere = await connection.SitesNamed([
            .. lines.Select(line => line.Other).OfType<ListedElsewhere>().Select(other => (other.Host, other.Named)),
        ]);
        var (before, after) = (new List<SiteFacts>(), new List<SiteFacts>());
        foreach (var line in lines)
        {
            var row = line switch
            {
                { Site: { } said } => Taken(line, said, known.GetValueOrDefault(said.Key), hands, before, after),
                { Other: { } other } when elsewhere.TryGetValue((other.Host, other.Named), out var site) => Row(
                    line,
                    site,
                    Intake.Apply(site, name, other.Facts, asOf),
                    before,
                    after
                ),
                { Other: { } other } => Refused(
                    line,
                    other.Named,
                    $"{other.Host} has no site, or more than one, at \"{other.Named}\"."
                ),
                _ => Refused(line, "", line.Faults[0].Why),
            };
            counts[(int)row.Verdict]++;
            words.Add(line.Doubtful);
            foreach (var fault in line.Faults)
            {
                (fault.IsRefused ? refused : problems).Add(fault.Words);
            }

            if (row.Verdict is ImportVerdict.New or ImportVerdict.Changed)
            {
                Sum(Digest(row));
            }

            each(row);
        }

        Count(before, after);
    }

    private ImportRow Taken(
        ListedLine line,
        HostSite said,
        SiteFacts? was,
        IReadOnlyDictionary<ChangeId, ManualTask> hands,
        List<SiteFacts> before,
        List<SiteFacts> after
    )
    {
        keys.Add(said.Key);
        var taken = Intake.Take(was, resolution.Site(name, said, asOf), was is null ? [] : [.. confirmed[was.Id]], asOf, now);
        foreach (var hostChange in taken.Moved)
        {
            var isSo = hostChange.State == ChangeState.Verified;
            hostChanges.Add(
                new ManualTaskClaim(
                    hostChange.Id.Value,
                    was!.Title,
                    hands.GetValueOrDefault(hostChange.Id)?.DoneBy is { } by ? PersonResponse.Of(by, directory) : null,
                    isSo,
                    ManualTaskSteps.Difference(hostChange.WantedState, taken.Site, directory)
                )
            );
            Sum(JournalValue.Of($"{hostChange.Id.Value} {isSo}"));
        }

        return Row(line, was, taken, before, after);
    }

    private ImportRow Row(ListedLine line, SiteFacts? was, Imported taken, List<SiteFacts> before, List<SiteFacts> after)
    {
        sites++;
        var verdict =
            was is null ? ImportVerdict.New
            : taken.Entry is null ? ImportVerdict.Same
            : ImportVerdict.Changed;
        if (verdict != ImportVerdict.Same)
        {
            before.AddRange(was is null ? [] : [was]);
            after.Add(taken.Site);
        }

        return new ImportRow(
            line.Line,
            verdict,
            taken.Site.Title,
            was?.Id.Value,
            verdict == ImportVerdict.Changed ? Changes(taken.Entry!, directory) : [],
            [.. line.Faults.Select(fault => fault.Why)]
        );
    }

    private ImportRow Refused(ListedLine line, string title, string why)
    {
        // A site of another host, so the list can still be complete.
        if (!line.IsRefused)
        {
            problems.Add($"Line {line.Line}: {why}");
        }

        return new ImportRow(line.Line, ImportVerdict.Refused, title, null, [], [why]);
    }

    private async Task FindMissing()
    {
        var missing = (await connection.StandingSince(name, asOf))
            .Where(site => !keys.Contains(site.Key))
            .Select(site => site.Id);
        foreach (var few in missing.Chunk(Together))
        {
            var these = await connection.Sites(new Scope.Everything(), few);
            gone += these.Count;
            noLongerReported.AddRange(these.Select(site => site.Title).Take(First - noLongerReported.Count));
            foreach (var site in these)
            {
                Sum(JournalValue.Of(site.Title));
            }

            Count(these, []);
        }
    }

    private void Count(IReadOnlyList<SiteFacts> before, IReadOnlyList<SiteFacts> after) =>
        moves.Count(Lines(before), Lines(after));

    private ComputedSite[] Lines(IReadOnlyList<SiteFacts> sites) =>
        [.. sites.Select(site => new ComputedSite(site, organisation, directory))];

    private void Sum(JournalValue value) => digest.AppendData(Encoding.UTF8.GetBytes($"{value.Canonical()}\n"));

    private static JournalValue Digest(ImportRow row) =>
        JournalValue.Of([
            JournalValue.Of(row.Id?.ToString(CultureInfo.InvariantCulture) ?? row.Title),
            .. row.Changes.SelectMany(change => new[] { change.Fact, change.Before, change.After }).Select(JournalValue.Of),
        ]);

    private static IReadOnlyList<FactChange> Changes(Draft entry, Core.People.PeopleDirectory directory)
    {
        var (was, now) = (Fields(entry.Before), Fields(entry.After));
        return
        [
            .. was
                .Keys.Union(now.Keys)
                .Select(field => new FactChange(Words(field), Words(field, was, directory), Words(field, now, directory))),
        ];
    }

    private static Dictionary<string, JournalValue> Fields(JournalValue value) =>
        value is JournalValue.Fields(var fields) ? fields.ToDictionary(field => field.Name, field => field.Value) : [];

    private static string Words(string field) => field.StartsWith(GrantField, StringComparison.Ordinal) ? "access" : field;

    private static string? Words(string field, Dictionary<string, JournalValue> facts, Core.People.PeopleDirectory directory) =>
        !facts.TryGetValue(field, out var value) || value is JournalValue.Absent ? null
        : value.Canonical() == JournalValue.Unknown.Canonical() ? "not known"
        : field.StartsWith(GrantField, StringComparison.Ordinal) ? GrantText.InWords(value, directory)
        : value switch
        {
            JournalValue.Text(var text) => text,
            JournalValue.Flag(var flag) => flag ? "yes" : "no",
            _ => value.Canonical(),
        };
}
