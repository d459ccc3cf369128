using AtticLedger.Core.Journal;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <param name="Look">What is typed; a part that is null stays.</param>
/// <param name="Reason">The comment on the change.</param>
public sealed record LookRequest(WantedLook Look, string? Reason);

/// <summary>Changes name, description or logo of a site. Its address stays, and so does what its pages show.</summary>
public static class ChangeLook
{
    /// <summary>The greatest length of the address of a linked logo.</summary>
    public const int LongestLink = 500;

    /// <param name="facts">With the other site where its logo is borrowed.</param>
    public static Decision Decide(ActionFacts facts, LookRequest request, ChangeId newHostChange, Actor actor)
    {
        var (site, look) = (facts.Site, request.Look);
        List<Remark> refused = [.. HostChanges.TooLong(request.Reason), .. HostChanges.NotInUse(facts), .. Refusals(facts, look)];
        if (refused.Count > 0)
        {
            return new Decision.Refusal(refused);
        }

        // What is under way is changed again, even to what the host still reports.
        var expected = site
            .UnderWay.Select(open => open.WantedState.Look)
            .OfType<WantedLook>()
            .Aggregate(site, (now, open) => open.On(now));
        if (look.LeftIn(expected) is not { } left)
        {
            return new Decision.Refusal([new LookIsSo()]);
        }

        var effect = Predict.Presenting(site, left.On(site), facts.Organisation, facts.Rules, facts.PeopleDirectory);
        if (actor.As == Capacity.Owner && Critical(effect, facts.Rules).ToList() is { Count: > 0 } critical)
        {
            return new Decision.Refusal(critical);
        }

        var hostChange = HostChanges.New(newHostChange, facts, new WantedState([]) { Look = left }, actor, request.Reason) with
        {
            Purpose = ChangePurpose.Look,
        };
        var fields = FieldChange.Of(site, left);
        return new Decision.Plan(
            [.. HostChanges.Superseded(facts.ChangeQueue, hostChange), hostChange],
            [
                FieldChange.Entry(
                    JournalAction.SiteLook,
                    actor,
                    site.Id,
                    fields,
                    request.Reason,
                    ("change", JournalValue.Of(newHostChange.ToString())),
                    ("predicted", effect.InJournal)
                ),
            ],
            effect
        )
        {
            Fields = fields,
            Advice = [.. Advice(facts, left)],
            HiddenBorrowers = look.Logo is null ? 0 : HiddenBorrowers(facts),
        };
    }

    /// <summary>Why nothing of how a site presents itself can be changed now.</summary>
    public static IEnumerable<Remark> NotNow(ActionFacts facts) => HostChanges.NotInUse(facts);

    /// <summary>The critical findings that a change would open: an owner leaves them to an administrator.</summary>
    public static IEnumerable<Remark> Critical(Effect effect, RuleBook rules) =>
        rules
            .Rules.Where(rule => rule.Level == Level.Critical && effect.Opened.Contains(rule.Id))
            .Select(rule => new WouldBreak(rule.Id.Value, rule.Title, true));

    private static IEnumerable<Remark> Refusals(ActionFacts facts, WantedLook look)
    {
        var host = facts.Site.Host;
        var capabilities = facts.Organisation.CapabilitiesOf(host);
        foreach (
            var (field, isNamed) in new[]
            {
                (LookField.Name, look.Name is not null),
                (LookField.Description, look.Description is not null),
                (LookField.Logo, look.Logo is not null),
            }
        )
        {
            if (isNamed && !capabilities.CanChange(field))
            {
                yield return new LookFixed(host, field);
            }
        }

        if (look.Name is { } name)
        {
            if (string.IsNullOrWhiteSpace(name))
            {
                yield return new NameMissing();
            }
            else if (name.Length > StartSite.LongestName)
            {
                yield return new NameTooLong(name.Length, StartSite.LongestName);
            }
        }

        if (look.Description?.Length > StartSite.LongestText)
        {
            yield return new FieldTooLong(look.Description.Length, StartSite.LongestText);
        }

        if (look.Logo is { } logo)
        {
            if (logo.Source is { } source && capabilities.ManualProcedure is null && !capabilities.Logos.Contains(source))
            {
                yield return new LogoSourceFixed(host, source);
            }
            else if (NotShown(facts, logo) is { } reason)
            {
                yield return reason;
            }
        }
    }

    private static Remark? NotShown(ActionFacts facts, WantedLogo logo) =>
        logo.Source switch
        {
            LogoSource.Borrowed
                when facts.Around.Other is not { Existence: Existence.InUse, NoLongerReported: false } other
                    || other.Host != facts.Site.Host
                    || other.Id == facts.Site.Id => new LenderMissing(facts.Site.Host),
            LogoSource.Borrowed when !facts.Around.Other!.Logo.Has(out var its) || its != LogoSource.KeptWithSite =>
                new LenderWithoutLogo(facts.Around.Other.Title),
            LogoSource.KeptWithSite when !facts.Around.HasPicture => new PictureGone(),
            LogoSource.Linked when !IsLink(logo.From) => new LogoLinkMalformed(),
            _ => null,
        };

