using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Store;

namespace AtticLedger.Server.Journal;

/// <summary>The actor and subject of an entry, as screens and files show them.</summary>
internal static class EntryLabels
{
    public static string Actor(JournalRow row, PeopleDirectory directory) =>
        row.Person is { } person ? directory.Find(person)?.Name ?? row.Actor
        : EntryActor.Parse(row.Actor) is EntryActor.Source(var host) ? Source(host)
        : row.Actor;

    public static string Subject(JournalRow row, VisibleRegister seen, PeopleDirectory directory) =>
        row.Site is { } site
            ? seen.Find(site)?.Title ?? row.Subject
            : EntrySubject.Parse(row.Subject) switch
            {
                EntrySubject.Source(var source) => Source(source),
                EntrySubject.Account => "an account",
                EntrySubject.Request => "a request to start a site",
                EntrySubject.Rule(var rule) => $"the rule {rule}",
                EntrySubject.Human(var id) when directory.Find(id) is { } person => person.Name,
                _ => row.Subject,
            };

    private static string Source(string source) => char.ToUpperInvariant(source[0]) + source[1..].Replace('-', ' ');
}
