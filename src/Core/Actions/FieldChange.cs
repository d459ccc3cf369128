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
        JournalValue.Of(
            ("field", JournalValue.Of(Field.ToString().ToLowerInvariant())),
            (
                "before",
                Before.Has(out var text) ? JournalValue.Of(text)
                : Before.IsNone ? JournalValue.Null
                : JournalValue.Unknown
            ),
            ("after", JournalValue.Of(After))
        );

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

    /// <summary>A logo as a text: its source and where it comes from.</summary>
    public static string LogoText(LogoSource? source, string? from) => source is { } known ? $"{known} {from}".TrimEnd() : "";

    private static Known<string> LogoText(SiteFacts site) =>
        site.Logo.Select(source => LogoText(source, site.LogoFrom.Has(out var from) ? from : null));
}
