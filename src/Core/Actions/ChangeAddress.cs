using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="Own">The part of the new address that is chosen.</param>
/// <param name="ForwardDays">For how many days after today the old address forwards to the new one.</param>
/// <param name="Swap">True if the site that has the new address gets the old one.</param>
public sealed record AddressRequest(string Own, int ForwardDays, bool Swap, string? Reason);

/// <summary>Changes the address of a site: only to a free one, to one that forwards to the same site already, or in exchange with
/// another site. Who uses the old one is said before.
/// </summary>
public static class ChangeAddress
{
    /// <summary>The fixed parts of a site's address: of its kind, or everything before the last slash. Null if neither is known.
    /// </summary>
    public static AddressForm? FormOf(SiteFacts site, Organisation organisation)
    {
        var here = organisation.KindsToStart.Where(kind => kind.Host == site.Host).ToList();
        if (!site.Address.Has(out var address))
        {
            return site.Kind.Has(out var its) ? here.Find(kind => kind.Kind == its)?.Address : null;
        }

        return here.Select(kind => kind.Address).FirstOrDefault(form => form.Own(address) is not null)
            ?? (address.LastIndexOf('/') is > 0 and var slash ? new AddressForm(address[..(slash + 1)], "") : null);
    }

    /// <param name="facts">With the holders of the wanted address and the pages that link here; with the other site of an
    /// exchange.</param>
    public static Decision Decide(ActionFacts facts, AddressRequest request, ChangeId newHostChange, Actor actor)
    {
        var site = facts.Site;
        List<Remark> refused = [.. HostChanges.TooLong(request.Reason), .. HostChanges.NotInUse(facts)];
        var capabilities = facts.Organisation.CapabilitiesOf(site.Host);
        if (!capabilities.CanChange(LookField.Address))
        {
            refused.Add(new LookFixed(site.Host, LookField.Address));
        }

        if (FormOf(site, facts.Organisation) is not { } form)
        {
            return new Decision.Refusal([.. refused, new AddressFormUnknown(site.Host)]);
        }

        var address = form.Whole(request.Own);
        refused.AddRange(Refusals(facts, request, address, capabilities, actor));
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        var directory = facts.PeopleDirectory;
        DateOnly? forward = request.ForwardDays > 0 && !site.Address.IsNone ? directory.Today.Plus(request.ForwardDays) : null;
        var other = request.Swap ? facts.Around.Other : null;
        var effect = Predict.Presenting(
            site,
            site with
            {
                Address = Known.Of(address),
            },
            facts.Organisation,
            facts.Rules,
            directory
        );
        if (actor.As == Capacity.Owner && ChangeLook.Critical(effect, facts.Rules).ToList() is { Count: > 0 } critical)
        {
            return new Decision.Refusal(critical);
        }

        var hostChange = HostChanges.New(
            newHostChange,
            facts,
            new WantedState([], Address: address)
            {
                ForwardUntil = forward is { } last ? directory.Time.EndOf(last) : null,
                SwapWith = other?.HostKey,
            },
            actor,
            request.Reason
        ) with
        {
            Purpose = ChangePurpose.Address,
        };
        var impact = Impact(facts, address, forward, other);
        return new Decision.Plan(
            [hostChange],
            [
                Entry(site.Id, site.Address, address),
                .. other is null ? Array.Empty<Draft>() : [Entry(other.Id, other.Address, site.Address.Or(""))],
            ],
            effect
        )
        {
            Fields = [new FieldChange(LookField.Address, site.Address, address)],
            AddressImpact = impact,
            Notifications = other is null ? [] : [.. Told(facts, other, newHostChange, actor)],
            Advice = [.. Advice(facts, request, impact)],
        };

        Draft Entry(SiteId of, Known<string> before, string after) =>
            FieldChange.Entry(
                JournalAction.SiteAddress,
                actor,
                of,
                [new FieldChange(LookField.Address, before, after)],
                request.Reason,
                ("change", JournalValue.Of(newHostChange.ToString())),
                ("forwards", JournalValue.Of(forward?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture))),
                ("predicted", effect.InJournal)
            );
    }

    // The owners of this site are told when the host has confirmed it.
    private static IEnumerable<Notification> Told(ActionFacts facts, SiteFacts other, ChangeId hostChange, Actor actor) =>
        Ownership
            .SiteOwners.Of(other, facts.PeopleDirectory, 0)
            .Holders.Select(holder => holder.Person.Id)
            .Distinct()
            .Where(person => person != actor.Person && facts.PeopleDirectory.IsHere(person))
            .Select(person => new Notification(
                person,
                $"swap:{hostChange}",
                $"{other.Title} gets another address",
                [
                    $"{facts.PeopleDirectory.Find(actor.Person)?.Name ?? "Somebody"} exchanges the addresses of {other.Title} and {facts.Site.Title}: yours becomes {facts.Site.Address.Or("")}.",
                ],
                Urgent: false
            ));

    /// <summary>What a new address means for those who use the old one.</summary>
    public static AddressImpact Impact(ActionFacts facts, string address, DateOnly? forward, SiteFacts? other)
    {
        var links = facts.Around.Address?.Links ?? new LinksHere([], 0);
        return new AddressImpact(
            [.. links.Sites.Where(link => link.IsSeen)],
            links.Sites.Count(link => !link.IsSeen),
            links.Unread,
            facts.Site.Visits,
            forward,
            [.. facts.Site.Forwards.Or([]).Where(former => former.Address != address)],
            other?.Title
        );
    }

    private static IEnumerable<Remark> Refusals(
        ActionFacts facts,
        AddressRequest request,
        string address,
        HostCapabilities capabilities,
        Actor actor
    )
    {
        var site = facts.Site;
        if (site.Address.Has(out var now) && now == address)
        {
            yield return new AddressIsSo(address);
            yield break;
        }

        if (request.Own.Length == 0)
        {
            yield return new AddressMissing();
            yield break;
        }

        var book = facts.Around.Address?.Book ?? new AddressBook(facts.Organisation.ReservedAddresses);
        foreach (var fault in book.FaultsOf(request.Own, site.Id))
        {
            switch (fault)
            {
                case AddressFault.Malformed(var why):
                    yield return new AddressMalformed(why);
                    break;
                case AddressFault.Held(var by) when !(request.Swap && by.Site is { } holder && holder == facts.Around.Other?.Id):
                    yield return new AddressHeld(
                        address,
                        facts.Around.Address?.NameOf(by),
                        by.As,
                        by.Until is { } until ? facts.PeopleDirectory.Time.DayOf(until) : null
                    );
                    break;
                case AddressFault.Reserved(var word):
                    yield return new AddressReserved(word);
                    break;
                case AddressFault.Confusable(var word, null) when actor.As != Capacity.Administrator:
                    yield return new AddressLikeReserved(word);
                    break;
            }
        }

        if (request.Swap)
        {
            if (!capabilities.SwapsAddresses)
            {
                yield return new SwapNotOffered(site.Host);
            }
            else if (
                facts.Around.Other is not { Existence: Existence.InUse, NoLongerReported: false } other
                || !other.Address.Has(out var its)
                || its != address
                || site.Address.IsNone
            )
            {
                yield return new SwapPartnerMissing(address);
            }
        }

        if (request.ForwardDays > 0 && request.Swap)
        {
            yield return new SwapForwardsNothing();
        }
        else if (request.ForwardDays > 0 && capabilities.ForwardDays == 0)
        {
            yield return new ForwardNotOffered(site.Host);
        }
        else if (request.ForwardDays < 0 || request.ForwardDays > capabilities.ForwardDays)
        {
            yield return new ForwardDaysOutOfRange(site.Host, capabilities.ForwardDays);
        }
    }

    private static IEnumerable<Remark> Advice(ActionFacts facts, AddressRequest request, AddressImpact impact)
    {
        foreach (var remark in StartSite.Advice(request.Own))
        {
            yield return remark;
        }

        if (facts.Around.Address is { } around)
        {
            foreach (var fault in around.Book.FaultsOf(request.Own, facts.Site.Id).OfType<AddressFault.Confusable>())
            {
                yield return fault.By is { } by
                    ? new AddressLike(fault.With, around.NameOf(by))
                    : new AddressLikeReserved(fault.With);
            }
        }

        if (impact is { ForwardThrough: null, SwapWith: null } && facts.Site.Address.Has(out var old))
        {
            yield return new AddressNotForwarded(old);
        }

        if (facts.Site.Domains.Has(out var domains) && domains.Count > 0)
        {
            yield return new DomainsStay(domains);
        }
    }
}
