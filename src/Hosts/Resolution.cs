using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>Resolves a host's mail addresses and keys to the register's ids.</summary>
public sealed class Resolution(
    IReadOnlyDictionary<string, PersonId> byMail,
    IReadOnlyDictionary<(string Source, string Key), GroupId> groups,
    IReadOnlySet<string> units
)
{
    /// <summary>A row of the register from a host's report of a site, without id.</summary>
    public SiteFacts Site(string host, HostSite said, DateTimeOffset syncBegan) =>
        new()
        {
            Id = default,
            Host = host,
            HostKey = said.Key,
            Facts = said.Facts,
            Unit =
                said.Unit.Has(out var code) && !units.Contains(code)
                    ? Known<UnitCode>.Unknown
                    : said.Unit.Select(unit => new UnitCode(unit)),
            Group = said.Group.Has(out var key)
                ? groups.TryGetValue((host, key), out var group)
                    ? Known.Of(group)
                    : Known<GroupId>.Unknown
                : said.Group.Select(_ => default(GroupId)),
            Sections = Sections(said.Sections),
            Editing = said.Editing.Select(mails => (IReadOnlyList<PersonId>)[.. mails.Select(Person).OfType<PersonId>()]),
            SeenAt = syncBegan,
            StandsAt = syncBegan,
            Existence = said.Bin is null ? Existence.InUse : Existence.Attic,
            Bin = said.Bin is { } bin ? Bin(bin) : null,
            Sharing =
                said.Sharing.Has(out var sharing) && Grants(sharing) is { } grants
                    ? Known.Of(new Sharing(grants, sharing.OwnLimit, syncBegan, SharingSource.Read))
                    : Known<Sharing>.Unknown,
        };

    /// <summary>A reply as the response to a change. If it names a person who is not in the register yet, the expected state
    /// applies until the next sync.</summary>
    public HostAnswer Answer(HostReply reply, IReadOnlyList<Grant> expected) =>
        reply switch
        {
            HostReply.Done(var sharing, var bin, var address, _, var forwards) => new HostAnswer.Done(
                sharing is null ? null : Grants(sharing) ?? expected,
                sharing?.OwnLimit,
                bin is null ? null : Bin(bin),
                address,
                forwards
            ),
            HostReply.Refused(var words) => new HostAnswer.Refused(words),
            HostReply.Later(var after, var words) => new HostAnswer.Later(after, words),
            HostReply.Lost(var words) => new HostAnswer.Lost(words),
            _ => throw new InvalidOperationException("Every reply is answered above."),
        };

    /// <summary>The person with a mail address, or null if nobody in the register has it.</summary>
    public PersonId? Person(string mail) => byMail.TryGetValue(mail.ToLowerInvariant(), out var person) ? person : null;

    private Bin Bin(HostBin said) =>
        new(said.Since, said.ByMail is { } mail ? Person(mail) : null, said.RecoverableUntil, said.ErasedBy);

    // One section with a person who is not in the register makes all of them unknown: they are judged together.
    private Known<IReadOnlyList<SiteSection>> Sections(Known<IReadOnlyList<HostSection>> said)
    {
        if (!said.Has(out var sections))
        {
            return said.IsNone ? Known<IReadOnlyList<SiteSection>>.None : Known<IReadOnlyList<SiteSection>>.Unknown;
        }

        var resolved = sections
            .Select(section =>
                Grants(section.Sharing) is { } grants
                    ? new SiteSection(section.Key, section.Name, section.Tie, [.. grants])
                    : null
            )
            .ToList();
        return resolved.Contains(null)
            ? Known<IReadOnlyList<SiteSection>>.Unknown
            : Known<IReadOnlyList<SiteSection>>.Of([.. resolved.OfType<SiteSection>()]);
    }

    private List<Grant>? Grants(HostSharing sharing)
    {
        var grants = new List<Grant>(sharing.Grants.Count);
        foreach (
            var grant in sharing
                .Grants.GroupBy(grant => grant.Key, (_, same) => same.Aggregate(Wider))
                .OrderBy(grant => grant.Key, StringComparer.Ordinal)
        )
        {
            if (Subject(grant.Subject) is not { } subject)
            {
                return null;
            }

            grants.Add(new Grant(grant.Key, grant.Power, subject, grant.VisitorSignIn, grant.IsLink, grant.Through));
        }

        return grants;
    }

    // If a host reports a grant twice, the wider one counts.
    private static HostGrant Wider(HostGrant one, HostGrant other) =>
        one with
        {
            Power = (Power)Math.Max((int)one.Power, (int)other.Power),
            VisitorSignIn = (VisitorSignIn)Math.Min((int)one.VisitorSignIn, (int)other.VisitorSignIn),
            IsLink = one.IsLink && other.IsLink,
            Through = one.Through is { } day && other.Through is { } later ? (day > later ? day : later) : null,
        };

    private Subject? Subject(HostSubject subject) =>
        subject switch
        {
            HostSubject.ByMail(var mail) => Person(mail) is { } person ? new Subject.OnePerson(person) : null,
            HostSubject.GroupOf(var source, var key) => groups.TryGetValue((source, key), out var group)
                ? new Subject.OneGroup(group)
                : null,
            HostSubject.Unit(var code) => units.Contains(code) ? new Subject.WholeUnit(new UnitCode(code)) : null,
            HostSubject.Staff => new Subject.AllStaff(),
            HostSubject.Partners => new Subject.Partners(),
            _ => new Subject.Anonymous(),
        };
}
