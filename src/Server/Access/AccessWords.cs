using AtticLedger.Core.Access;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Access;

/// <summary>Limits and doors in words.</summary>
internal static class AccessWords
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
