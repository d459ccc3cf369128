using AtticLedger.Core.Access;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Limits, doors and changes of access in words, for screens and for the command line.</summary>
public static class AccessText
{
    /// <summary>"unit inside, named guests outside with an account".</summary>
    public static string Of(Limit limit) =>
        $"{limit.Inside.Word()} inside, {limit.Widest.Word()} outside{SignIn(limit.Widest == OutsideLevel.NoOne ? VisitorSignIn.None : limit.LeastSignIn)}";

    /// <summary>A layer by name: "Classification Guarded".</summary>
    public static string Name(Layer layer) =>
        layer.From is null
            ? layer.Name
            : layer.Kind switch
            {
                LayerKind.Unit => $"Unit {layer.Name}",
                LayerKind.Classification => $"Classification {layer.Name}",
                LayerKind.Kind => $"Kind {layer.Name}",
                LayerKind.Place => $"Place {layer.Name}",
                _ => layer.Name,
            };

    /// <summary>"partners with a one-time code".</summary>
    public static string Of(Door door) => $"{door.Who.Word()}{SignIn(door.VisitorSignIn)}";

    /// <summary>What differs between two limits: "view: outside from no one to named guests".</summary>
    public static string Difference(PowerLimits before, PowerLimits after)
    {
        var differences = Powers
            .Limited.Select(power => (Power: power, Words: string.Join(", ", Axes(before.For(power), after.For(power)))))
            .Where(one => one.Words.Length > 0)
            .GroupBy(one => one.Words)
            .Select(same => $"{string.Join(" and ", same.Select(one => one.Power.Word()))}: {same.Key}");
        return string.Join("; ", differences);
    }

    /// <summary>A change as a sentence.</summary>
    public static string Of(AccessChange change, AccessFacts facts) =>
        change switch
        {
            AccessChange.Loosen { From.Limits: var was } loosen =>
                $"Raise the limit \"{loosen.Name}\": {Difference(was.Or(PowerLimits.Open), loosen.To)}.",
            AccessChange.LoosenSite(var was, var to) => $"Raise the site's own setting: {Difference(was, to)}.",
            AccessChange.GrantPower(var grant) =>
                $"Grant {GrantText.Who(grant, facts.Directory)} the power to {grant.Power.Word()}.",
            AccessChange.InviteGuest(var granted) => $"Invite the guest to {granted.Word()}.",
            AccessChange.JoinGroup(var person, var group, var granted) =>
                $"Add {facts.Directory.Find(person)?.Name} to the group {facts.Directory.Find(group)?.Name}, which can {granted.Word()}.",
            AccessChange.Publish => facts.Site.Status.Or(default) == Status.Offline
                ? "Put the site online again."
                : "Publish the site.",
            _ => "Restore the site from the attic.",
        };

    /// <summary>Who can make a change, in words.</summary>
    public static string By(Performer performer, string host) =>
        performer switch
        {
            Performer.Owners => "an owner or an administrator",
            Performer.Publishers => $"somebody who may publish it, at {host}",
            Performer.Administrators => "an administrator",
            _ => $"an administrator of {host}",
        };

    private static IEnumerable<string> Axes(Limit before, Limit after)
    {
        if (before.Inside != after.Inside)
        {
            yield return $"inside from {before.Inside.Word()} to {after.Inside.Word()}";
        }

        if (before.Widest != after.Widest)
        {
            yield return $"outside from {before.Widest.Word()} to {after.Widest.Word()}";
        }

        if (before.LeastSignIn != after.LeastSignIn && after.Widest != OutsideLevel.NoOne)
        {
            yield return $"sign-in from {before.LeastSignIn.Word()} to {after.LeastSignIn.Word()}";
        }

        if (before.GuestInviter != after.GuestInviter)
        {
            yield return $"guests invited by {after.GuestInviter.Word()} instead of {before.GuestInviter.Word()}";
        }
    }

    private static string SignIn(VisitorSignIn visitorSignIn) =>
        visitorSignIn switch
        {
            VisitorSignIn.None => "",
            VisitorSignIn.OneTimeCode => " with a one-time code",
            _ => " with an account",
        };
}
