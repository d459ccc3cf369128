namespace AtticLedger.Core.Terms;

/// <summary>The states of something, and the events that each of them allows, with the next state. Buttons on the screen come
/// from the same table.
/// </summary>
/// <param name="what">What has the states, with its article: "an offer".</param>
/// <example><c>new StateTable&lt;Light, Press&gt;("a light", new() { [(Light.Off, Press.On)] = Light.On })</c></example>
public sealed class StateTable<TState, TEvent>(string what, Dictionary<(TState State, TEvent Event), TState> moves)
    where TState : struct, Enum
    where TEvent : struct, Enum
{
    /// <summary>The state after an event; null if the state does not allow it.</summary>
    public TState? After(TState state, TEvent happened) => moves.TryGetValue((state, happened), out var next) ? next : null;

    public bool Allows(TState state, TEvent happened) => moves.ContainsKey((state, happened));

    /// <exception cref="InvalidOperationException">The state does not allow the event.</exception>
    public TState Next(TState state, TEvent happened) =>
        After(state, happened)
        ?? throw new InvalidOperationException($"{char.ToUpperInvariant(what[0])}{what[1..]} that is {state} cannot {happened}.");
}
