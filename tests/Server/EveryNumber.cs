using System.Text.Json;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.StandIns.Slipway;
using AtticLedger.Store;
using Npgsql;

namespace AtticLedger.Server.Tests;

/// <summary>The numbers that screens show, counted a second time from the tables, without the core and without the index.
/// </summary>
public class EveryNumber(Installation here)
{
    [Fact]
    public async Task Screens_show_what_the_tables_add_up_to()
    {
        await here.NewSite("number-a", new SlipwayEntry("p:s0004", "own"));
        var bell = await here.SignIn("n.bell");
        List<(string What, int Shown, int Counted)> numbers = [];

        // Other tests change the register meanwhile: the numbers are those of one state if nothing was written in between.
        List<(string What, int Shown, int Counted)> differ = [];
        for (var attempt = 0; attempt < 40; attempt++)
        {
            var before = await here.Database.Read(connection => connection.JournalHead());
            numbers = await Numbers(bell, await here.Database.Read(PlainTables.Read));
            differ = [.. numbers.Where(number => number.Shown != number.Counted)];
            if (differ.Count == 0 && before == await here.Database.Read(connection => connection.JournalHead()))
            {
                break;
            }
        }

        Assert.Equal([], differ);
        Assert.True(numbers.Count > 60, $"Only {numbers.Count} numbers were compared.");
    }