    /// <summary>True for an address that a browser can load a picture from without a warning: https, without a user name.</summary>
    public static bool IsLink(string? address) =>
        address?.Length <= LongestLink
        && Uri.TryCreate(address, UriKind.Absolute, out var uri)
        && uri.Scheme == Uri.UriSchemeHttps
        && uri.Host.Length > 0
        && uri.UserInfo.Length == 0;

    private static IEnumerable<Remark> Advice(ActionFacts facts, WantedLook look)
    {
        var site = facts.Site;
        if (look.Name is { } name)
        {
            var renamed = look.On(site);
            if (site.Address.Has(out var address))
            {
                yield return new AddressStays(address);
            }

            foreach (
                var (where, text) in new[] { (VisibleName.Shown, site.ShownName), (VisibleName.Home, site.HomeTitle) }.Where(
                    pair => NameDrift.Of(renamed, pair.Item1) == Truth.Yes
                )
            )
            {
                yield return new NameStaysElsewhere(text.Or(""), where == VisibleName.Home, site.Host);
            }

            if (facts.Around.OnHost.LookAlikesOf(site.Id, name).Select(other => other.Name).ToList() is { Count: > 0 } same)
            {
                yield return new NameUsedToo(same);
            }
        }

        switch (look.Logo)
        {
            case { Source: LogoSource.Borrowed }:
                yield return new LogoDependsOnSite(facts.Around.Other!.Title);
                break;
            case { Source: LogoSource.Linked, From: { } from }:
                yield return new LogoDependsOnLink(new Uri(from).Host);
                break;
        }

        if (look.Logo is not null && Borrowing(facts) is { } borrowing)
        {
            yield return borrowing;
        }
    }

    /// <summary>The sites in the viewer's scope that show the logo of this one; null if none does.</summary>
    public static LogoBorrowedBy? Borrowing(ActionFacts facts) =>
        facts.Around.Borrowers.Where(facts.Around.Scope.Sees).Select(other => other.Title).ToList() is { Count: > 0 } seen
            ? new LogoBorrowedBy(seen)
            : null;

    /// <summary>The number of others.</summary>
    public static int HiddenBorrowers(ActionFacts facts) =>
        facts.Around.Borrowers.Count(other => !facts.Around.Scope.Sees(other));

    /// <summary>Who is told that somebody else changed how a site presents itself, once the host has confirmed it.</summary>
    public static IEnumerable<Notification> Told(HostChange hostChange, SiteFacts site, PeopleDirectory directory)
    {
        var who = directory.Find(hostChange.By)?.Name ?? "Somebody";
        return Ownership
            .SiteOwners.Of(site, directory, 0)
            .Holders.Select(holder => holder.Person.Id)
            .Distinct()
            .Where(person => person != hostChange.By && directory.IsHere(person))
            .Select(person => new Notification(
                person,
                $"look:{hostChange.Id}",
                $"{site.Title}: {What(hostChange)} changed",
                [
                    .. Sentences(hostChange, who, directory),
                    .. hostChange.Reason is { } reason ? [$"Their comment: \"{reason}\""] : Array.Empty<string>(),
                ],
                Urgent: false
            ));
    }

    private static string What(HostChange hostChange) =>
        hostChange.Purpose == ChangePurpose.Address
            ? "the address has"
            : (hostChange.WantedState.Look!) switch
            {
                { Name: not null } => "the name has",
                { Logo: not null } => "the logo has",
                _ => "the description has",
            };

    private static IEnumerable<string> Sentences(HostChange hostChange, string who, PeopleDirectory directory)
    {
        var (wanted, former) = (hostChange.WantedState, hostChange.Former);
        if (wanted.Address is { } address)
        {
            yield return former?.Address is { } old
                ? $"{who} changed the address from {old} to {address}.{(wanted.ForwardUntil is { } until ? $" The old one forwards to it until the end of {directory.Time.DayOf(until.AddTicks(-1)).InWords()}." : "")}"
                : $"{who} gave it the address {address}.";
        }

        if (wanted.Look is not { } look)
        {
            yield break;
        }

        if (look.Name is { } name)
        {
            yield return former?.Look?.Name is { Length: > 0 } old
                ? $"{who} renamed {old} to {name}."
                : $"{who} gave it the name {name}.";
        }

        if (look.Description is { } description)
        {
            yield return description.Length == 0
                ? $"{who} removed the description."
                : $"{who} changed the description to: {description}";
        }

        if (look.Logo is { } logo)
        {
            yield return logo.Source is null ? $"{who} removed the logo." : $"{who} changed the logo.";
        }
    }
}
