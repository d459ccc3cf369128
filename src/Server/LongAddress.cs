namespace AtticLedger.Server;

/// <summary>An address that is too long is refused with a sentence that says what to do (414; RFC 9110, section 15.5.15).</summary>
public sealed class LongAddress(RequestDelegate next, IProblemDetailsService problems)
{
    /// <summary>What proxies and browsers on the way let through for certain.</summary>
    internal const int Longest = 8000;

    /// <summary>What the server reads at all, so that it can say so.</summary>
    internal const int LongestRead = 64 * 1024;

    public async Task InvokeAsync(HttpContext context)
    {
        var length = context.Request.Path.Value?.Length + context.Request.QueryString.Value?.Length;
        if (length > Longest)
        {
            context.Response.StatusCode = StatusCodes.Status414UriTooLong;
            await problems.WriteAsync(
                new ProblemDetailsContext
                {
                    HttpContext = context,
                    ProblemDetails =
                    {
                        Status = StatusCodes.Status414UriTooLong,
                        Title = $"The address has {length} characters; {Longest} are the most.",
                        Detail =
                            "A shorter filter finds the same more often than not: name a part or an attribute, not every site by itself.",
                    },
                }
            );
            return;
        }

        await next(context);
    }
}
