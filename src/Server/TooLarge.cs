using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.Features;

namespace AtticLedger.Server;

/// <summary>A body that is larger than an endpoint takes, or broken off, is said as such; it is no fault of the product.</summary>
internal sealed class TooLarge(IProblemDetailsService problems) : IExceptionHandler
{
    public ValueTask<bool> TryHandleAsync(HttpContext context, Exception exception, CancellationToken stop)
    {
        if (exception is not BadHttpRequestException bad)
        {
            return ValueTask.FromResult(false);
        }

        var most = context.Features.Get<IHttpMaxRequestBodySizeFeature>()?.MaxRequestBodySize;
        context.Response.StatusCode = bad.StatusCode;
        return problems.TryWriteAsync(
            new ProblemDetailsContext
            {
                HttpContext = context,
                ProblemDetails =
                {
                    Status = bad.StatusCode,
                    Title =
                        bad.StatusCode == StatusCodes.Status413PayloadTooLarge && most is not null
                            ? $"This is larger than {most / 1024 / 1024} MB, the most that is taken here. Send it in parts."
                            : bad.Message,
                },
            }
        );
    }
}
