using AtticLedger.Server.Work;

namespace AtticLedger.Server.People;

/// <summary>People, and lists of them.</summary>
public sealed class PeopleRoom : Room
{
    public override void Services(IServiceCollection services, Settings settings)
    {
        services.AddSingleton<PeopleImportActions>();
    }

    public override void Endpoints(IEndpointRouteBuilder app)
    {
        app.MapPeople();
        app.MapGroups();
        app.MapPeopleLists();
        app.MapPeopleListUndo();
    }
}
