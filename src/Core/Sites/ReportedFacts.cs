using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Sites;

/// <summary>Where the logo of a site is.</summary>
public enum LogoSource : byte
{
    /// <summary>Among the site's own files: it stays as long as the site does.</summary>
    KeptWithSite,

    /// <summary>Among the files of another site: it vanishes with that one.</summary>
    Borrowed,

    /// <summary>At an address elsewhere, which can show something different one day.</summary>
    Linked,
}

/// <summary>An address that a site had, and that forwards to it.</summary>
/// <param name="Until">The instant at which it ends.</param>
public sealed record Forward(string Address, DateTimeOffset Until);

/// <summary>The facts of a site whose values are the same to a host and in the register. Each property is a declared fact by
/// its name.
/// </summary>
public abstract record ReportedFacts
{
    /// <summary>All of them.</summary>
    public FactSet Facts { get; init; } = FactSet.Unknown;

    public Known<string> Name
    {
        get => Facts.Of(DeclaredFacts.Name);
        init => Facts = Facts.With(DeclaredFacts.Name, value);
    }

    public Known<string> Address
    {
        get => Facts.Of(DeclaredFacts.Address);
        init => Facts = Facts.With(DeclaredFacts.Address, value);
    }

    public Known<string> Classification
    {
        get => Facts.Of(DeclaredFacts.Classification);
        init => Facts = Facts.With(DeclaredFacts.Classification, value);
    }

    public Known<string> Kind
    {
        get => Facts.Of(DeclaredFacts.Kind);
        init => Facts = Facts.With(DeclaredFacts.Kind, value);
    }

    public Known<string> Purpose
    {
        get => Facts.Of(DeclaredFacts.Purpose);
        init => Facts = Facts.With(DeclaredFacts.Purpose, value);
    }

    public Known<string> Tags
    {
        get => Facts.Of(DeclaredFacts.Tags);
        init => Facts = Facts.With(DeclaredFacts.Tags, value);
    }

    public Known<Status> Status
    {
        get => Facts.Of(DeclaredFacts.Status);
        init => Facts = Facts.With(DeclaredFacts.Status, value);
    }

    public Known<DateTimeOffset> Created
    {
        get => Facts.Of(DeclaredFacts.Created);
        init => Facts = Facts.With(DeclaredFacts.Created, value);
    }

    public Known<DateTimeOffset> LastEdit
    {
        get => Facts.Of(DeclaredFacts.LastEdit);
        init => Facts = Facts.With(DeclaredFacts.LastEdit, value);
    }

    public Known<DateTimeOffset> LastVisit
    {
        get => Facts.Of(DeclaredFacts.LastVisit);
        init => Facts = Facts.With(DeclaredFacts.LastVisit, value);
    }

    public Known<int> Visits
    {
        get => Facts.Of(DeclaredFacts.Visits);
        init => Facts = Facts.With(DeclaredFacts.Visits, value);
    }

    public Known<int> Pages
    {
        get => Facts.Of(DeclaredFacts.Pages);
        init => Facts = Facts.With(DeclaredFacts.Pages, value);
    }

    public Known<long> Bytes
    {
        get => Facts.Of(DeclaredFacts.Bytes);
        init => Facts = Facts.With(DeclaredFacts.Bytes, value);
    }

    public Known<IReadOnlyList<string>> Domains
    {
        get => Facts.Of(DeclaredFacts.Domains);
        init => Facts = Facts.With(DeclaredFacts.Domains, value);
    }

    public Known<string> Parent
    {
        get => Facts.Of(DeclaredFacts.Parent);
        init => Facts = Facts.With(DeclaredFacts.Parent, value);
    }

    public Known<string> ShownName
    {
        get => Facts.Of(DeclaredFacts.ShownName);
        init => Facts = Facts.With(DeclaredFacts.ShownName, value);
    }

    public Known<string> HomeTitle
    {
        get => Facts.Of(DeclaredFacts.HomeTitle);
        init => Facts = Facts.With(DeclaredFacts.HomeTitle, value);
    }

    public Known<string> Description
    {
        get => Facts.Of(DeclaredFacts.Description);
        init => Facts = Facts.With(DeclaredFacts.Description, value);
    }

    public Known<string> Language
    {
        get => Facts.Of(DeclaredFacts.Language);
        init => Facts = Facts.With(DeclaredFacts.Language, value);
    }

    public Known<SitePlan> Plan
    {
        get => Facts.Of(DeclaredFacts.Plan);
        init => Facts = Facts.With(DeclaredFacts.Plan, value);
    }

    public Known<string> MailAlias
    {
        get => Facts.Of(DeclaredFacts.MailAlias);
        init => Facts = Facts.With(DeclaredFacts.MailAlias, value);
    }

    public Known<IReadOnlyList<Obligation>> Obligations
    {
        get => Facts.Of(DeclaredFacts.Obligations);
        init => Facts = Facts.With(DeclaredFacts.Obligations, value);
    }

    public Known<int> Records
    {
        get => Facts.Of(DeclaredFacts.Records);
        init => Facts = Facts.With(DeclaredFacts.Records, value);
    }

    public Known<IReadOnlyList<Signal>> Signals
    {
        get => Facts.Of(DeclaredFacts.Signals);
        init => Facts = Facts.With(DeclaredFacts.Signals, value);
    }

    public Known<Joining> Joining
    {
        get => Facts.Of(DeclaredFacts.Joining);
        init => Facts = Facts.With(DeclaredFacts.Joining, value);
    }

    public Known<IReadOnlyList<Shared>> Shared
    {
        get => Facts.Of(DeclaredFacts.Shared);
        init => Facts = Facts.With(DeclaredFacts.Shared, value);
    }

    public Known<bool> HiddenFromSearch
    {
        get => Facts.Of(DeclaredFacts.HiddenFromSearch);
        init => Facts = Facts.With(DeclaredFacts.HiddenFromSearch, value);
    }

    public Known<LogoSource> Logo
    {
        get => Facts.Of(DeclaredFacts.Logo);
        init => Facts = Facts.With(DeclaredFacts.Logo, value);
    }

    public Known<string> LogoFrom
    {
        get => Facts.Of(DeclaredFacts.LogoFrom);
        init => Facts = Facts.With(DeclaredFacts.LogoFrom, value);
    }

    public Known<IReadOnlyList<Forward>> Forwards
    {
        get => Facts.Of(DeclaredFacts.Forwards);
        init => Facts = Facts.With(DeclaredFacts.Forwards, value);
    }

    public Known<string> ContentNotice
    {
        get => Facts.Of(DeclaredFacts.ContentNotice);
        init => Facts = Facts.With(DeclaredFacts.ContentNotice, value);
    }

    public Known<DateTimeOffset> Ends
    {
        get => Facts.Of(DeclaredFacts.Ends);
        init => Facts = Facts.With(DeclaredFacts.Ends, value);
    }
}
