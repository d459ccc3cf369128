using AtticLedger.Server.Work;

namespace AtticLedger.Server.Actions;

/// <summary>Actions on a site, exceptions, questions to owners, and the agreement of a second person.</summary>
public sealed class ActionsRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapActions();
        app.MapExceptions();
        app.MapQuestions();
        app.MapApprovals();
    }
}
