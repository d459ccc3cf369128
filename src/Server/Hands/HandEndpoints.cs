using AtticLedger.Core.Deeds;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Lanes;
using AtticLedger.Server.Mail;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Npgsql;

namespace AtticLedger.Server.Hands;

using StepResult = Results<Ok<HandOrderWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>;

/// <summary>Orders that people carry out: looked at, done with proof, refused, checked, handed on, called back.</summary>
internal static class HandEndpoints
{
    private const int LargestPicture = 4 * 1024 * 1024;
    private static readonly TimeSpan Lately = TimeSpan.FromDays(14);
    private static readonly (string Type, byte[] Begins)[] Pictures =
    [
        ("image/png", [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A]),
        ("image/jpeg", [0xFF, 0xD8, 0xFF]),
    ];

    public static void MapByHand(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/by-hand", List)
            .WithTags("By hand")
            .RequireAuthorization(Policies.Read)
            .WithName("handOrders")
            .WithSummary("Orders by hand that concern the viewer: to be done, to be seen, and those that ended of late.");
        var read = app.MapGroup("/api/by-hand/{order:guid}").WithTags("By hand").RequireAuthorization(Policies.Read);
        var api = app.MapGroup("/api/by-hand/{order:guid}").WithTags("By hand").RequireAuthorization(Policies.Act);
        read.MapGet("", Look).WithName("handOrder").WithSummary("An order by hand: what is to be so, the steps, how far it is.");
        read.MapGet("/picture", Picture).WithName("handPicture").WithSummary("The picture that shows what was done.");
        api.MapPut("/picture", SetPicture)
            .Accepts<byte[]>("image/png", "image/jpeg")
            .WithMetadata(new RequestSizeLimitAttribute(LargestPicture))
            .WithName("setHandPicture")
            .WithSummary("Adds a picture, PNG or JPEG, before it is said to be done.");
        api.MapPost("/done", Done)
            .WithName("handDone")
            .WithSummary("Says that it is done; it is seen by the next list or by a second person.");
        api.MapPost("/cannot", Cannot).WithName("handCannot").WithSummary("Says that it cannot be done, and why.");
        api.MapPost("/check", Check)
            .WithName("handCheck")
            .WithSummary("A second person says that they looked, and whether it is so; if not, it goes back.");
        api.MapPost("/hand-on", HandOn).WithName("handOn").WithSummary("Hands it on to somebody else.");
        api.MapPost("/call-back", CallBack).WithName("handCallBack").WithSummary("Calls it back: it is no longer to be done.");
    }

    private static async Task<Ok<IReadOnlyList<HandLineWire>>> List(HttpContext context, LedgerSheet sheet, Database database)
    {
        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var viewer = Viewer.Of(context);
        var seen = state.Seen(viewer.SightOn(state.Roll));
        var (orders, sites) = await database.Read(async connection =>
        {
            var concerned = (await connection.HandOrdersSince(database.Now - Lately))
                .Where(pair => Concerns(pair.Order, pair.Hand, viewer) || seen.Find(pair.Order.Site) is not null)
                .ToList();
            return (
                concerned,
                (
                    await connection.Sites(new Sight.Everything(), [.. concerned.Select(pair => pair.Order.Site).Distinct()])
                ).ToDictionary(site => site.Id)
            );
        });
        return TypedResults.Ok<IReadOnlyList<HandLineWire>>([
            .. orders
                .OrderBy(pair => pair.Order.State)
                .ThenBy(pair => pair.Hand.Through)
                .Select(pair => Line(pair.Order, pair.Hand, sites[pair.Order.Site], state.Roll, database.Now)),
        ]);
    }

    private static async Task<Results<Ok<HandOrderWire>, ProblemHttpResult>> Look(
        Guid order,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await Found(new OrderId(order), Viewer.Of(context), connection, database.Rolls, database.Now) is { } found
                ? (Results<Ok<HandOrderWire>, ProblemHttpResult>)TypedResults.Ok(found.Wire())
                : NotThere()
        );

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Picture(
        Guid order,
        HttpContext context,
        Database database
    ) =>
        await database.Read(async connection =>
            await Found(new OrderId(order), Viewer.Of(context), connection, database.Rolls, database.Now) is { } found
            && await connection.Picture(found.Order.Id) is { } picture
                ? (Results<FileContentHttpResult, ProblemHttpResult>)TypedResults.File(picture.Bytes, picture.Type)
                : NotThere()
        );

