using AtticLedger.Server.Work;

namespace AtticLedger.Server.Identity;

/// <summary>Who is signed in, what they may do, and refused attempts.</summary>
public sealed class IdentityRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<SignIn>();
        services.AddSingleton<Refusals>();
        services.AddLedgerPolicies();
    }

    public override IEnumerable<ScheduledWork> Jobs(Settings settings) =>
        [
            // Refused sign-ins of a minute are one entry.
            new("refusals", TimeSpan.FromMinutes(1), (services, _) => services.GetRequiredService<Refusals>().Gather()),
        ];
}
