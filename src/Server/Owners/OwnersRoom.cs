using AtticLedger.Server.Work;

namespace AtticLedger.Server.Owners;

/// <summary>Owners, handing over, and offers.</summary>
public sealed class OwnersRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapOffers();
        app.MapKeys();
        app.MapSuccessors();
    }
}
