using AtticLedger.Server.Work;

namespace AtticLedger.Server.Desk;

/// <summary>The decisions of the day.</summary>
public sealed class DeskRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapDesk();
    }
}
