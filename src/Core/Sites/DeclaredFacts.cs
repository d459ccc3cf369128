using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>All facts of a site that a source can report, apart from who has access. A new fact is declared here, and its
/// connectors report it; nothing else has to know it.
/// </summary>
public static class DeclaredFacts
{
    private static readonly List<SiteFact> all = [];

    public static readonly SiteFact<string> Name = Add(
        new SiteFact<string>("name", "name") { Filter = new("name", "name", "the stored name") }
    );

    public static readonly SiteFact<string> Address = Add(
        new SiteFact<string>("address", "address") { Filter = new("address", "address", "the whole address", IsExact: true) }
    );

    public static readonly SiteFact<UnitCode> Unit = Add(
        new SiteFact<UnitCode>("unit", "unit") { Filter = new("unit", "unit", "the code of the site's own unit") }
    );

    public static readonly SiteFact<string> Classification = Add(
        new SiteFact<string>("classification", "classification")
        {
            Filter = new("classification", "classification", "how sensitive the content is"),
        }
    );

    public static readonly SiteFact<string> Kind = Add(
        new SiteFact<string>("kind", "kind") { Filter = new("kind", "kind", "the kind of site") }
    );

    /// <summary>What it is for, as a code of the vocabulary.</summary>
    public static readonly SiteFact<string> Purpose = Add(
        new SiteFact<string>("purpose", "purpose")
        {
            Spread = FactSpread.SetHere,
            Filter = new("purpose", "its purpose", "what it is for"),
        }
    );

    /// <summary>In the words of the sources.</summary>
    /// <seealso cref="TagWords"/>
    public static readonly SiteFact<string> Tags = Add(new SiteFact<string>("tags", "tags") { Spread = FactSpread.SetHere });

    public static readonly SiteFact<Status> Status = Add(
        new SiteFact<Status>("status", "status") { Filter = new("status", "status", "what visitors can see") }
    );

    public static readonly SiteFact<DateTimeOffset> Created = Add(
        new SiteFact<DateTimeOffset>("created", "created")
        {
            Filter = new("created", "the day it was created", "when the site was made"),
        }
    );

    public static readonly SiteFact<DateTimeOffset> LastEdit = Add(
        new SiteFact<DateTimeOffset>("edited", "last edit")
        {
            Filter = new("edited", "the last edit", "when the draft last changed"),
        }
    );

    public static readonly SiteFact<DateTimeOffset> LastVisit = Add(
        new SiteFact<DateTimeOffset>("visited", "last visit")
        {
            Pace = FactPace.ByItself,
            Filter = new("visited", "the last visit", "when the published site was last visited"),
        }
    );

    /// <summary>In the last seven days, as the host measured them.</summary>
    public static readonly SiteFact<int> Visits = Add(
        new SiteFact<int>("visits", "visits")
        {
            Pace = FactPace.ByItself,
            Filter = new("visits", "the number of visits in a week", "visits in the last seven days"),
        }
    );

    public static readonly SiteFact<int> Pages = Add(
        new SiteFact<int>("pages", "pages")
        {
            Pace = FactPace.ByItself,
            Line = FactLine.Content,
            Filter = new("pages", "the number of pages", "how many pages it has"),
        }
    );

    /// <summary>Its size at the host.</summary>
    public static readonly SiteFact<long> Bytes = Add(
        new SiteFact<long>("bytes", "storage")
        {
            Pace = FactPace.ByItself,
            Unit = FactUnit.Bytes,
            Line = FactLine.Content,
            Filter = new("storage", "storage in kB", "its storage in kilobytes (1,000 bytes), rounded up"),
        }
    );

    /// <summary>Web domains that show the site under their own name.</summary>
    public static readonly SiteFact<IReadOnlyList<string>> Domains = Add(
        new SiteFact<IReadOnlyList<string>>("domains", "web domains", ValueList.Same)
        {
            Line = FactLine.Content,
            Filter = new("domains", "a web domain", "web domains that show it"),
        }
    );

    /// <summary>The host's key of the site above it.</summary>
    public static readonly SiteFact<string> Parent = Add(
        new SiteFact<string>("parent", "the parent site")
        {
            Filter = new("parent", "parent", "the host's key of the site above it", IsExact: true),
        }
    );

    /// <summary>A group that was created with the site and is removed with it.</summary>
    public static readonly SiteFact<GroupId> Group = Add(new SiteFact<GroupId>("ownGroup", "its own group"));

    /// <summary>Who is editing the site now.</summary>
    public static readonly SiteFact<IReadOnlyList<PersonId>> Editing = Add(
        new SiteFact<IReadOnlyList<PersonId>>("editing", "who edits it now", ValueList.Same) { Pace = FactPace.ByItself }
    );

    /// <summary>The name shown on its pages, which can differ from the stored one.</summary>
    public static readonly SiteFact<string> ShownName = Add(
        new SiteFact<string>("shownName", "the name it shows")
        {
            Spread = FactSpread.Rare,
            Filter = new("name.shown", "the name it shows", "the name that its pages carry"),
        }
    );

    public static readonly SiteFact<string> HomeTitle = Add(
        new SiteFact<string>("homeTitle", "the title of its home page")
        {
            Spread = FactSpread.Rare,
            Filter = new("name.home", "what its home page is called", "what its home page is called"),
        }
    );

