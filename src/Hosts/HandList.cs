using System.Globalization;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>What a list says of a site on another host, which it names by that host's key or by its address.</summary>
public sealed record ListedElsewhere(int Line, string Host, string Named, IReadOnlyDictionary<SaidFact, Known<string>> Facts);

/// <summary>A line of a list as it was understood.</summary>
/// <param name="Site">Null where it speaks of a site on another host, or is refused.</param>
/// <param name="Other">What it says of a site that has another host: what that host says itself is more direct.</param>
/// <param name="Faults">What is wrong with it.</param>
public sealed record ListedLine(int Line, HostSite? Site, ListedElsewhere? Other, IReadOnlyList<ListFault> Faults)
{
    public bool IsRefused => Site is null && Other is null;
}

/// <summary>
/// A list of sites that somebody keeps by hand, for a host without a reader. An empty cell says nothing; a dash says that
/// there is none. <c>docs/formats.md</c> names the columns.
/// </summary>
public static class HandList
{
    private static readonly (string Word, Stage Stage)[] Stages =
    [
        ("never live", Stage.NeverLive),
        ("live", Stage.Live),
        ("offline", Stage.Offline),
    ];

    /// <param name="host">The host that the list is of.</param>
    /// <param name="isPerson">Whether somebody on the register has a mail address.</param>
    /// <param name="isUnit">Whether there is a unit of a code.</param>
    /// <param name="time">The zone of the list's days.</param>
    /// <param name="days">How days are written that do not begin with the year.</param>
    /// <exception cref="HostException">It is no list of sites; the message says what to do.</exception>
    public static IEnumerable<ListedLine> Read(
        string host,
        IReadOnlyList<string> heads,
        IEnumerable<ListedRow> rows,
        Func<string, bool> isPerson,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days = DayOrder.YearFirst
    ) => Read(host, ListCells.Places(heads), rows, isPerson, isUnit, time, days);

    private static IEnumerable<ListedLine> Read(
        string host,
        IReadOnlyDictionary<string, int> places,
        IEnumerable<ListedRow> rows,
        Func<string, bool> isPerson,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days
    )
    {
        var lines = new Dictionary<(string Host, string Key), int>();
        foreach (var row in rows)
        {
            var cells = new Cells(row, places, isPerson, isUnit, time, days);
            ListedLine Refused(string why) => new(row.Line, null, null, [new ListFault(row.Line, true, why)]);
            yield return cells.Key() is not { } key ? Refused("neither key nor address.")
            : !lines.TryAdd((cells.Host(host), key), row.Line)
                ? Refused($"\"{key}\" stands in line {lines[(cells.Host(host), key)]} already.")
            : cells.Host(host) is var its && its != host
                ? new ListedLine(row.Line, null, new ListedElsewhere(row.Line, its, key, cells.Facts()), cells.Faults)
            : new ListedLine(row.Line, cells.Site(key), null, cells.Faults);
        }
    }

    /// <summary>One line, read column by column.</summary>
    private sealed class Cells(
        ListedRow row,
        IReadOnlyDictionary<string, int> places,
        Func<string, bool> isPerson,
        Func<string, bool> isUnit,
        HouseTime time,
        DayOrder days
    ) : ListCells(row, places, time, days)
    {
        // A dash is no key: the address then is one.
        public string? Key() => new[] { Cell("key"), Cell("address") }.FirstOrDefault(text => text.Length > 0 && text != None);

        public string Host(string otherwise) => Cell("host") is { Length: > 0 } named && named != None ? named : otherwise;

        public IReadOnlyDictionary<SaidFact, Known<string>> Facts() =>
            new Dictionary<SaidFact, Known<string>>
            {
                [SaidFact.Unit] = Unit(isUnit),
                [SaidFact.Class] = Text("class"),
                [SaidFact.Purpose] = Text("purpose"),
                [SaidFact.Tags] = Tags(),
                [SaidFact.Name] = Text("name"),
                [SaidFact.Address] = Key() == Cell("address") ? Known<string>.Unknown : Text("address"),
            };

        private Known<string> Tags() => Text("tags") is var said && said.Has(out var text) ? TagWords.Of([text]) : said;

        public HostSite Site(string key) =>
            new(key)
            {
                Name = Text("name"),
                Address = Text("address"),
                Unit = Unit(isUnit),
                Class = Text("class"),
                Purpose = Text("purpose"),
                Tags = Tags(),
                Description = Text("description"),
                Language = Text("language"),
                Kind = Text("kind"),
                Stage = Word("stage", Stages),
                Created = Moment("created"),
                LastEdit = Moment("edited"),
                LastVisit = Moment("visited"),
                Visits = Number("visits"),
                Pages = Number("pages"),
                Sharing = Sharing(),

                // A list names all who get in: nobody lets themselves in.
                Joining = Known<Joining>.None,
                Bin = Moment("shut").Has(out var since)
                    ? new HostBin(since, null, Known<DateTimeOffset>.None, Known<DateTimeOffset>.None)
                    : null,
            };

        private Known<int> Number(string column) =>
            Fact<int>(
                column,
                text => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : null,
                "write a whole number"
            );

        // Who is let in is known only where all three are: one that is left open could hold anybody.
        private Known<HostSharing> Sharing()
        {
            var grants = new Dictionary<string, HostGrant>(StringComparer.Ordinal);
            var known = true;
            foreach (var (column, power) in new[] { ("viewers", Power.View), ("editors", Power.Edit), ("owners", Power.Own) })
            {
                var said = Text(column);
                known &= !said.IsUnknown;
                foreach (
                    var who in said.Or("")
                        .Split([';', ',', '\n'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                )
                {
                    if (Subject(who) is not var (key, subject))
                    {
                        Wrong<string>(
                            column,
                            $"\"{who}\" is nobody on the register; write mail addresses, staff, partners, passers-by or unit:CODE"
                        );
                        known = false;
                        continue;
                    }

                    grants[key] = new HostGrant(
                        key,
                        power,
                        subject,
                        subject is HostSubject.PassersBy or HostSubject.Partners ? Proof.None : Proof.SignedIn
                    );
                }
            }

            return known ? Known.Of(new HostSharing([.. grants.Values], null)) : Known<HostSharing>.Unknown;
        }

        private (string Key, HostSubject Subject)? Subject(string who)
        {
            var word = who.ToLowerInvariant();
            return word switch
            {
                "staff" => (word, new HostSubject.Staff()),
                "partners" => (word, new HostSubject.Partners()),
                "passers-by" => (word, new HostSubject.PassersBy()),
                _ when word.StartsWith("unit:", StringComparison.Ordinal) => isUnit(who[5..])
                    ? ($"unit:{who[5..]}", new HostSubject.Unit(who[5..]))
                    : null,
                _ => isPerson(word) ? ($"person:{word}", new HostSubject.ByMail(word)) : null,
            };
        }
    }
}
