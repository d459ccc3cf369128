using AtticLedger.Server.Work;

namespace AtticLedger.Server.YourSites;

/// <summary>The sites of somebody who owns some.</summary>
public sealed class YourSitesRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapYours();
    }
}
