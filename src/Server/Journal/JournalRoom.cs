using AtticLedger.Server.Work;

namespace AtticLedger.Server.Journal;

/// <summary>The journal.</summary>
public sealed class JournalRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapJournal();
    }
}
