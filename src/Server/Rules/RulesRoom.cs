using AtticLedger.Server.Work;

namespace AtticLedger.Server.Rules;

/// <summary>The rule book: its numbers, rules that are tried out and written, and the book as a file.</summary>
public sealed class RulesRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapRules();
        app.MapRuleSentence();
        app.MapRuleFiles();
    }
}
