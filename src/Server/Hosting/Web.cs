using Microsoft.Extensions.FileProviders;

namespace AtticLedger.Server.Hosting;

/// <summary>The built web application: its files, and its page for every address outside the API.</summary>
internal static class Web
{
    public static void UseWeb(this WebApplication app, Settings settings)
    {
        if (settings.Web is { } folder)
        {
            app.UseStaticFiles(
                new StaticFileOptions
                {
                    FileProvider = new PhysicalFileProvider(Path.GetFullPath(folder)),
                    // File names contain a hash of the content, so they can be cached forever.
                    OnPrepareResponse = file =>
                        file.Context.Response.Headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets")
                            ? "public, max-age=31536000, immutable"
                            : "no-cache",
                }
            );
        }
    }

    public static void MapWeb(this WebApplication app, Settings settings)
    {
        app.MapFallback("/api/{**rest}", () => TypedResults.Problem(statusCode: 404, title: "There is no page at this address."))
            .AllowAnonymous()
            .ExcludeFromDescription();
        if (settings.Web is { } folder)
        {
            var page = Path.Combine(Path.GetFullPath(folder), "index.html");
            app.MapFallback(() => TypedResults.PhysicalFile(page, "text/html; charset=utf-8"))
                .AllowAnonymous()
                .ExcludeFromDescription();
        }
    }
}
