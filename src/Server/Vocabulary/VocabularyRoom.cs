using AtticLedger.Server.Work;

namespace AtticLedger.Server.Vocabulary;

/// <summary>The words of the organisation, and limits that come with them.</summary>
public sealed class VocabularyRoom : Room
{
    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapVocabulary();
    }
}
