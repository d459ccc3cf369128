using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A site that somebody wants to start, as they fill it in. Empty texts are not filled in yet.</summary>
public sealed record NewSite
{
    /// <summary>The code of the kind, which also says where it is made.</summary>
    public string Kind { get; init; } = "";

    public string Name { get; init; } = "";

    /// <summary>The part of the address that is its own.</summary>
    public string Address { get; init; } = "";

    /// <summary>The part of its mail alias before the "@", if its kind has one; empty for the address.</summary>
    public string Alias { get; init; } = "";

    public UnitCode? Unit { get; init; }

    /// <summary>The code of the purpose.</summary>
    public string? Purpose { get; init; }

    public string? Classification { get; init; }

    /// <summary>The codes of approved tags.</summary>
    public ValueList<string> Tags { get; init; } = [];

    /// <summary>A tag of BCP 47.</summary>
    public string? Language { get; init; }

    public string? Description { get; init; }

    /// <summary>What visitors are told before they see the content: "For adults", for instance.</summary>
    public string? ContentNotice { get; init; }

    /// <summary>The last day on which it is needed; null if no end is known.</summary>
    public DateOnly? Ends { get; init; }

    public ValueList<PersonId> Owners { get; init; } = [];

    /// <summary>The other people who can edit it.</summary>
    public ValueList<PersonId> Editors { get; init; } = [];

    public ViewReach Reach { get; init; } = ViewReach.Named;

    public string AliasPart => Alias.Length > 0 ? Alias : Address;

    /// <summary>The grants as filled in.</summary>
    public IReadOnlyList<Grant> Grants(PeopleDirectory directory)
    {
        var grants = Owners
            .Select(person => ByName(person, Power.Own))
            .Concat(Editors.Except(Owners).Select(person => ByName(person, Power.Edit)));
        return
        [
            .. grants
                .OfType<Grant>()
                .Concat(Doors())
                .DistinctBy(grant => grant.Key)
                .OrderBy(grant => grant.Key, StringComparer.Ordinal),
        ];

        Grant? ByName(PersonId person, Power power) =>
            directory.Find(person) is { Mail.Length: > 0 } found
                ? new Grant(GrantKeys.Of(found), power, new Subject.OnePerson(person))
                : null;
    }

    private IEnumerable<Grant> Doors()
    {
        if (Reach.Inside == InsideLevel.Staff)
        {
            yield return new Grant(GrantKeys.Staff, Power.View, new Subject.AllStaff());
        }
        else if (Reach.Inside == InsideLevel.Unit && Unit is { } unit)
        {
            yield return new Grant(GrantKeys.Of(unit), Power.View, new Subject.WholeUnit(unit));
        }

        if (Reach.Outside == OutsideLevel.Anonymous)
        {
            yield return new Grant(GrantKeys.Anonymous, Power.View, new Subject.Anonymous(), Reach.SignIn);
        }
        else if (Reach.Outside == OutsideLevel.Partners)
        {
            yield return new Grant(GrantKeys.Partners, Power.View, new Subject.Partners(), Reach.SignIn);
        }
    }

    /// <summary>The row of the register that it would be once it is made and published, with these grants.</summary>
    public SiteFacts Prospect(KindToStart kind, IReadOnlyList<Grant> grants, PeopleDirectory directory)
    {
        var now = directory.Now;
        return new()
        {
            Id = default,
            Host = kind.Host,
            HostKey = "",
            Name = Known.Text(Name),
            ShownName = Known.Text(Name),
            HomeTitle = Known.Text(Name),
            Address = Address.Length == 0 ? Known<string>.None : Known.Of(kind.Address.Whole(Address)),
            Kind = Known.Of(kind.Kind),
            Unit = Unit is { } unit ? Known.Of(unit) : Known<UnitCode>.None,
            Purpose = Known.Text(Purpose),
            Classification = Known.Text(Classification),
            Tags = TagWords.Of(Tags),
            Language = Known.Text(Language),
            Description = Known.Text(Description),
            ContentNotice = Known.Text(ContentNotice),
            Ends =
                Ends is { } last && last < DateOnly.MaxValue ? Known.Of(directory.Time.EndOf(last)) : Known<DateTimeOffset>.None,
            MailAlias =
                kind.AliasDomain is { } domain && AliasPart.Length > 0 ? Known.Of($"{AliasPart}@{domain}") : Known<string>.None,
            Status = Known.Of(Status.Published),
            Created = Known.Of(now),
            LastEdit = Known.Of(now),
            LastVisit = Known<DateTimeOffset>.None,
            Parent = Known<string>.None,
            Plan = Known<SitePlan>.None,
            Joining = Known<Joining>.None,
            Domains = Known<IReadOnlyList<string>>.None,
            Sections = Known<IReadOnlyList<SiteSection>>.None,
            Sharing = Known.Of(new Sharing(grants, null, now, SharingSource.Confirmed)),
            SeenAt = now,
            StandsAt = now,
        };
    }
}
