using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Tests that change permissions, on their own server and database with the staff list.</summary>
public abstract class OwnServer(Installation installation) : IAsyncLifetime
{
    private protected readonly Installation here = installation;
    private protected WebApplication server = null!;
    private protected Uri address = null!;

    private protected Database Database => server.Services.GetRequiredService<Database>();

    public virtual async ValueTask InitializeAsync() => (server, address) = await here.Beside();

    public async ValueTask DisposeAsync() => await here.Leave(server);
}
