namespace AtticLedger.Server;

/// <summary>The character NUL, which no text of the database can hold, is refused in an address with a sentence. In bodies the database finds it.</summary>
/// <seealso cref="Busy"/>
public sealed class NoNul(RequestDelegate next, IProblemDetailsService problems)
{
    internal const string Words = "There is a NUL character in it, which no name, word or address has. Take it out.";

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
