using System.Globalization;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Journal;

/// <summary>Who and what an entry names, as screens and files say it.</summary>
internal static class EntryWords
{
    public static string Actor(JournalRow row, Roll roll) =>
        row.Person is { } person ? roll.Find(person)?.Name ?? row.Actor
        : row.Actor.Split(':', 2) is ["host", var host] ? Source(host)
        : row.Actor;

    public static string Subject(JournalRow row, SeenSheet seen, Roll roll) =>
        row.Site is { } site
            ? seen.Find(site)?.Title ?? row.Subject
            : row.Subject.Split(':', 2) switch
            {
                ["source", var source] => Source(source),
                ["account", _] => "an account",
                ["person", var id]
                    when long.TryParse(id, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                        && roll.Find(new PersonId(number)) is { } person => person.Name,
                _ => row.Subject,
            };

    private static string Source(string source) => char.ToUpperInvariant(source[0]) + source[1..].Replace('-', ' ');
}
