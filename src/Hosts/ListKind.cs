namespace AtticLedger.Hosts;

/// <summary>The possible columns of a kind of list, and the headings by which they are recognised, compared without case, spaces
/// and punctuation.</summary>
/// <param name="Lines">What a line describes.</param>
/// <param name="Columns">The facts that a column can contain.</param>
/// <param name="Keys">The columns of which a list needs one, to identify its lines.</param>
/// <param name="Days">The columns of days.</param>
/// <param name="Mails">The fact of a column of mail addresses without a known heading.</param>
/// <param name="Addresses">The fact of a column of web addresses without a known heading; null if none.</param>
/// <param name="FixedWords">The words that a column with fixed words can have, by column.</param>
/// <param name="Meanings">The meaning of other headings.</param>
public sealed record ListKind(
    string Lines,
    IReadOnlyList<string> Columns,
    IReadOnlyList<string> Keys,
    IReadOnlyList<string> Days,
    string Mails,
    string? Addresses,
    IReadOnlyDictionary<string, IReadOnlyList<string>> FixedWords,
    IReadOnlyDictionary<string, string> Meanings
)
{
    public static readonly ListKind Sites = new(
        "sites",
        [
            "host",
            "key",
            "name",
            "address",
            "unit",
            "classification",
            "purpose",
            "tags",
            "description",
            "language",
            "kind",
            "status",
            "created",
            "edited",
            "visited",
            "visits",
            "pages",
            "owners",
            "editors",
            "viewers",
            "shut",
        ],
        ["key", "address"],
        ["created", "edited", "visited", "shut"],
        "owners",
        "address",
        ManualList.FixedWords,
        Means(
            ("name", "title site sitename pagetitle"),
            ("address", "url link webaddress website path"),
            ("key", "id siteid number no"),
            ("unit", "department dept team division section"),
            ("classification", "class sensitivity label"),
            ("purpose", "use usedfor whatfor"),
            ("tags", "keywords topics labels tag"),
            ("description", "about summary comment"),
            ("language", "lang"),
            ("kind", "type template"),
            ("status", "stage state"),
            ("created", "made madeon createdon creationdate since"),
            ("edited", "lastedit lastchanged lastchange modified updated"),
            ("visited", "lastvisit lastvisited"),
            ("visits", "hits"),
            ("pages", "pagecount"),
            ("owners", "owner ownedby siteowner responsible contact"),
            ("editors", "editor authors"),
            ("viewers", "viewer audience visibleto sharedwith"),
            ("shut", "closed deleted shuton"),
            ("host", "system platform")
        )
    );

    public static readonly ListKind People = new(
        "people",
        ["mail", "name", "kind", "unit", "classification", "standing", "leaves", "away"],
        ["mail"],
        ["leaves", "away"],
        "mail",
        null,
        PeopleList.FixedWords,
        Means(
            ("mail", "email mailaddress emailaddress"),
            ("name", "fullname displayname person"),
            ("kind", "type"),
            ("unit", "department dept team division section costcentre"),
            ("classification", "class makersclass grade"),
            ("standing", "status state"),
            ("leaves", "lastday leaveson leavingon lefton enddate"),
            ("away", "awayuntil absentuntil backon")
        )
    );

    private static Dictionary<string, string> Means(params (string Fact, string Headings)[] all) =>
        all.SelectMany(one => one.Headings.Split(' ').Select(heading => (heading, one.Fact)))
            .ToDictionary(pair => pair.heading, pair => pair.Fact);
}
