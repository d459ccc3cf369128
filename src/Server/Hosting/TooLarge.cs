using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.Features;

namespace AtticLedger.Server.Hosting;

/// <summary>Reports a body that is too large or incomplete as such; it is not an error of the product.</summary>
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
                            ? $"The request is larger than {most / 1024 / 1024} MB. Send it in parts."
                            : bad.Message,
                },
            }
        );
    }
}
