using System.Globalization;

namespace AtticLedger.Core.Sites;

/// <summary>A setting of the organisation, stored as text. A closed list; two of them exist once for each source.</summary>
public sealed record Setting
{
    private const char Of = ':';

    private readonly (int Least, int Most)? range;

    private Setting(string name, string otherwise, (int Least, int Most)? range = null) =>
        (Name, Otherwise, this.range) = (name, otherwise, range);

    /// <summary>The time zone, by its name in the IANA database.</summary>
    public static Setting Zone { get; } = new("zone", "UTC");

    /// <summary>For how many minutes an owner can stop the move of their site to the attic.</summary>
    public static Setting StopMinutes { get; } = new("stop-minutes", "60", (0, 7 * 24 * 60));

    /// <summary>After how many days an offer of ownership lapses.</summary>
    public static Setting OfferDays { get; } = new("offer-days", "14", (0, 3650));

    /// <summary>After how many days a request for a second person lapses.</summary>
    public static Setting ApprovalDays { get; } = new("approval-days", "7", (0, 3650));

    /// <summary>For how many days more an owner who leaves still counts as active.</summary>
    public static Setting ActiveDays { get; } = new("active-days", "14", (0, 3650));

    /// <summary>How many percent of a host's sites can become "no longer reported" in one sync without a person's confirmation.</summary>
    public static Setting MissingShare { get; } = new("unreported-share", "10", (0, 100));

    /// <summary>The vocabulary, as JSON.</summary>
    public static Setting Terms { get; } = new("terms", "[]");

    /// <summary>After how many days a request to start a site lapses.</summary>
    public static Setting RequestDays { get; } = new("request-days", "14", (0, 3650));

    /// <summary>The kinds of site that can be started, as JSON.</summary>
    public static Setting KindsToStart { get; } = new("kinds-to-start", "[]");

    /// <summary>The reach that each purpose expects, as JSON.</summary>
    public static Setting ExpectedReaches { get; } = new("expected-reaches", "[]");

    /// <summary>Words that no new site gets as its address, as JSON.</summary>
    public static Setting ReservedAddresses { get; } = new("reserved-addresses", "[]");

    /// <summary>By how many seconds the demo's clock is ahead.</summary>
    public static Setting DemoClock { get; } = new("demo-clock-seconds", "0", (0, int.MaxValue));

    private static readonly Setting[] Single =
    [
        Zone,
        StopMinutes,
        OfferDays,
        ApprovalDays,
        ActiveDays,
        MissingShare,
        Terms,
        RequestDays,
        KindsToStart,
        ExpectedReaches,
        ReservedAddresses,
        DemoClock,
    ];

    private static readonly Setting Hosts = new("host", "");
    private static readonly Setting Columns = new("columns", "{}");
    private static readonly Setting Words = new("words", "{}");

    public string Name { get; }

    /// <summary>The value where it is not set.</summary>
    public string Otherwise { get; }

    /// <summary>Why it cannot have this value; null if it can.</summary>
    public string? Fault(string value) =>
        range is var (least, most)
            ? int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            && number >= least
            && number <= most
                ? null
                : $"{Name} has to be a number from {least} to {most}"
            : this == Zone && !TimeZoneInfo.TryFindSystemTimeZoneById(value, out _)
                ? $"there is no time zone \"{value}\""
                : null;

    /// <summary>The capabilities of a host, as JSON.</summary>
    public static Setting CapabilitiesOf(string host) => new($"{Hosts.Name}{Of}{host}", Hosts.Otherwise);

    /// <summary>The column mapping of the last list of a source, as JSON.</summary>
    public static Setting ColumnsOf(string source) => new($"{Columns.Name}{Of}{source}", Columns.Otherwise);

    /// <summary>The meanings chosen for words in lists of a source, as JSON.</summary>
    public static Setting WordsOf(string source) => new($"{Words.Name}{Of}{source}", Words.Otherwise);

    /// <summary>The host whose capabilities it is; null for another setting.</summary>
    public string? Host => Name.Split(Of, 2) is [var kind, var host] && kind == Hosts.Name ? host : null;

    /// <summary>The setting of this name; null for a name that this version does not know.</summary>
    public static Setting? Find(string name) =>
        name.Split(Of, 2) switch
        {
            [var kind, var host] when kind == Hosts.Name => CapabilitiesOf(host),
            [var kind, var source] when kind == Columns.Name => ColumnsOf(source),
            [var kind, var source] when kind == Words.Name => WordsOf(source),
            _ => Array.Find(Single, setting => setting.Name == name),
        };
}
