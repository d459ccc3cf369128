namespace AtticLedger.Server.Hosting;

/// <summary>The strict content policy: only own files, no inline script or style, no framing.</summary>
public sealed class SecurityHeaders(RequestDelegate next)
{
    private const string ContentPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

    public Task InvokeAsync(HttpContext context)
    {
        // At the last moment, because error handlers clear earlier headers.
        context.Response.OnStarting(() =>
        {
            Set(context);
            return Task.CompletedTask;
        });
        return next(context);
    }

    private static void Set(HttpContext context)
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = ContentPolicy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        if (context.Request.Path.StartsWithSegments("/api"))
        {
            headers.CacheControl = "no-store";
        }
    }
}
