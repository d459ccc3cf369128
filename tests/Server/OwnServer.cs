using AtticLedger.Store;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace AtticLedger.Server.Tests;

/// <summary>Tests that change who may do what: on a server and a database of their own, which has read the staff list.</summary>
public abstract class OwnServer(Installation installation) : IAsyncLifetime
{
    private protected readonly Installation here = installation;
    private protected WebApplication server = null!;
    private protected Uri address = null!;

    private protected Database Database => server.Services.GetRequiredService<Database>();

    public virtual async ValueTask InitializeAsync() => (server, address) = await here.Beside();

    public async ValueTask DisposeAsync() => await here.Leave(server);
}
