using AtticLedger.Core.Actions;
using AtticLedger.Core.Filters;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Feed;
using AtticLedger.Store;

namespace AtticLedger.Server.Names;

/// <summary>Counts for each site the others in use with near names, which is a fact that rules can read. The schedule runs it on one
/// server at a time; whatever stops it, or changes meanwhile, the next count finds the difference.
/// </summary>
internal sealed class NearNameCounter(Database database, LiveRegister register, LiveTwins twins)
{
    private const int AtOnce = 500;

    // With more, rebuilding the index is faster.
    private const int MostOneByOne = 5_000;
    private RegisterIndex? counted;
    private List<BothRight> decided = [];

    public async Task Count(CancellationToken stop)
    {
        var state = await register.Refresh();
        var said = await database.Read(connection => connection.BothRight(), stop);
        if (state.Index.Count == 0 || (ReferenceEquals(counted, state.Index) && decided.SequenceEqual(said)))
        {
            return;
        }

        var counts = await Counts(state, said);
        var (before, isFirst) = await database.Read(
            async connection => (await connection.NearNames(), !await connection.NearNamesCounted()),
            stop
        );
        List<(SiteId Site, int Others)> changed =
        [
            .. before
                .Keys.Union(counts.Keys)
                .Select(site => (site, counts.GetValueOrDefault(site)))
                .Where(count => before.GetValueOrDefault(count.site) != count.Item2)
                .OrderBy(count => count.site.Value),
        ];
        if (isFirst || changed.Count > MostOneByOne)
        {
            await database.Change(
                async change =>
                {
                    await change.PutNearNames(changed);
                    await change.SetNearNamesCounted();
                    await change.Append([
                        new Draft(JournalAction.NamesCounted, EntryActor.Product, EntrySubject.Organisation)
                        {
                            After = JournalValue.Of(("sites", JournalValue.Of(counts.Count))),
                        },
                    ]);
                },
                stop
            );
        }
        else
        {
            foreach (var some in changed.Chunk(AtOnce))
            {
                await database.Change(
                    async change =>
                    {
                        await change.PutNearNames(some);
                        await change.Append([.. some.Select(one => Entry(one, before.GetValueOrDefault(one.Site)))]);
                    },
                    stop
                );
            }
        }

        (counted, decided) = (state.Index, said);
    }

    private async Task<Dictionary<SiteId, int>> Counts(LedgerState state, IReadOnlyList<BothRight> said)
    {
        var (pairs, all) = (await twins.Of(state), state.Seen(new Scope.Everything()));
        var (open, inUse) = (new DecidedPairs(pairs, said, all), all.InUse);
        var counts = new Dictionary<SiteId, int>();
        foreach (var pair in pairs.All.Where(pair => open.Of(pair) is null))
        {
            foreach (var (place, other) in new[] { (pair.One, pair.Other), (pair.Other, pair.One) })
            {
                if (inUse.IsYes(other))
                {
                    var site = all.IdAt(place);
                    counts[site] = counts.GetValueOrDefault(site) + 1;
                }
            }
        }

        return counts;
    }

    private static Draft Entry((SiteId Site, int Others) count, int before) =>
        new(JournalAction.SiteNearNames, EntryActor.Product, EntrySubject.Of(count.Site))
        {
            Before = JournalValue.Of(("others", JournalValue.Of(before))),
            After = JournalValue.Of(("others", JournalValue.Of(count.Others))),
        };
}
