namespace AtticLedger.Hosts;

/// <summary>What the lists of a kind can say, and by what their columns are known. Headings are compared without case, spaces and signs.</summary>
/// <param name="Lines">What its lines are of.</param>
/// <param name="Columns">The facts that a column can hold.</param>
/// <param name="Keys">Those of which a list needs one, for they tell its lines apart.</param>
/// <param name="Days">Those that are days.</param>
/// <param name="Mails">The one that a column of mail addresses holds, where its heading does not say.</param>
/// <param name="Addresses">The one that a column of web addresses holds; null where none does.</param>
/// <param name="Meanings">What other headings mean.</param>
public sealed record ListKind(
    string Lines,
    IReadOnlyList<string> Columns,
    IReadOnlyList<string> Keys,
    IReadOnlyList<string> Days,
    string Mails,
    string? Addresses,
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
            "class",
            "purpose",
            "tags",
            "description",
            "language",
            "kind",
            "stage",
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
        Means(
            ("name", "title site sitename pagetitle"),
            ("address", "url link webaddress website path"),
            ("key", "id siteid number no"),
            ("unit", "department dept team division section"),
            ("class", "classification sensitivity label"),
            ("purpose", "use usedfor whatfor"),
            ("tags", "keywords topics labels tag"),
            ("description", "about summary comment"),
            ("language", "lang"),
            ("kind", "type template"),
            ("stage", "status state"),
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
        ["mail", "name", "kind", "unit", "class", "standing", "leaves", "away"],
        ["mail"],
        ["leaves", "away"],
        "mail",
        null,
        Means(
            ("mail", "email mailaddress emailaddress"),
            ("name", "fullname displayname person"),
            ("kind", "type"),
            ("unit", "department dept team division section costcentre"),
            ("class", "makersclass grade"),
            ("standing", "status state"),
            ("leaves", "lastday leaveson leavingon lefton enddate"),
            ("away", "awayuntil absentuntil backon")
        )
    );

    private static Dictionary<string, string> Means(params (string Fact, string Headings)[] all) =>
        all.SelectMany(one => one.Headings.Split(' ').Select(heading => (heading, one.Fact)))
            .ToDictionary(pair => pair.heading, pair => pair.Fact);
}
