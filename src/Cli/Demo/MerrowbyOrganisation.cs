using System.Text.Json;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;
using Microsoft.AspNetCore.Identity;

namespace AtticLedger.Cli.Demo;

/// <summary>The policy of Merrowby Harbour Trust: units, limits, rules and accounts. Days are relative to the start of the
/// demo.</summary>
public static class MerrowbyOrganisation
{
    private static readonly JsonElement Decided = Read();

    public static IReadOnlyList<(string Mail, Role Role, string? Part)> Accounts { get; } =
    [
        .. Decided
            .GetProperty("accounts")
            .EnumerateArray()
            .Select(account => (account[0].GetString()!, Enum.Parse<Role>(account[1].GetString()!), account[2].GetString())),
    ];

    /// <summary>Writes the organisation into a database without one; otherwise does nothing.</summary>
    /// <param name="withAllRules">False for its three oldest rules only.</param>
    public static Task<bool> Found(Database database, bool withAllRules = false) =>
        database.Change(async change =>
        {
            if ((await change.Connection.Organisation()).Limits.Count > 0)
            {
                return false;
            }

            await change.Set(Setting.Zone, Text(Decided, "zone"));
            await change.Set(Setting.ActiveDays, Text(Decided, "activeDays"));
            foreach (var unit in Decided.GetProperty("units").EnumerateArray())
            {
                await change.SetUnit(unit[0].GetString()!, unit[1].GetString()!, unit[2].GetString());
            }

            foreach (var kind in Decided.GetProperty("kinds").EnumerateArray())
            {
                await change.SetKind(new SiteKind(kind[0].GetString()!, kind[1].GetString()!, kind[2].GetBoolean()));
            }

            await change.SetTerms([
                .. Decided
                    .GetProperty("terms")
                    .EnumerateArray()
                    .Select(term => new Term(
                        Enum.Parse<ClaimedFact>(term[0].GetString()!),
                        term[1].GetString()!,
                        term[2].GetString()!,
                        [.. term[3].EnumerateArray().Select(word => word.GetString()!)]
                    )),
            ]);
            await Start(change, Decided.GetProperty("start"));
            foreach (var keep in Decided.GetProperty("retention").EnumerateArray())
            {
                await change.AddRetentionRule(
                    new RetentionRule(
                        keep[0].GetString(),
                        keep[1].GetString(),
                        keep[2].GetInt32(),
                        change.Now.AddDays(keep[3].GetInt32())
                    )
                );
            }

            foreach (var limit in Decided.GetProperty("limits").EnumerateArray())
            {
                var general = Limit(limit);
                var limits = PowerLimits.Same(general) with
                {
                    Edit = limit.TryGetProperty("edit", out var edit) ? Limit(edit) : general,
                };
                await change.SetLimit(
                    new LimitSetting(
                        Enum.Parse<LayerKind>(Text(limit, "kind")),
                        Text(limit, "code"),
                        Enforcer.Policy,
                        Known.Of(limits)
                    )
                );
            }

            var today = DateOnly.FromDateTime(change.Now.UtcDateTime);
            var rules = Decided.GetProperty("rules").EnumerateArray();
            foreach (var rule in withAllRules ? rules.Concat(Decided.GetProperty("moreRules").EnumerateArray()) : rules)
            {
                await change.AddRule(
                    new Rule(
                        new RuleId(Text(rule, "id")),
                        Text(rule, "title"),
                        Text(rule, "short"),
                        Enum.Parse<Level>(Text(rule, "level")),
                        Text(rule, "scope"),
                        Demand.Of(Text(rule, "demand")),
                        today.AddDays(rule.GetProperty("days").GetInt32())
                    )
                    {
                        Enforcement = rule.TryGetProperty("answerDays", out var days)
                            ? new Enforcement(EnforcementKind.AskOwners, days.GetInt32())
                            : Enforcement.Report,
                    }
                );
            }

            await change.Append([
                new Draft(JournalAction.OrganisationFounded, EntryActor.Product, EntrySubject.Organisation)
                {
                    After = JournalValue.Of(("name", JournalValue.Of("Merrowby Harbour Trust"))),
                },
            ]);
            return true;
        });

    /// <summary>Gives the demo's people their accounts, once the staff list has been read.</summary>
    /// <returns>The mail addresses of people who are not in the register yet.</returns>
    public static Task<IReadOnlyList<string>> GiveAccounts(Database database, string password) =>
        database.Change<IReadOnlyList<string>>(async change =>
        {
            var people = await change.Connection.PeopleByMail();
            var hash = new PasswordHasher<object>().HashPassword(new object(), password);
            foreach (var (mail, role, part) in Accounts.Where(account => people.ContainsKey(account.Mail)))
            {
                await change.PutAccount(people[mail], role, part is null ? null : new UnitCode(part), hash);
            }

            return [.. Accounts.Select(account => account.Mail).Where(mail => !people.ContainsKey(mail))];
        });

    private static Task Start(Change change, JsonElement start) =>
        change.SetStart(
            [
                .. start
                    .GetProperty("kinds")
                    .EnumerateArray()
                    .Select(kind => new KindToStart(
                        Text(kind, "kind"),
                        Text(kind, "host"),
                        Text(kind, "describes"),
                        new AddressForm(Text(kind, "before"), Text(kind, "after")),
                        Enum.Parse<StartedBy>(Text(kind, "startedBy")),
                        kind.GetProperty("group").GetBoolean(),
                        kind.GetProperty("alias").GetString(),
                        [.. kind.GetProperty("pages").EnumerateArray().Select(page => page.GetString()!)]
                    )),
            ],
            [
                .. start
                    .GetProperty("reach")
                    .EnumerateArray()
                    .Select(reach => new ExpectedReach(
                        reach[0].GetString()!,
                        new ViewReach(
                            Enum.Parse<InsideLevel>(reach[1].GetString()!),
                            Enum.Parse<OutsideLevel>(reach[2].GetString()!),
                            Enum.Parse<VisitorSignIn>(reach[3].GetString()!)
                        )
                    )),
            ],
            [.. start.GetProperty("reserved").EnumerateArray().Select(word => word.GetString()!)]
        );

    private static Limit Limit(JsonElement limit) =>
        new(
            Enum.Parse<InsideLimit>(Text(limit, "inside")),
            Enum.Parse<OutsideLevel>(Text(limit, "outside")),
            Enum.Parse<VisitorSignIn>(Text(limit, "visitorSignIn")),
            GuestInviter.AnyOwner
        );

    private static string Text(JsonElement json, string field) => json.GetProperty(field).GetString()!;

    private static JsonElement Read()
    {
        using var stream = typeof(MerrowbyOrganisation).Assembly.GetManifestResourceStream("AtticLedger.Cli.Demo.merrowby.json")!;
        using var json = JsonDocument.Parse(stream);
        return json.RootElement.Clone();
    }
}
