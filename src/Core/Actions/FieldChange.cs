using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A part of how a site presents itself, before and after.</summary>
/// <param name="Before">The text; unknown if the host does not report it.</param>
/// <param name="After">Empty for none.</param>
public sealed record FieldChange(LookField Field, Known<string> Before, string After)
{
    public JournalValue InJournal =>
        JournalValue.Of(("field", JournalValue.Of(Name)), ("before", BeforeInJournal), ("after", JournalValue.Of(After)));

    private string Name => Field.ToString().ToLowerInvariant();

    private JournalValue BeforeInJournal =>
        Before.Has(out var text) ? JournalValue.Of(text)
        : Before.IsNone ? JournalValue.Null
        : JournalValue.Unknown;

    /// <summary>An entry with each part under its name, before and after.</summary>
    /// <param name="more">What else the entry keeps about the change.</param>
    public static Draft Entry(
        JournalAction action,
        Actor actor,
        SiteId site,
        IReadOnlyList<FieldChange> fields,
        string? reason,
        params IEnumerable<(string, JournalValue)> more
    ) =>
        new(action, actor.InJournal, EntrySubject.Of(site))
        {
            Before = new JournalValue.Fields([.. fields.Select(one => (one.Name, one.BeforeInJournal))]),
            After = new JournalValue.Fields([.. fields.Select(one => (one.Name, JournalValue.Of(one.After))), .. more]),
            Reason = reason,
        };

    /// <summary>What a look makes different on a site.</summary>
    public static IReadOnlyList<FieldChange> Of(SiteFacts site, WantedLook look) =>
        [
            .. look.Name is { } name ? [new FieldChange(LookField.Name, site.Name, name)] : Array.Empty<FieldChange>(),
            .. look.Description is { } description
                ? [new FieldChange(LookField.Description, site.Description, description)]
                : Array.Empty<FieldChange>(),
            .. look.Logo is { } logo
                ? [new FieldChange(LookField.Logo, LogoText(site), LogoText(logo.Source, logo.From))]
                : Array.Empty<FieldChange>(),
        ];

    /// <summary>A logo as a text: where it is. Empty for none.</summary>
    public static string LogoText(LogoSource? source, string? from) =>
        source switch
        {
            null => "",
            LogoSource.KeptWithSite => "kept with the site",
            LogoSource.Borrowed => from is null ? "borrowed from another site" : $"borrowed from another site ({from})",
            _ => from is null ? "linked" : $"linked: {from}",
        };

    private static Known<string> LogoText(SiteFacts site) =>
        site.Logo.Select(source => LogoText(source, site.LogoFrom.Has(out var from) ? from : null));
}
