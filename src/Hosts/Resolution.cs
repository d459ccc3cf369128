using AtticLedger.Core.Deeds;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Hosts;

/// <summary>Turns what a host names by mail address and key into the register's ids.</summary>
public sealed class Resolution(IReadOnlyDictionary<string, PersonId> byMail, IReadOnlyDictionary<(string Source, string Key), GroupId> groups, IReadOnlySet<string> units)
{
    /// <summary>A line of the register from what the host said of a site. Its id is still to be given.</summary>
    public SiteFacts Site(string host, HostSite said, DateTimeOffset readBegan) =>
        new()
        {
            Id = default,
            Host = host,
            HostKey = said.Key,
            Name = said.Name,
            Address = said.Address,
            Unit = said.Unit.Has(out var code) && !units.Contains(code) ? Known<UnitCode>.Unknown : said.Unit.Select(unit => new UnitCode(unit)),
            Class = said.Class,
            Kind = said.Kind,
            Stage = said.Stage,
            Created = said.Created,
            LastEdit = said.LastEdit,
            LastVisit = said.LastVisit,
            Visits = said.Visits,
            SeenAt = readBegan,
            Sharing = said.Sharing.Has(out var sharing) && Grants(sharing) is { } grants
                ? Known.Of(new Sharing(grants, sharing.OwnLimit, readBegan, SharingSource.Read))
                : Known<Sharing>.Unknown,
        };

    /// <summary>A reply as an answer to an order. Where it names somebody who is not on the register yet, what was expected stands until the next read.</summary>
    public HostAnswer Answer(HostReply reply, IReadOnlyList<Grant> expected) =>
        reply switch
        {
            HostReply.Done(var sharing) => new HostAnswer.Done(Grants(sharing) ?? expected, sharing.OwnLimit),
            HostReply.Refused(var words) => new HostAnswer.Refused(words),
            HostReply.Later(var after, var words) => new HostAnswer.Later(after, words),
            HostReply.Lost(var words) => new HostAnswer.Lost(words),
            _ => throw new InvalidOperationException("Every reply is answered above."),
        };

    private List<Grant>? Grants(HostSharing sharing)
    {
        var grants = new List<Grant>(sharing.Grants.Count);
        foreach (var grant in sharing.Grants.OrderBy(grant => grant.Key, StringComparer.Ordinal))
        {
            if (Subject(grant.Subject) is not { } subject)
            {
                return null;
            }

            grants.Add(new Grant(grant.Key, grant.Power, subject, grant.Proof, grant.IsLink, grant.Through));
        }

        return grants;
    }

    private Subject? Subject(HostSubject subject) =>
        subject switch
        {
            HostSubject.ByMail(var mail) => byMail.TryGetValue(mail.ToLowerInvariant(), out var person) ? new Subject.OnePerson(person) : null,
            HostSubject.GroupOf(var source, var key) => groups.TryGetValue((source, key), out var group) ? new Subject.OneGroup(group) : null,
            HostSubject.Unit(var code) => units.Contains(code) ? new Subject.WholeUnit(new UnitCode(code)) : null,
            HostSubject.Staff => new Subject.AllStaff(),
            HostSubject.Partners => new Subject.Partners(),
            _ => new Subject.PassersBy(),
        };
}
