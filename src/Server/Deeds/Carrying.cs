using System.Text.Json;
using AtticLedger.Core.Deeds;
using AtticLedger.Core.Journal;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Lanes;
using AtticLedger.Server.Mail;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Deeds;

using CarryResult = Results<Ok<DeedDoneWire>, Conflict<PlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;

/// <summary>How every deed's endpoint answers: what it would come to, and what it came to.</summary>
internal static class Carrying
{
    private const int LongestKey = 200;

    public static async Task<Results<Ok<PreviewWire>, ProblemHttpResult>> PlanOf(this DeedDesk desk, WishedDeed wished) =>
        await desk.Preview(wished) switch
        {
            DeedResult.Planned(var plan, var facts, _) => TypedResults.Ok(new PreviewWire(PlanWire.Of(plan, facts), [])),
            DeedResult.Refused(var reasons) => TypedResults.Ok(new PreviewWire(null, reasons)),
            _ => NotThere(),
        };

    /// <param name="wish">What was sent: the same under the same key is done once.</param>
    public static async Task<CarryResult> Carry<TWish>(
        this DeedDesk desk,
        WishedDeed wished,
        string fingerprint,
        string? key,
        TWish wish,
        HttpContext context
    )
    {
        if (key is not { Length: > 0 and <= LongestKey })
        {
            return TypedResults.Problem(
                statusCode: 400,
                title: "The header Idempotency-Key is missing or too long.",
                detail: $"Send a key of your own for this deed, {LongestKey} characters at the most."
            );
        }

        var requestHash = Head.HashOf($"{context.Request.Path} {JsonSerializer.Serialize(wish)}");
        return Answer(await desk.Carry(Viewer.Of(context), wished, fingerprint, key, requestHash), context);
    }

    /// <summary>A deed in which there is nothing to choose: what it comes to is not previewed first.</summary>
    public static async Task<CarryResult> CarryAtOnce<TWish>(
        this DeedDesk desk,
        WishedDeed wished,
        string? key,
        TWish wish,
        HttpContext context
    ) =>
        await desk.Carry(
            wished,
            await desk.Preview(wished) is DeedResult.Planned(var plan, _, _) ? plan.Fingerprint : "",
            key,
            wish,
            context
        );

    public static CarryResult Answer(DeedResult result, HttpContext context)
    {
        switch (result)
        {
            case DeedResult.Done(var place, var order, var offer, var approval):
                SheetAt.Say(context, place);
                Wake(context);
                return TypedResults.Ok(new DeedDoneWire(place, order, offer, approval));
            case DeedResult.Planned(var plan, var facts, _):
                return TypedResults.Conflict(PlanWire.Of(plan, facts));
            case DeedResult.Refused(var reasons):
                return TypedResults.UnprocessableEntity(new RefusalWire(reasons));
            case DeedResult.KeyUsed:
                return TypedResults.Problem(statusCode: 422, title: "This Idempotency-Key was used for another request.");
            case DeedResult.BadLink(var fault):
                return LinkEndpoints.Problem(fault);
            default:
                return NotThere();
        }
    }

    public static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such site.");

    // NUL cannot stand in a text of the database; a reason of spaces is none.
    public static string? Reason(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Replace('\0', '\uFFFD').Trim();

    public static Doer Doer(this Viewer viewer) =>
        new(
            viewer.Person,
            viewer.Role switch
            {
                Store.Role.Administrator => Capacity.Administrator,
                Store.Role.Steward => Capacity.Steward,
                _ => Capacity.Owner,
            }
        );

    private static void Wake(HttpContext context)
    {
        var services = context.RequestServices;
        var stop = services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
        services.GetRequiredService<OrderLanes>().Wake(stop);
        services.GetRequiredService<MailRoom>().Wake(stop);
    }
}
