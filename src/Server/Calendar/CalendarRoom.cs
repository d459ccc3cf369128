using AtticLedger.Server.Work;

namespace AtticLedger.Server.Calendar;

/// <summary>Deadlines as a page and as a calendar.</summary>
public sealed class CalendarRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapCalendar();
    }
}
