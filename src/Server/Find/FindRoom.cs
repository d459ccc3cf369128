using AtticLedger.Server.Work;

namespace AtticLedger.Server.Find;

/// <summary>Finding sites, people and pages by a few letters.</summary>
public sealed class FindRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapFind();
    }
}
