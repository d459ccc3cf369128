namespace AtticLedger.Server.Hosting;

/// <summary>Too long an address is refused with the remedy (414; RFC 9110, section 15.5.15).</summary>
public sealed class LongAddress(RequestDelegate next, IProblemDetailsService problems)
{
    /// <summary>The length that proxies and browsers certainly support.</summary>
    internal const int Longest = 8000;

    /// <summary>The length that the server reads at all, so that it can respond.</summary>
    internal const int LongestSync = 64 * 1024;

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
                        Title = $"The address has {length} characters; the maximum is {Longest}.",
                        Detail = "Use a shorter filter: filter by an attribute instead of naming every site.",
                    },
                }
            );
            return;
        }

        await next(context);
    }
}
