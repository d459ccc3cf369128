using System.Globalization;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Journal;

/// <summary>The actor and subject of an entry, as screens and files show them.</summary>
internal static class EntryLabels
{
    public static string Actor(JournalRow row, PeopleDirectory directory) =>
        row.Person is { } person ? directory.Find(person)?.Name ?? row.Actor
        : row.Actor.Split(':', 2) is ["host", var host] ? Source(host)
        : row.Actor;

    public static string Subject(JournalRow row, VisibleRegister seen, PeopleDirectory directory) =>
        row.Site is { } site
            ? seen.Find(site)?.Title ?? row.Subject
            : row.Subject.Split(':', 2) switch
            {
                ["source", var source] => Source(source),
                ["account", _] => "an account",
                ["person", var id]
                    when long.TryParse(id, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                        && directory.Find(new PersonId(number)) is { } person => person.Name,
                _ => row.Subject,
            };

    private static string Source(string source) => char.ToUpperInvariant(source[0]) + source[1..].Replace('-', ' ');
}
