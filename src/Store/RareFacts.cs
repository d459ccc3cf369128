using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>The facts that few hosts report, as one JSON object: a missing field is unknown, null is none.</summary>
internal static class RareFacts
{
    private static readonly IReadOnlyList<RareFact> All =
    [
        .. DeclaredFacts.All.Where(fact => fact.Spread == FactSpread.Rare).Select(For),
    ];

    /// <summary>Null if nothing is known.</summary>
    public static string? Write(FactSet facts)
    {
        var stored = new JsonObject();
        foreach (var fact in All)
        {
            fact.Write(facts, stored);
        }

        return stored.Count == 0 ? null : stored.ToJsonString(Json.Options);
    }

    public static void Read(string text, FactSet.Builder into)
    {
        var stored = JsonNode.Parse(text)!.AsObject();
        foreach (var fact in All)
        {
            fact.Read(stored, into);
        }
    }

    private static RareFact For(SiteFact fact) =>
        fact switch
        {
            SiteFact<SitePlan> plan => new RareFact<SitePlan, StoredPlan>(plan, StoredPlan.Of, stored => stored.Plan),
            SiteFact<IReadOnlyList<Obligation>> obligations => new RareFact<IReadOnlyList<Obligation>, StoredObligation[]>(
                obligations,
                all => [.. all.Select(one => new StoredObligation(one.Count, one.What, one.Through))],
                all => [.. all.Select(one => new Obligation(one.Count, one.What, one.Through))]
            ),
            SiteFact<IReadOnlyList<Signal>> signals => new RareFact<IReadOnlyList<Signal>, StoredSignal[]>(
                signals,
                all => [.. all.Select(one => new StoredSignal(one.Kind, one.Evidence))],
                all => [.. all.Select(one => new Signal(one.Kind, one.Evidence))]
            ),
            SiteFact<IReadOnlyList<Shared>> shared => new RareFact<IReadOnlyList<Shared>, StoredShared[]>(
                shared,
                all => [.. all.Select(one => new StoredShared(one.What, [.. one.In]))],
                all => [.. all.Select(one => new Shared(one.What, [.. one.In]))]
            ),
            SiteFact<Joining> joining => new RareFact<Joining, StoredJoining>(
                joining,
                one => new StoredJoining(one.Way, one.Waiting, one.Since, one.Members.Has(out var members) ? members : null),
                one => new Joining(
                    one.Way,
                    one.Waiting,
                    one.Since,
                    one.Members is { } members ? Known.Of(members) : Known<Power>.Unknown
                )
            ),
            SiteFact<IReadOnlyList<SiteSection>> sections => new RareFact<IReadOnlyList<SiteSection>, StoredSection[]>(
                sections,
                all => [.. all.Select(StoredSection.Of)],
                all => [.. all.Select(one => one.Section)]
            ),
            SiteFact<IReadOnlyList<Forward>> forwards => new RareFact<IReadOnlyList<Forward>, StoredForward[]>(
                forwards,
                all => [.. all.Select(one => new StoredForward(one.Address, one.Until))],
                all => [.. all.Select(one => new Forward(one.Address, one.Until))]
            ),
            SiteFact<string> text => new RareFact<string, string>(text, value => value, value => value),
            SiteFact<int> number => new RareFact<int, int>(number, value => value, value => value),
            SiteFact<bool> flag => new RareFact<bool, bool>(flag, value => value, value => value),
            SiteFact<DateTimeOffset> instant => new RareFact<DateTimeOffset, DateTimeOffset>(
                instant,
                value => value,
                value => value
            ),
            SiteFact<LogoSource> logo => new RareFact<LogoSource, LogoSource>(logo, value => value, value => value),
            _ => throw new NotSupportedException($"Nothing says how a {fact.ValueType.Name} is stored, which {fact} has."),
        };

    private abstract class RareFact
    {
        public abstract void Write(FactSet facts, JsonObject to);

        public abstract void Read(JsonObject from, FactSet.Builder into);
    }

    private sealed class RareFact<T, TStored>(SiteFact<T> fact, Func<T, TStored> toStored, Func<TStored, T> fromStored) : RareFact
        where T : notnull
        where TStored : notnull
    {
        public override void Write(FactSet facts, JsonObject to)
        {
            var known = facts.Of(fact);
            if (!known.IsUnknown)
            {
                to[fact.Name] = known.Has(out var value) ? JsonSerializer.SerializeToNode(toStored(value), Json.Options) : null;
            }
        }

        public override void Read(JsonObject from, FactSet.Builder into)
        {
            if (from.TryGetPropertyValue(fact.Name, out var value))
            {
                into.Set(fact, value is null ? Known<T>.None : Known.Of(fromStored(value.Deserialize<TStored>(Json.Options)!)));
            }
        }
    }

    private sealed record StoredPlan(
        string Key,
        string Name,
        int Price,
        string Currency,
        int Months,
        DateOnly Through,
        bool Renews,
        int GraceDays,
        int Sites
    ) : StoredRecord
    {
        public static StoredPlan Of(SitePlan plan) =>
            new(
                plan.Key,
                plan.Name,
                plan.Price,
                plan.Currency,
                plan.Months,
                plan.Through,
                plan.Renews,
                plan.GraceDays,
                plan.Sites
            );

        public SitePlan Plan => new(Key, Name, Price, Currency, Months, Through, Renews, GraceDays, Sites);
    }

    private sealed record StoredObligation(int Count, string What, DateOnly? Through = null) : StoredRecord;

    private sealed record StoredSignal(string Kind, string Evidence) : StoredRecord;

    private sealed record StoredShared(string What, string[] In) : StoredRecord;

    private sealed record StoredJoining(JoinWay Way, int Waiting, DateTimeOffset? Since, Power? Members = null) : StoredRecord;

    private sealed record StoredForward(string Address, DateTimeOffset Until) : StoredRecord;

    private sealed record StoredSection(string Key, string Name, SectionTie Tie, StoredChange[] Grants) : StoredRecord
    {
        public static StoredSection Of(SiteSection section) =>
            new(
                section.Key,
                section.Name,
                section.Tie,
                [.. section.Grants.Select(grant => new StoredChange(grant.Key, StoredGrant.Of(grant)))]
            );

        public SiteSection Section => new(Key, Name, Tie, [.. Grants.Select(grant => grant.Wanted!.Grant(grant.Key))]);
    }
}
