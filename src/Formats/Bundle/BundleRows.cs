using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Bundle;

// One record for each kind of row. A missing fact is unknown; null is none. Described in docs/formats.md.

public sealed record UnitRow(string Code, string Name, string? Parent = null);

/// <param name="Id">The person's id in other rows: the mail address in lower case, or erased-1, … if name and address were
/// erased.</param>
public sealed record PersonRow(
    string Id,
    PersonKind Kind,
    Standing Standing,
    string? Name = null,
    string? Mail = null,
    DateOnly? Day = null,
    Known<string> Unit = default,
    string Classification = "",
    bool MailFails = false,
    bool ByHand = false,
    IReadOnlyList<SponsorRow>? Sponsors = null
);

/// <summary>A source's claim about the sponsor of a guest.</summary>
public sealed record SponsorRow(string Source, string Person);

/// <summary>The reference to a group: its source and that source's key.</summary>
public sealed record GroupName(string Source, string Key);

/// <summary>The reference to a site: its host and that host's key.</summary>
public sealed record SiteName(string Host, string Key);

/// <summary>Exactly one of the three.</summary>
public sealed record MemberRow(string? Person = null, GroupName? Group = null, string? Unit = null);

public sealed record GroupRow(string Source, string Key, string Name, bool Complete, IReadOnlyList<MemberRow> Members);

public sealed record SettingRow(string Name, string Value);

public sealed record KindRow(string Code, string Name, bool AlwaysAllStaff);

public sealed record CapRow(InsideLimit Inside, OutsideLevel Widest, VisitorSignIn LeastSignIn, GuestInviter GuestInviter)
{
    public static CapRow Of(Limit limit) => new(limit.Inside, limit.Widest, limit.LeastSignIn, limit.GuestInviter);

    public Limit Limit => new(Inside, Widest, LeastSignIn, GuestInviter);
}

public sealed record CapsRow(CapRow View, CapRow Preview, CapRow Edit)
{
    public static CapsRow Of(PowerLimits limits) =>
        new(CapRow.Of(limits.View), CapRow.Of(limits.Preview), CapRow.Of(limits.Edit));

    public PowerLimits Limits => new(View.Limit, Preview.Limit, Edit.Limit);
}

public sealed record LimitRow(LayerKind Kind, string Code, Enforcer Enforcer, Known<CapsRow> Limits = default);

public sealed record RetentionRow(
    int Days,
    DateTimeOffset From,
    DateTimeOffset? Until = null,
    string? Host = null,
    string? Classification = null
);

/// <param name="Demand">An expression, or one of within-allowed, editing-named, fit-key-holders:N before a colon.</param>
/// <summary>A version of a rule.</summary>
/// <param name="Off">True if the rule judges nothing from its first day on.</param>
public sealed record RuleRow(
    string Id,
    string Title,
    string Short,
    Level Level,
    string Scope,
    string Demand,
    DateOnly From,
    int Version = 1,
    bool Off = false
);

/// <param name="To">staff, partners or anonymous, if it is granted to nobody by name.</param>
public sealed record GrantRow(
    string Key,
    Power Power,
    string? Person = null,
    GroupName? Group = null,
    string? Unit = null,
    string? To = null,
    VisitorSignIn VisitorSignIn = VisitorSignIn.Account,
    bool Link = false,
    DateOnly? Through = null
);

/// <summary>The access that is set at the host, and since when it is known.</summary>
public sealed record SharingRow(
    DateTimeOffset At,
    SharingSource Source,
    IReadOnlyList<GrantRow> Grants,
    CapsRow? OwnLimit = null
);

public sealed record BinRow(
    DateTimeOffset Since,
    string? By = null,
    Known<DateTimeOffset> Until = default,
    Known<DateTimeOffset> Erased = default
);

/// <summary>A section with its own access settings: nested or standing-free.</summary>
public sealed record SectionRow(string Key, string Name, SectionTie Tie, IReadOnlyList<GrantRow> Grants);

/// <summary>A source's claim about a fact; the source "organisation" means set in the product.</summary>
public sealed record ClaimRow(ClaimedFact Fact, string Source, DateTimeOffset Since, string? Value = null, string? By = null);

/// <summary>A site. Its facts are fields beside these, each by the name of its declaration.</summary>
public sealed record SiteRow(
    string Host,
    string Key,
    DateTimeOffset SeenAt,
    bool NoLongerReported,
    Existence Existence,
    DateTimeOffset StandsAt,
    BinRow? Bin = null,
    Known<SharingRow> Sharing = default,
    IReadOnlyList<ClaimRow>? Claims = null,
    SiteName? Moved = null
)
{
    /// <summary>Read and written by <see cref="BundleFacts"/>.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Facts { get; init; }

    /// <summary>The same row with another text for a fact.</summary>
    public SiteRow With(SiteFact fact, Known<string> text)
    {
        var facts = Facts is null ? [] : new Dictionary<string, JsonElement>(Facts);
        facts.Remove(fact.Name);
        if (!text.IsUnknown)
        {
            facts[fact.Name] = JsonSerializer.SerializeToElement(text.Has(out var value) ? value : null);
        }

        return this with
        {
            Facts = facts,
        };
    }
}
