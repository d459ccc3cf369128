using AtticLedger.Server.Work;

namespace AtticLedger.Server.Reports;

/// <summary>Reports.</summary>
public sealed class ReportsRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapReports();
    }
}