    private static async Task<List<(string What, int Shown, int Counted)>> Numbers(Caller bell, PlainTables tables)
    {
        var numbers = new List<(string, int, int)>();
        var used = tables.Sites.Where(site => site.Existence == Existence.InUse).ToList();
        var reported = used.Where(site => !site.NoLongerReported).ToList();

        // The register: all, by unit with those below, by what is not known.
        var register = await bell.Get("/api/register?limit=0");
        numbers.Add(("register", Of(register, "whole"), used.Count));
        foreach (var unit in register.GetProperty("units").EnumerateArray())
        {
            var key = unit.GetProperty("key").GetString()!;
            numbers.Add(
                (
                    $"register, {key}",
                    Of(unit, "count"),
                    key == "none"
                        ? used.Count(site => site.Unit is null && !site.Lacks("unit"))
                        : used.Count(site => site.Unit is { } its && tables.UnitsAbove(its).Contains(key))
                )
            );
        }

        // Owners: by how many are active.
        var owners = await bell.Get("/api/owners");
        var known = used.Where(site => !site.Lacks("sharing") && tables.KnowsOwners(site))
            .ToDictionary(site => site, site => tables.Owners(site).Count(tables.IsActive));
        var active = known.Where(pair => !pair.Key.NoLongerReported).ToDictionary(pair => pair.Key.Id, pair => pair.Value);
        numbers.Add(("owners, whole", Of(owners, "whole"), reported.Count));
        numbers.Add(("owners, two or more", Of(owners, "active"), active.Values.Count(count => count >= 2)));
        numbers.Add(("owners, one", Of(owners, "single"), active.Values.Count(count => count == 1)));
        numbers.Add(("owners, none", Of(owners, "none"), active.Values.Count(count => count == 0)));

        // The desk, the rule about owners wherever it is counted, and the attic.
        numbers.Add(("desk, sites", Of(await bell.Get("/api/desk"), "sites"), reported.Count));

        // The register lists sites that their host no longer reports, too; the desk and the remedies do not.
        bool IsFew(PlainSite site, int owners) => owners < 2 && !tables.Excepted.Contains((site.Id, "R-03"));
        var few = known.Count(pair => IsFew(pair.Key, pair.Value));
        numbers.Add(("R-03 in the register", Of(await bell.Get("/api/register?limit=0&rule=R-03"), "total"), few));
        numbers.Add(
            (
                "R-03 in the list of rules",
                register
                    .GetProperty("rules")
                    .EnumerateArray()
                    .Where(rule => rule.GetProperty("key").GetString() == "R-03")
                    .Sum(rule => Of(rule, "count")),
                few
            )
        );
        numbers.Add(
            (
                "R-03 with its remedies",
                (await bell.Get("/api/reports/remedies"))
                    .GetProperty("rows")
                    .EnumerateArray()
                    .Count(row =>
                        row.GetProperty("cells")
                            .EnumerateArray()
                            .Any(cell => cell.GetString()!.Contains("R-03", StringComparison.Ordinal))
                    ),
                known.Count(pair => !pair.Key.NoLongerReported && IsFew(pair.Key, pair.Value))
            )
        );
        numbers.Add(
            (
                "attic",
                (await bell.Get("/api/attic"))
                    .GetProperty("entries")
                    .EnumerateArray()
                    .Count(entry => entry.GetProperty("state").GetString() == "in-attic"),
                tables.Sites.Count(site => site.Existence == Existence.Attic)
            )
        );

        // Reports: as many rows as the tables have.
        numbers.Add(("report of holds", Of(await bell.Get("/api/reports/holds"), "total"), tables.HoldsAndExceptions));
        numbers.Add(("report of actions", Of(await bell.Get("/api/reports/actions"), "total"), tables.ActionsOfAMonth));

        // Your sites: what the asker owns.
        numbers.Add(
            (
                "your sites",
                (await bell.Get("/api/your-sites"))
                    .GetProperty("sites")
                    .EnumerateArray()
                    .Count(site => site.GetProperty("atticEntry").ValueKind == JsonValueKind.Null),
                reported.Count(site => tables.PowerOf(tables.Bell, site) == Power.Own)
            )
        );

        // Sources: what each host has.
        foreach (var source in (await bell.Get("/api/sources")).EnumerateArray())
        {
            if (source.GetProperty("sites").ValueKind == JsonValueKind.Null)
            {
                continue;
            }

            var name = source.GetProperty("name").GetString()!;
            var ofHost = tables.Sites.Where(site => site.Host == name).ToList();
            numbers.Add(($"{name}, sites", Of(source, "sites"), ofHost.Count(site => site.Existence == Existence.InUse)));
            numbers.Add(($"{name}, attic", Of(source, "attic"), ofHost.Count(site => site.Existence == Existence.Attic)));
            numbers.Add(
                (
                    $"{name}, no longer reported",
                    Of(source, "noLongerReported"),
                    ofHost.Count(site => site.Existence == Existence.InUse && site.NoLongerReported)
                )
            );
        }

        // Classification: what nobody has set.
        var classification = await bell.Get("/api/classification");
        numbers.Add(("classification, sites", Of(classification, "sites"), reported.Count));
        foreach (var fact in classification.GetProperty("lacks").EnumerateArray())
        {
            var name = fact.GetProperty("fact").GetString()!;
            numbers.Add(($"{name} not set", Of(fact, "missing"), reported.Count(site => site.Lacks(name))));
        }

        // People: what each owns and edits, by name, by group and by unit.
        foreach (var person in tables.People.Keys.Where(id => id % 23 == 4).Take(12))
        {
            var page = await bell.Get($"/api/people/{person}");
            var best = tables
                .Sites.Where(site => site is { Existence: not Existence.Erased, NoLongerReported: false })
                .Select(site => (site.Existence, Power: tables.PowerOf(person, site)))
                .Where(pair => pair.Power is not null)
                .ToList();
            numbers.Add(($"person {person}, all", Of(page, "total"), best.Count));
            numbers.Add(($"person {person}, owns", Of(page, "owns"), best.Count(pair => pair is (Existence.InUse, Power.Own))));
            numbers.Add(
                (
                    $"person {person}, edits",
                    Of(page, "edits"),
                    best.Count(pair => pair.Existence == Existence.InUse && pair.Power is >= Power.Edit and < Power.Own)
                )
            );
        }

        // Groups: whom they contain through others, and on how many sites they are granted something.
        foreach (var group in tables.Groups.Take(6))
        {
            var page = await bell.Get($"/api/groups/{group}");
            numbers.Add(($"group {group}, people", Of(page, "people"), tables.MembersOf(group).Count));
            numbers.Add(
                (
                    $"group {group}, sites",
                    page.GetProperty("sites").GetArrayLength(),
                    reported.Count(site => tables.GrantsOf(site).Any(grant => grant.Group == group))
                )
            );
        }

        return numbers;
    }

    private static int Of(JsonElement from, string name) => from.GetProperty(name).GetInt32();
}
