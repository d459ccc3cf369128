using AtticLedger.Hosts;

namespace AtticLedger.Server.Sources;

/// <summary>The hosts and the staff list that the settings connect.</summary>
internal static class ConnectedHosts
{
    public static void AddHosts(this IServiceCollection services, Settings settings)
    {
        if (settings.Slipway is { } slipway)
        {
            services.AddSingleton<ISiteHost>(_ => new SlipwayHost(Client(new Uri(slipway, "/api/"), settings.SlipwayToken)));
        }

        if (settings.Lantern is { } lantern)
        {
            services.AddSingleton<ISiteHost>(_ => new LanternHost(Client(new Uri(lantern, "/v1/"), settings.LanternToken)));
        }

        if (settings.Quay is { } quay)
        {
            services.AddSingleton<ISiteHost>(_ => new QuayHost(Client(new Uri(quay, "/quay/"), settings.QuayToken)));
        }

        if (settings.StaffList is { } list)
        {
            services.AddSingleton(_ => new StaffList(Client(new Uri(list, "/scim/v2/"), settings.StaffListToken)));
        }
    }

    private static HttpClient Client(Uri address, string token) =>
        new()
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromSeconds(20),
            DefaultRequestHeaders = { { "Authorization", $"Bearer {token}" } },
        };
}
