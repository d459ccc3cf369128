using AtticLedger.Server.Work;

namespace AtticLedger.Server.Guests;

/// <summary>People from outside: who they are, what they have, and inviting them.</summary>
public sealed class GuestsRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings) => services.AddWorker<InvitationRunner>();

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapInvitations();
        app.MapGuests();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [new("invitations", TimeSpan.FromSeconds(5), (services, _) =>
            {
                services
                    .GetRequiredService<WakeUps>()
                    .Wake(services.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping, WorkKind.Invitations);
                return Task.CompletedTask;
            })];
}
