using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A message to the holder of an address. The sender learns nothing about them; those who can answer are told who sent it.
/// </summary>
public static class AskHolder
{
    public const int LongestMessage = 1000;

    public static IReadOnlyList<Remark> Refusals(string? message) =>
        message is { Length: > 0 and <= LongestMessage } ? [] : [new MessageMissing(LongestMessage)];

    /// <summary>The key of the messages of one person about one address on one day: there is one.</summary>
    public static string Key(string host, string address, PersonId by, DateOnly day) =>
        $"ask:{Head.HashOf($"{host} {address}")[..16]}:{by.Value}:{day:yyyyMMdd}";

    /// <summary>Who can answer: the active owners of the site, or who has asked for the address; administrators where nobody can.
    /// </summary>
    public static IReadOnlyList<PersonId> Recipients(
        SiteFacts? site,
        PersonId? requester,
        IReadOnlyList<PersonId> administrators,
        Organisation organisation,
        PeopleDirectory directory
    )
    {
        List<PersonId> able = site is null
            ? [.. requester is { } person && directory.IsHere(person) ? [person] : Array.Empty<PersonId>()]
            :
            [
                .. SiteOwners
                    .Of(site, directory, organisation.ActiveDays)
                    .Holders.Where(holder => holder.IsActive)
                    .Select(holder => holder.Person.Id),
            ];
        return able.Count > 0 ? able : administrators;
    }

    public static Notification Notification(PersonId to, string key, string address, Person by, string message) =>
        new(
            to,
            key,
            $"{by.Name} asks about the address {address}",
            [
                $"{by.Name} would like to use the address {address}, which is held. They see neither the site nor who has it, and write:",
                message,
                $"If you want to answer, write to {by.Mail}.",
            ],
            Urgent: true
        );

    public static Draft Entry(string host, Holding by, PersonId actor, string message) =>
        new(
            JournalAction.AddressAsked,
            EntryActor.Of(actor),
            by.Site is { } site ? EntrySubject.Of(site) : EntrySubject.OfSource(host)
        )
        {
            After = JournalValue.Of(("address", JournalValue.Of(by.Address))),
            Reason = message,
        };
}
