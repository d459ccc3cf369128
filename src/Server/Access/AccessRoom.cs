using AtticLedger.Server.Work;

namespace AtticLedger.Server.Access;

/// <summary>Who gets in, why, and what would change it.</summary>
public sealed class AccessRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapWhy();
        app.MapLimits();
        app.MapMatrix();
    }
}
