using System.Globalization;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Journal;

/// <summary>Who did what an entry records. Never a name: names can be erased.</summary>
public abstract record EntryActor
{
    private EntryActor() { }

    /// <summary><c>person:7</c></summary>
    public sealed record Human(PersonId Person) : EntryActor;

    /// <summary>A host, the staff list or a list of people: <c>host:staff-list</c>.</summary>
    public sealed record Source(string Code) : EntryActor;

    /// <summary>The product itself, when an earlier decision falls due: <c>product</c>.</summary>
    public sealed record Itself : EntryActor;

    /// <summary>Somebody who has not signed in: <c>anonymous</c>.</summary>
    public sealed record Stranger : EntryActor;

    public static EntryActor Product { get; } = new Itself();

    public static EntryActor Anonymous { get; } = new Stranger();

    public static EntryActor Of(PersonId person) => new Human(person);

    /// <summary>A source by its name: "Staff list" is <c>host:staff-list</c>.</summary>
    public static EntryActor OfSource(string name) => new Source(Named(name));

    /// <summary>The text in the journal.</summary>
    public string Text =>
        this switch
        {
            Human(var person) => string.Create(CultureInfo.InvariantCulture, $"person:{person.Value}"),
            Source(var code) => $"host:{code}",
            Stranger => "anonymous",
            _ => "product",
        };

    /// <summary>The actor of an entry; null for a text that this version does not know.</summary>
    public static EntryActor? Parse(string text) =>
        text.Split(':', 2) switch
        {
            ["person", var id] when Number(id) is { } number => new Human(new PersonId(number)),
            ["host", var code] => new Source(code),
            ["product"] => Product,
            ["anonymous"] => Anonymous,
            _ => null,
        };

    public sealed override string ToString() => Text;

    internal static string Named(string source) => source.ToLowerInvariant().Replace(' ', '-');

    internal static long? Number(string text) =>
        long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null;
}

/// <summary>What an entry is about.</summary>
public abstract record EntrySubject
{
    private EntrySubject() { }

    /// <summary><c>site:12</c></summary>
    public sealed record Site(SiteId Id) : EntrySubject;

    /// <summary><c>person:7</c></summary>
    public sealed record Human(PersonId Person) : EntrySubject;

    /// <summary><c>account:3</c></summary>
    public sealed record Account(long Id) : EntrySubject;

    /// <summary><c>source:Intranet</c></summary>
    public sealed record Source(string Code) : EntrySubject;

    /// <summary><c>rule:R-07</c></summary>
    public sealed record Rule(RuleId Id) : EntrySubject;

    /// <summary>A batch: <c>batch:…</c></summary>
    public sealed record Batch(Guid Id) : EntrySubject;

    /// <summary>A request to start a site: <c>request:…</c></summary>
    public sealed record Request(Guid Id) : EntrySubject;

    /// <summary>The accounts together: <c>accounts</c>.</summary>
    public sealed record AllAccounts : EntrySubject;

    /// <summary>The organisation: <c>organisation</c>.</summary>
    public sealed record Everything : EntrySubject;

    public static EntrySubject Accounts { get; } = new AllAccounts();

    public static EntrySubject Organisation { get; } = new Everything();

    /// <summary>The bundle from which a whole register was imported.</summary>
    public static EntrySubject Bundle { get; } = new Source("bundle");

    public static EntrySubject Of(SiteId site) => new Site(site);

    public static EntrySubject Of(PersonId person) => new Human(person);

    public static EntrySubject Of(RuleId rule) => new Rule(rule);

    /// <summary>A source by its name: "Staff list" is <c>source:staff-list</c>.</summary>
    public static EntrySubject OfSource(string name) => new Source(EntryActor.Named(name));

    /// <summary>The text in the journal.</summary>
    public string Text =>
        this switch
        {
            Site(var id) => string.Create(CultureInfo.InvariantCulture, $"{SitePrefix}{id.Value}"),
            Human(var person) => string.Create(CultureInfo.InvariantCulture, $"person:{person.Value}"),
            Account(var id) => string.Create(CultureInfo.InvariantCulture, $"account:{id}"),
            Source(var code) => $"source:{code}",
            Rule(var id) => $"rule:{id.Value}",
            Batch(var id) => $"batch:{id}",
            Request(var id) => $"request:{id}",
            AllAccounts => "accounts",
            _ => "organisation",
        };

    /// <summary>The beginning of the text of each site.</summary>
    public const string SitePrefix = "site:";

    /// <summary>The subject of an entry; null for a text that this version does not know.</summary>
    public static EntrySubject? Parse(string text) =>
        text.Split(':', 2) switch
        {
            ["site", var id] when EntryActor.Number(id) is { } number => new Site(new SiteId(number)),
            ["person", var id] when EntryActor.Number(id) is { } number => new Human(new PersonId(number)),
            ["account", var id] when EntryActor.Number(id) is { } number => new Account(number),
            ["source", var code] => new Source(code),
            ["rule", var id] => new Rule(new RuleId(id)),
            ["batch", var id] when Guid.TryParse(id, out var batch) => new Batch(batch),
            ["request", var id] when Guid.TryParse(id, out var request) => new Request(request),
            ["accounts"] => Accounts,
            ["organisation"] => Organisation,
            _ => null,
        };

    public sealed override string ToString() => Text;
}
