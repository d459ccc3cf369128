using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Looks;

using KeptResult = Results<Ok<PictureKept>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>Pictures for logos: sent by a browser, or fetched from an address. Only what was encoded again here is kept.</summary>
internal static class PictureEndpoints
{
    public static void MapPictures(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/pictures").WithTags("Name, logo and address");
        api.MapGet("/{hash}", Show)
            .RequireAuthorization(Policies.Read)
            .WithName("picture")
            .WithSummary("A picture that is kept here, as PNG.");
        api.MapPut("", Send)
            .Accepts<byte[]>("image/png", "image/jpeg", "image/gif", "image/webp")
            .WithMetadata(new RequestSizeLimitAttribute(PictureCodec.MostBytes))
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.PictureKeep)
            .WithName("sendPicture")
            .WithSummary("Keeps a picture for a logo: PNG, JPEG, GIF or WebP of at most 2 MB.");
        api.MapPost("/fetch", Fetch)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.PictureFetch)
            .WithName("fetchPicture")
            .WithSummary(
                "Fetches a picture from an address of the public network and keeps it: at most 2 MB, in 10 seconds, after at most 3 redirects."
            );
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Show(
        string hash,
        HttpContext context,
        Database database
    )
    {
        if (await database.Read(connection => connection.LogoPicture(hash)) is not { } png)
        {
            return ActionEndpoint.NotThere("picture");
        }

        context.Response.Headers.CacheControl = "private, max-age=86400, immutable";
        return TypedResults.File(png, "image/png");
    }

    private static async Task<KeptResult> Send(HttpContext context, CancellationToken stop)
    {
        using var bytes = new MemoryStream();
        await context.Request.Body.CopyToAsync(bytes, stop);
        return await Keep(ActionName.PictureKeep, bytes.ToArray(), context);
    }

    private static async Task<KeptResult> Fetch(FetchPictureRequest request, HttpContext context, PictureFetcher fetcher)
    {
        var fetched = await fetcher.Fetch(request.Address.Trim(), context.RequestAborted);
        return fetched.Fault is { } fault ? Refuse(fault) : await Keep(ActionName.PictureFetch, fetched.Bytes, context);
    }

    private static async Task<KeptResult> Keep(ActionName name, byte[] bytes, HttpContext context)
    {
        var (picture, fault) = PictureCodec.Read(bytes);
        return picture is null
            ? Refuse(fault!)
            : await context.Carry(new KeepPicture(name, picture, Viewer.Of(context)), null, new { picture.Hash }, plan =>
                Task.FromResult(plan.Hash)
            );
    }

    private static UnprocessableEntity<RefusalResponse> Refuse(string fault) =>
        TypedResults.UnprocessableEntity(RefusalResponse.Of(new PictureRefused(fault)));
}

/// <summary>Keeps a picture that was encoded again here.</summary>
internal sealed class KeepPicture(ActionName name, LogoPicture picture, Viewer viewer) : RequestedAction<LogoPicture, PictureKept>
{
    public override ActionName Name => name;

    public override Task<Decided<LogoPicture>> Decide(FactReader facts) =>
        Task.FromResult<Decided<LogoPicture>>(new Decided<LogoPicture>.Planned(picture, picture.Hash));

    public override async Task<Written<PictureKept>> Write(Change change, LogoPicture plan)
    {
        await change.Put(plan, viewer.Person);
        return new Written<PictureKept>(await change.AppendOrHead([]), new PictureKept(plan.Hash, plan.Width, plan.Height));
    }
}
