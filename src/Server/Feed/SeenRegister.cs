using AtticLedger.Core.Rules;
using AtticLedger.Server.Identity;

namespace AtticLedger.Server.Feed;

/// <summary>The register as one request sees it: one state for the whole answer, in the viewer's scope. An endpoint that takes it as
/// a parameter says the state's place in the answer's header.</summary>
public sealed record SeenRegister(LedgerState State, Viewer Viewer)
{
    /// <summary>The rows in the viewer's scope.</summary>
    public VisibleRegister Visible => State.Seen(Viewer.ScopeOn(State.PeopleDirectory));

    /// <summary>Binds the parameter of an endpoint.</summary>
    public static async ValueTask<SeenRegister> BindAsync(HttpContext context)
    {
        var state = await context.RequestServices.GetRequiredService<LiveRegister>().Current();
        RegisterAt.Set(context, state.Place);
        return new SeenRegister(state, Viewer.Of(context));
    }
}
