using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Mail;
using AtticLedger.Server.Work;
using AtticLedger.Store;

namespace AtticLedger.Server.Starting;

/// <summary>The holder, and the messages to those who can answer.</summary>
internal sealed record AskedHolder(string Host, Holding By, string Message, IReadOnlyList<Notification> Notifications);

/// <summary>Sends a message to the holder of an address, once a day for each address.</summary>
internal sealed class AskHolderAction(AskHolderRequest request, Viewer viewer) : RequestedAction<AskedHolder, AddressAsked>
{
    public override ActionName Name => ActionName.AddressAsk;

    public override IReadOnlyList<WorkKind> Wakes => [WorkKind.Mail];

    public override async Task<Decided<AskedHolder>> Decide(FactReader facts)
    {
        var organisation = await facts.Connection.Organisation();
        var directory = await facts.PeopleDirectory();
        if (
            organisation.KindsToStart.FirstOrDefault(one => one.Kind == request.Kind) is not { } kind
            || NewSiteRequest.Clean(request.Address) is not { } address
            || (await facts.Connection.HoldersOf(kind.Host, kind.Address.Whole(address))).FirstOrDefault() is not { } holder
            || directory.Find(viewer.Person) is not { } by
        )
        {
            return new Decided<AskedHolder>.NotSeen("holder of this address");
        }

        var message = SiteActionAnswers.Reason(request.Message);
        if (AskHolder.Refusals(message) is { Count: > 0 } refused)
        {
            return new Decided<AskedHolder>.Refused(refused);
        }

        var key = AskHolder.Key(kind.Host, holder.Address, viewer.Person, directory.Today);
        if ((await facts.Connection.AddressedUnder(key)).Count > 0)
        {
            return Decided<AskedHolder>.Refuse(new MessageSentToday());
        }

        var recipients = AskHolder.Recipients(
            holder.Site is { } id ? await facts.Site(id, new Scope.Everything()) : null,
            holder.Site is null
                ? (await facts.Connection.OpenSiteRequests())
                    .Find(open => open.Host == kind.Host && open.Address == holder.Address)
                    ?.By
                : null,
            await facts.Connection.Administrators(facts.Now),
            organisation,
            directory
        );
        return new Decided<AskedHolder>.Planned(
            new AskedHolder(
                kind.Host,
                holder,
                message!,
                [.. recipients.Select(to => AskHolder.Notification(to, key, holder.Address, by, message!))]
            ),
            ""
        );
    }

    public override async Task<Written<AddressAsked>> Write(Change change, AskedHolder plan)
    {
        await change.Write(plan.Notifications, await change.Connection.OrganisationTime());
        var place = (await change.Append([AskHolder.Entry(plan.Host, plan.By, viewer.Person, plan.Message)]))[^1];
        return new Written<AddressAsked>(place, new AddressAsked(place));
    }
}
