using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Core.Tests.Doors;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>Who gets in, as the register and the report of outside access show it, judged a second time with plain sets of people:
/// see <see cref="CompleteWorld"/>. Only sites of which everything is known are compared.</summary>
public class EveryReach(Installation here)
{
    private static readonly string[] InsideWords = ["nobody", "named", "unit", "staff"];
    private static readonly string[] OutsideWords = ["no-one", "named-guests", "partners", "anonymous"];

    [Fact]
    public async Task Lists_and_reports_have_the_sites_that_plain_sets_of_people_give()
    {
        await here.NewSite(
            "reach-a",
            new SlipwayEntry("p:s0004", "own"),
            new SlipwayEntry("everyone", "edit"),
            new SlipwayEntry("world", "read", "none")
        );
        var bell = await here.SignIn("n.bell");
        List<string> differ = [];

        // Other tests change the register meanwhile.
        for (var attempt = 0; attempt < 40; attempt++)
        {
            var before = await here.Database.Read(connection => connection.JournalHead());
            var judged = await Judged();
            Assert.True(judged.Count > 100, $"Only {judged.Count} sites are known completely.");
            differ = await Differences(bell, judged);
            if (differ.Count == 0 && before == await here.Database.Read(connection => connection.JournalHead()))
            {
                break;
            }
        }

        Assert.Equal([], differ);
    }

    private static async Task<List<string>> Differences(Caller bell, Dictionary<long, Told> judged)
    {
        var differ = new List<string>();
        async Task Compare(string filter, Func<Told, bool> counts)
        {
            var shown = (await Listed(bell, filter)).Where(judged.ContainsKey).ToHashSet();
            var counted = judged.Where(pair => counts(pair.Value)).Select(pair => pair.Key).ToHashSet();
            differ.AddRange(shown.Except(counted).Select(site => $"{filter}: {site} is shown"));
            differ.AddRange(counted.Except(shown).Select(site => $"{filter}: {site} is missing"));
        }

        foreach (var power in Powers.Limited)
        {
            var at = (int)power;
            foreach (var (word, level) in InsideWords.Select((word, level) => (word, level)))
            {
                await Compare($"{power.Word()}.inside eq \"{word}\"", told => told.Inside[at] == level);
            }

            foreach (var (word, level) in OutsideWords.Select((word, level) => (word, level)))
            {
                await Compare($"{power.Word()}.outside eq \"{word}\"", told => told.Outside[at] == level);
            }
        }

        await Compare("exceeds eq true", told => told.Excess.Any(excess => excess));
        var reported = (await bell.Get("/api/reports/outside"))
            .GetProperty("rows")
            .EnumerateArray()
            .Select(row => row.GetProperty("site").GetInt64())
            .Where(judged.ContainsKey)
            .ToHashSet();
        var outside = judged.Where(pair => pair.Value.Outside.Any(level => level > 0)).Select(pair => pair.Key).ToHashSet();
        differ.AddRange(reported.Except(outside).Select(site => $"report: {site} is shown"));
        differ.AddRange(outside.Except(reported).Select(site => $"report: {site} is missing"));
        return differ;
    }

    private static async Task<HashSet<long>> Listed(Caller bell, string filter)
    {
        var sites = new HashSet<long>();
        var query = $"/api/register?limit=500&filter={Uri.EscapeDataString(filter)}";
        for (var total = 1; sites.Count < total; )
        {
            var page = await bell.Get($"{query}&offset={sites.Count}");
            total = page.GetProperty("total").GetInt32();
            var lines = page.GetProperty("lines").EnumerateArray().Select(line => line.GetProperty("id").GetInt64()).ToList();
            if (lines.Count == 0)
            {
                break;
            }

            sites.UnionWith(lines);
        }

        return sites;
    }

    private Task<Dictionary<long, Told>> Judged() =>
        here.Database.Read(async connection =>
        {
            var (organisation, sites) = (await connection.Organisation(), await connection.Sites(new Scope.Everything()));
            var tables = await connection.PeopleDirectory(here.Database.Now, await connection.OrganisationTime());
            List<Person> people =
            [
                .. tables.People.Zip(tables.Standings, (person, standing) => person with { Standing = standing }),
            ];
            var whole = tables.Groups.ToDictionary(group => group.Id, group => group.Complete);
            bool IsKnown(SiteFacts site) =>
                site is { Existence: Existence.InUse, NoLongerReported: false, Fault: null }
                && !site.Unit.IsUnknown
                && !site.Classification.IsUnknown
                && !site.Kind.IsUnknown
                && !site.Status.IsUnknown
                && !site.Joining.IsUnknown
                && site.Sharing.Has(out var sharing)
                && sharing.Grants.All(grant => grant.Subject is not Subject.OneGroup(var group) || IsWhole(group, []));
            bool IsWhole(GroupId id, HashSet<GroupId> seen) =>
                !seen.Add(id)
                || (
                    whole.GetValueOrDefault(id)
                    && tables
                        .Groups.Single(group => group.Id == id)
                        .Members.All(member => member.Group is not { } inner || IsWhole(inner, seen))
                );
            return sites
                .Where(IsKnown)
                .ToDictionary(
                    site => site.Id.Value,
                    site =>
                    {
                        var sharing = site.Sharing.Or(null!);
                        return new CompleteWorld(
                            people,
                            [.. tables.Units],
                            [.. tables.Groups],
                            organisation.Limits,
                            [.. sharing.Grants.Where(grant => grant.Through is null || grant.Through >= tables.Today)],
                            sharing.OwnLimit,
                            site.Joining.Or(new Joining(JoinWay.Invited, 0, null)),
                            site
                        ).Judge();
                    }
                );
        });
}
