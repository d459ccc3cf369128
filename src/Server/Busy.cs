using AtticLedger.Store;
using Microsoft.AspNetCore.Diagnostics;

namespace AtticLedger.Server;

/// <summary>What was too busy to be done is said, with the remedy; it is no fault of the product.</summary>
internal sealed class Busy(IProblemDetailsService problems) : IExceptionHandler
{
    public ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken stop)
    {
        if (exception is not BusyError)
        {
            return ValueTask.FromResult(false);
        }

        context.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
        return problems.TryWriteAsync(new ProblemDetailsContext
        {
            HttpContext = context,
            ProblemDetails = { Status = StatusCodes.Status503ServiceUnavailable, Title = exception.Message },
        });
    }
}
