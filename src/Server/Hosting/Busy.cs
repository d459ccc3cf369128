using AtticLedger.Server.Identity;
using AtticLedger.Store;
using Microsoft.AspNetCore.Diagnostics;
using Npgsql;

namespace AtticLedger.Server.Hosting;

/// <summary>Turns errors into responses with a remedy: a conflict, a database that is away, a person who has left, an invalid
/// text.</summary>
internal sealed class Busy(IProblemDetailsService problems) : IExceptionHandler
{
    public ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken stop)
    {
        var (status, title, detail) = exception switch
        {
            BusyError => (StatusCodes.Status503ServiceUnavailable, exception.Message, null),
            NoLongerError => (StatusCodes.Status401Unauthorized, exception.Message, null),
            PostgresException
            {
                SqlState: PostgresErrorCodes.CharacterNotInRepertoire or PostgresErrorCodes.UntranslatableCharacter
            } => (StatusCodes.Status400BadRequest, NoNul.Words, null),
            _ when Unreachable.Is(exception) => (
                StatusCodes.Status503ServiceUnavailable,
                "The database does not answer.",
                "Nothing was done. Try again in a moment."
            ),
            _ => (0, "", (string?)null),
        };
        if (status == 0)
        {
            return ValueTask.FromResult(false);
        }

        if (status == StatusCodes.Status503ServiceUnavailable)
        {
            context.Response.Headers.RetryAfter = "5";
        }

        context.Response.StatusCode = status;
        return problems.TryWriteAsync(
            new ProblemDetailsContext
            {
                HttpContext = context,
                ProblemDetails =
                {
                    Status = status,
                    Title = title,
                    Detail = detail,
                },
            }
        );
    }
}