    private static async Task<StepResult> SetPicture(Guid order, HttpContext context, Database database)
    {
        using var bytes = new MemoryStream();
        await context.Request.Body.CopyToAsync(bytes, context.RequestAborted);
        var picture = bytes.ToArray();
        if (Array.Find(Pictures, kind => picture.AsSpan().StartsWith(kind.Begins)).Type is not { } type)
        {
            return TypedResults.Problem(statusCode: 422, title: "This is no picture that can be kept: choose a PNG or a JPEG.");
        }

        return await Change(order, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(
                    found.Order.State == OrderState.Sent
                        ? "Only whoever it was given to adds a picture."
                        : "It is not to be done any more."
                );
            }

            await change.SetPicture(found.Order.Id, new ProofPicture(type, picture));
            return null;
        });
    }

    private static Task<StepResult> Done(Guid order, HandDoneWire wish, HttpContext context, Database database) =>
        Change(order, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(NotToDo(found));
            }

            if (TooLong(wish.Proof) is { } fault)
            {
                return fault;
            }

            // A picture that was there before it came back shows nothing of what was done since.
            if (Carrying.Reason(wish.Proof) is null && (!found.Hand.HasPicture || found.Hand.Returned > 0))
            {
                return Refused(
                    found.Hand.Returned > 0
                        ? "It came back, so say what you did since and how it can be seen."
                        : "Say what you did and how it can be seen, or add a picture."
                );
            }

            var step = ByHand.Done(
                found.Order,
                found.Hand,
                found.Site,
                found.Viewer.Person,
                Carrying.Reason(wish.Proof),
                change.Now
            );
            await change.Keep(step, found.Roll.Time, "done", found.Viewer.InJournal);
            await OrderLanes.End(change, step.Order, step.Site!, found.Viewer.InJournal);
            return null;
        });

    private static Task<StepResult> Cannot(Guid order, HandWordsWire wish, HttpContext context, Database database) =>
        Change(order, context, database, async (found, change) =>
        {
            if (!found.MayDo)
            {
                return Refused(NotToDo(found));
            }

            if (TooLong(wish.Words) is { } fault)
            {
                return fault;
            }

            if (Carrying.Reason(wish.Words) is not { } words)
            {
                return Refused("Say why it cannot be done: whoever asked reads it.");
            }

            var step = ByHand.Cannot(found.Order, found.Hand, found.Site, found.Viewer.Person, words, found.Roll);
            await change.Keep(step, found.Roll.Time, "cannot", found.Viewer.InJournal);
            await OrderLanes.End(change, step.Order, found.Site, found.Viewer.InJournal);
            return null;
        });

    private static Task<StepResult> Check(Guid order, HandCheckWire wish, HttpContext context, Database database) =>
        Change(order, context, database, async (found, change) =>
        {
            if (found.NoCheck is { } why)
            {
                return Refused(why);
            }

            if (wish.IsSo)
            {
                var seen = ByHand.Checked(found.Order, found.Hand, found.Viewer.Person, change.Now);
                await change.Keep(seen, found.Roll.Time, "seen", found.Viewer.InJournal);
                return null;
            }

            if (TooLong(wish.Words) is { } fault)
            {
                return fault;
            }

            if (Carrying.Reason(wish.Words) is not { } words)
            {
                return Refused("Say what you found: whoever did it reads it.");
            }

            var back = ByHand.NotSo(found.Order, found.Hand, found.Site, found.Viewer.Person, words, found.Roll);
            var entry = await change.KeepAllBut(back, found.Roll.Time, "returned", found.Viewer.InJournal);
            var stay = (await change.Connection.LatestStays([found.Site.Id])).GetValueOrDefault(found.Site.Id);
            await change.Keep(
                Aftermath.GivenBack(
                    back.Order,
                    back.Site!,
                    stay,
                    await change.Connection.OfferOfOrder(back.Order.Id),
                    change.Now
                ),
                found.Roll.Time,
                [entry]
            );
            return null;
        });

    private static Task<StepResult> HandOn(Guid order, HandOnWire wish, HttpContext context, Database database) =>
        Change(order, context, database, async (found, change) =>
        {
            if (!found.MayHandOn)
            {
                return Refused(NotToDo(found));
            }

            if (!found.Roll.ByMail.TryGetValue(wish.To.Trim().ToLowerInvariant(), out var to) || !found.Roll.IsHere(to))
            {
                return Refused($"Nobody of the staff has the mail address {wish.To.Trim()}.");
            }

            if (to == found.Hand.To)
            {
                return Refused("They have it already.");
            }

            await change.Keep(
                ByHand.HandOn(found.Order, found.Hand, found.Site, to, found.Viewer.Person, found.Roll),
                found.Roll.Time,
                "handed-on",
                found.Viewer.InJournal
            );
            return null;
        });

    private static Task<StepResult> CallBack(Guid order, HandWordsWire wish, HttpContext context, Database database) =>
        Change(order, context, database, async (found, change) =>
        {
            if (!found.MayCallBack)
            {
                return Refused(
                    found.Order.State == OrderState.Sent
                        ? "Whoever asked calls it back, or an administrator."
                        : "It is not to be done any more."
                );
            }

            if (TooLong(wish.Words) is { } fault)
            {
                return fault;
            }

            var step = ByHand.CallBack(
                found.Order,
                found.Hand,
                found.Site,
                found.Viewer.Person,
                Carrying.Reason(wish.Words),
                found.Roll
            );
            await change.Keep(step, found.Roll.Time, "called-back", found.Viewer.InJournal);
            await OrderLanes.End(change, step.Order, found.Site, found.Viewer.InJournal);
            return null;
        });

    /// <param name="step">Carries it out, or says why not.</param>
    private static async Task<StepResult> Change(
        Guid order,
        HttpContext context,
        Database database,
        Func<Concerned, Change, Task<StepResult?>> step
    )
    {
        var viewer = Viewer.Of(context);
        var result = await database.Change<StepResult>(async change =>
        {
            if (await Found(new OrderId(order), viewer, change.Connection, change.Rolls, change.Now) is not { } found)
            {
                return NotThere();
            }

            if (await step(found, change) is { } refused)
            {
                return refused;
            }

            SheetAt.Say(context, (await change.Connection.JournalHead()).Number);
            return TypedResults.Ok(
                (await Found(new OrderId(order), viewer, change.Connection, change.Rolls, change.Now))!.Wire()
            );
        });
        if (result.Result is Ok<HandOrderWire>)
        {
            var stop = context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
            context.RequestServices.GetRequiredService<OrderLanes>().Wake(stop);
            context.RequestServices.GetRequiredService<MailRoom>().Wake(stop);
        }

        return result;
    }

    private static async Task<Concerned?> Found(
        OrderId id,
        Viewer viewer,
        NpgsqlConnection connection,
        Rolls rolls,
        DateTimeOffset now
    )
    {
        if (await connection.HandOrder(id) is not { } hand || await connection.Order(id) is not { } order)
        {
            return null;
        }

        var roll = await rolls.Of(connection, now, await connection.HouseTime());
        var site = (await connection.Sites(new Sight.Everything(), [order.Site])).Single();
        var sees = viewer.SightOn(roll).Sees(site);
        return sees || Concerns(order, hand, viewer) ? new Concerned(order, hand, site, roll, viewer, sees) : null;
    }

    private static bool Concerns(Order order, HandOrder hand, Viewer viewer) =>
        hand.To == viewer.Person || order.By == viewer.Person;

    private static HandLineWire Line(Order order, HandOrder hand, SiteFacts site, Roll roll, DateTimeOffset now) =>
        new(
            order.Id.Value,
            site.Title,
            site.Host,
            order.State,
            order.Purpose,
            ByHand.Wanted(order, roll),
            PersonWire.Of(hand.To, roll),
            PersonWire.Of(order.By, roll),
            hand.Through,
            order.IsOverdue(now),
            hand.Returned
        );

    private static string NotToDo(Concerned found) =>
        found.Order.State == OrderState.Sent
            ? $"It was given to {found.Roll.Find(found.Hand.To)?.Name}. Have it handed on to you first."
            : "It is not to be done any more.";

    private static StepResult? TooLong(string? text) =>
        text?.Length > HandOrder.LongestText
            ? Refused($"What you say has {text.Length} characters; {HandOrder.LongestText} is the most.")
            : null;

    private static StepResult Refused(string reason) => TypedResults.UnprocessableEntity(new RefusalWire([reason]));

    private static ProblemHttpResult NotThere() => TypedResults.Problem(statusCode: 404, title: "There is no such order.");

    /// <summary>An order by hand with what the viewer may do about it.</summary>
    private sealed record Concerned(Order Order, HandOrder Hand, SiteFacts Site, Roll Roll, Viewer Viewer, bool SeesSite)
    {
        private bool Answers => Viewer.Role == Role.Administrator || (Viewer.Role == Role.Steward && SeesSite);

        private bool IsWithPerson => Viewer.MayAct && Order.State == OrderState.Sent;

        public bool MayDo => IsWithPerson && (Hand.To == Viewer.Person || Viewer.Role == Role.Administrator);

        public bool MayHandOn => IsWithPerson && (Hand.To == Viewer.Person || Answers);

        public bool MayCallBack => IsWithPerson && (Order.By == Viewer.Person || Answers);

        public string? NoCheck =>
            ByHand.NoCheck(Order, Hand, Viewer.Person)
            ?? (Viewer.MayAct && SeesSite ? null : "Only who may act on this site looks whether it is so.");

        public HandOrderWire Wire() =>
            new(
                Line(Order, Hand, Site, Roll, Roll.Now),
                SeesSite ? Site.Id.Value : null,
                Site.Address.Has(out var address) ? address : null,
                Site.HostKey,
                Order.Reason,
                Order.AskedAt,
                Hand.GivenAt,
                Hand.Steps,
                Hand.Account,
                Hand.Support,
                Order.Words,
                Hand.DoneBy is { } doer ? PersonWire.Of(doer, Roll) : null,
                Order.ConfirmedAt,
                Hand.Proof,
                Hand.HasPicture,
                Hand.CheckedBy is { } other ? PersonWire.Of(other, Roll) : null,
                Order.SeenAt,
                MayDo,
                NoCheck is null,
                Order.State == OrderState.Confirmed ? NoCheck : null,
                MayHandOn,
                MayCallBack
            );
    }
}