    /// <summary>The description by its owners.</summary>
    public static readonly SiteFact<string> Description = Add(
        new SiteFact<string>("description", "description")
        {
            Spread = FactSpread.Rare,
            Line = FactLine.About,
            Filter = new("description", "its description", "the description that its makers wrote"),
        }
    );

    /// <summary>A tag of BCP 47: "en", "cy-GB".</summary>
    public static readonly SiteFact<string> Language = Add(
        new SiteFact<string>("language", "language")
        {
            Spread = FactSpread.Rare,
            Filter = new("language", "its language", "the language of its content, as a BCP 47 tag"),
        }
    );

    public static readonly SiteFact<SitePlan> Plan = Add(
        new SiteFact<SitePlan>("plan", "paid plan") { Spread = FactSpread.Rare, Pace = FactPace.Partly }
    );

    /// <summary>A mail address of the site that forwards to a person or a mailbox elsewhere.</summary>
    public static readonly SiteFact<string> MailAlias = Add(
        new SiteFact<string>("mailAlias", "mail")
        {
            Spread = FactSpread.Rare,
            Line = FactLine.Content,
            Filter = new("mail", "its mail address", "the mail address that belongs to it"),
        }
    );

    public static readonly SiteFact<IReadOnlyList<Obligation>> Obligations = Add(
        new SiteFact<IReadOnlyList<Obligation>>("obligations", "open obligations", ValueList.Same)
        {
            Spread = FactSpread.Rare,
            Pace = FactPace.ByItself,
        }
    );

    /// <summary>The number of records that must be kept although nobody can claim anything by them: delivered orders, answered
    /// forms.</summary>
    public static readonly SiteFact<int> Records = Add(
        new SiteFact<int>("records", "records to keep")
        {
            Spread = FactSpread.Rare,
            Pace = FactPace.ByItself,
            Line = FactLine.Content,
            Filter = new("records", "the number of records to keep", "how many records of it must be kept"),
        }
    );

    public static readonly SiteFact<IReadOnlyList<Signal>> Signals = Add(
        new SiteFact<IReadOnlyList<Signal>>("signals", "content to review", ValueList.Same)
        {
            Spread = FactSpread.Rare,
            Pace = FactPace.ByItself,
        }
    );

    public static readonly SiteFact<Joining> Joining = Add(
        new SiteFact<Joining>("joining", "joining") { Spread = FactSpread.Rare, Pace = FactPace.Partly }
    );

    /// <summary>Pages that other sites show too.</summary>
    public static readonly SiteFact<IReadOnlyList<Shared>> Shared = Add(
        new SiteFact<IReadOnlyList<Shared>>("shared", "shared pages", ValueList.Same)
        {
            Spread = FactSpread.Rare,
            Pace = FactPace.ByItself,
        }
    );

    /// <summary>Sections with their own access settings.</summary>
    public static readonly SiteFact<IReadOnlyList<SiteSection>> Sections = Add(
        new SiteFact<IReadOnlyList<SiteSection>>("sections", "sections", ValueList.Same) { Spread = FactSpread.Rare }
    );

    /// <summary>True if its pages ask search engines not to list them.</summary>
    public static readonly SiteFact<bool> HiddenFromSearch = Add(
        new SiteFact<bool>("hiddenFromSearch", "hidden from web search")
        {
            Spread = FactSpread.Rare,
            Line = FactLine.Content,
            Filter = new("search.hidden", "hidden from web search", "whether its pages ask search engines not to list them"),
        }
    );

    public static readonly SiteFact<LogoSource> Logo = Add(
        new SiteFact<LogoSource>("logo", "logo")
        {
            Spread = FactSpread.Rare,
            Line = FactLine.Content,
            Filter = new("logo", "its logo", "where its logo is: kept with the site, borrowed from another site, or linked"),
        }
    );

    /// <summary>What visitors are told before they see the content: "For adults", for instance.</summary>
    public static readonly SiteFact<string> ContentNotice = Add(
        new SiteFact<string>("contentNotice", "content notice")
        {
            Spread = FactSpread.Rare,
            Line = FactLine.Content,
            Filter = new("notice", "its content notice", "what visitors are told before they see the content"),
        }
    );

    /// <summary>The first instant after the last day on which it is needed.</summary>
    public static readonly SiteFact<DateTimeOffset> Ends = Add(
        new SiteFact<DateTimeOffset>("ends", "end date")
        {
            Spread = FactSpread.Rare,
            Filter = new("ends", "its end date", "when the last day on which it is needed is over"),
        }
    );

    /// <summary>Kept with the site: the SHA-256 hash of the picture. Borrowed: the host's key of the other site. Linked: the address
    /// of the picture.</summary>
    public static readonly SiteFact<string> LogoFrom = Add(
        new SiteFact<string>("logoFrom", "where its logo comes from") { Spread = FactSpread.Rare }
    );

    /// <summary>Addresses that it had, and that forward to it.</summary>
    public static readonly SiteFact<IReadOnlyList<Forward>> Forwards = Add(
        new SiteFact<IReadOnlyList<Forward>>("forwards", "forwarding addresses", ValueList.Same) { Spread = FactSpread.Rare }
    );

    /// <summary>Every fact, in the order of their places.</summary>
    public static IReadOnlyList<SiteFact> All => all;

    private static SiteFact<T> Add<T>(SiteFact<T> fact)
        where T : notnull
    {
        fact.Place = all.Count;
        all.Add(fact);
        return fact;
    }
}
