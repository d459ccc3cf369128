namespace AtticLedger.Server.Work;

/// <summary>A part of the server, a folder: it adds its own services, endpoints and jobs, and is found by being there.</summary>
public abstract class Room
{
    /// <summary>Every room of this server, by name.</summary>
    public static IReadOnlyList<Room> All { get; } =
    [
        .. typeof(Room)
            .Assembly.GetTypes()
            .Where(type => type is { IsAbstract: false } && type.IsSubclassOf(typeof(Room)))
            .OrderBy(type => type.Name, StringComparer.Ordinal)
            .Select(type => (Room)Activator.CreateInstance(type)!),
    ];

    public virtual void Services(IServiceCollection services, Settings settings) { }

    /// <summary>What runs beside requests, in a server that keeps a schedule.</summary>
    public virtual void Background(IServiceCollection services) { }

    public virtual void Endpoints(IEndpointRouteBuilder app) { }

    public virtual IEnumerable<ScheduledWork> Jobs(Settings settings) => [];
}
