using AtticLedger.Server.Work;

namespace AtticLedger.Server.Rules;

/// <summary>The rule book with its numbers, and rules that are tried out.</summary>
public sealed class RulesRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app) => app.MapRules();
}
