using AtticLedger.Server.Work;

namespace AtticLedger.Server.Attic;

/// <summary>Moving sites to the attic and back, and holds.</summary>
public sealed class AtticRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapAttic();
    }
}
