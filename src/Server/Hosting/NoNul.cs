namespace AtticLedger.Server.Hosting;

/// <summary>Refuses the character NUL, which the database cannot store, in addresses. In bodies the database finds it.</summary>
/// <seealso cref="Busy"/>
public sealed class NoNul(RequestDelegate next, IProblemDetailsService problems)
{
    internal const string Words = "The text has a NUL character. Remove it.";

    public async Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        if (
            request.Path.Value?.Contains('\0', StringComparison.Ordinal) == true
            || request.Query.Any(pair =>
                pair.Key.Contains('\0', StringComparison.Ordinal)
                || pair.Value.Any(value => value?.Contains('\0', StringComparison.Ordinal) == true)
            )
        )
        {
            context.Response.StatusCode = StatusCodes.Status400BadRequest;
            await problems.WriteAsync(
                new ProblemDetailsContext
                {
                    HttpContext = context,
                    ProblemDetails = { Status = StatusCodes.Status400BadRequest, Title = Words },
                }
            );
            return;
        }

        await next(context);
    }
}
