using AtticLedger.Server.Work;

namespace AtticLedger.Server.Register;

/// <summary>The register, the page of a site, and views.</summary>
public sealed class RegisterRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapRegister();
        app.MapTree();
        app.MapLeftOut();
        app.MapViews();
    }
}
