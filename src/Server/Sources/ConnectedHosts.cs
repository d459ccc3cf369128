using AtticLedger.Hosts;
using Microsoft.Extensions.Http.Resilience;
using Polly;

namespace AtticLedger.Server.Sources;

/// <summary>The hosts and the staff list that the settings connect.</summary>
internal static class ConnectedHosts
{
    // Reading a host with 40,000 sites takes thousands of requests; one that fails for a moment is asked again.
    private const int Retries = 2;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan AddressesChange = TimeSpan.FromMinutes(5);
    private static readonly TimeSpan FirstPause = TimeSpan.FromMilliseconds(250);

    public static void AddHosts(this IServiceCollection services, Settings settings)
    {
        foreach (var host in settings.Hosts)
        {
            var kind = HostKind.Find(host.Kind)!;
            services.AddClient(host.Name, new Uri(host.Address!, kind.Path), host.Token);
            services.AddSingleton(provider =>
                kind.Connect(
                    new HostConnection(
                        host.Name,
                        provider.GetRequiredService<IHttpClientFactory>().CreateClient(host.Name),
                        host.Prefix
                    )
                )
            );
        }

        if (settings.StaffList is { } list)
        {
            services.AddClient(StaffList.SourceName, new Uri(list, "/scim/v2/"), settings.StaffListToken);
            services.AddSingleton(provider => new StaffList(
                provider.GetRequiredService<IHttpClientFactory>().CreateClient(StaffList.SourceName)
            ));
        }
    }

    // A connector knows faults of HTTP, and nothing of how requests are tried again.
    private sealed class RejectionsAreFaults : DelegatingHandler
    {
        protected override async Task<HttpResponseMessage> SendAsync(
            HttpRequestMessage request,
            CancellationToken cancellationToken
        )
        {
            try
            {
                return await base.SendAsync(request, cancellationToken);
            }
            catch (ExecutionRejectedException rejected)
            {
                throw new HttpRequestException(rejected.Message, rejected);
            }
        }
    }

    /// <summary>A client with the standard resilience handler. Only reading is tried again here: whether a change is sent again is
    /// decided by its queue, which knows whether the host recognises it.</summary>
    private static void AddClient(this IServiceCollection services, string name, Uri address, string token) =>
        services
            .AddHttpClient(name, http =>
            {
                http.BaseAddress = address;
                http.Timeout = Patience;
                http.DefaultRequestHeaders.Add("Authorization", $"Bearer {token}");
            })
            .UseSocketsHttpHandler((handler, _) => handler.PooledConnectionLifetime = AddressesChange)
            .SetHandlerLifetime(Timeout.InfiniteTimeSpan)
            .AddHttpMessageHandler(() => new RejectionsAreFaults())
            .AddStandardResilienceHandler(resilience =>
            {
                resilience.AttemptTimeout.Timeout = Patience;
                resilience.TotalRequestTimeout.Timeout = 2 * Patience;
                resilience.Retry.MaxRetryAttempts = Retries;
                resilience.Retry.Delay = FirstPause;
                resilience.Retry.BackoffType = DelayBackoffType.Exponential;
                // The connector waits as long as a host asks it to.
                resilience.Retry.ShouldHandle = arguments =>
                    ValueTask.FromResult(
                        HttpClientResiliencePredicates.IsTransient(arguments.Outcome)
                            && arguments.Outcome.Result is not { StatusCode: System.Net.HttpStatusCode.TooManyRequests }
                    );
                resilience.Retry.DisableForUnsafeHttpMethods();
                resilience.CircuitBreaker.SamplingDuration = 2 * Patience;
            });
}
