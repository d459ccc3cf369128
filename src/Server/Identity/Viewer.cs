using System.Security.Claims;
using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Identity;

/// <summary>The signed-in person, and what they may see.</summary>
public sealed record Viewer(long Account, PersonId Person, Role Role, UnitCode? Part, Guid Session)
{
    public EntryActor InJournal => EntryActor.Of(Person);

    public bool MayAct => Role != Role.Auditor;

    /// <summary>The viewer's scope on a state of the register.</summary>
    public Scope ScopeOn(PeopleDirectory directory) =>
        Role switch
        {
            Role.Administrator or Role.Auditor => new Scope.Everything(),
            Role.Steward => new Scope.OfUnits(UnitsBelow(directory, Part!.Value)),
            _ => OwnSites(directory),
        };

    /// <summary>The sites that the viewer owns, whatever else is in their scope.</summary>
    public Scope OwnSites(PeopleDirectory directory) => OwnSites(Person, directory);

    /// <summary>The sites that a person owns.</summary>
    public static Scope OwnSites(PersonId person, PeopleDirectory directory) =>
        directory.PlaceOf(person) is { } place
            ? new Scope.OfOwners(
                person,
                directory.GroupsOf(place).ToHashSet(),
                directory.UnitsOf(place).ToHashSet(),
                directory.Staff.Contains(place),
                directory.Today
            )
            : new Scope.OfOwners(person, new HashSet<GroupId>(), new HashSet<UnitCode>(), false, directory.Today);

    /// <summary>A person with an account, for work that continues in their absence.</summary>
    public static Viewer Of(Account account) => new(account.Id, account.Person, account.Role, account.Part, Guid.Empty);

    public static Viewer Of(HttpContext context) =>
        context.Items[typeof(Viewer)] as Viewer
        ?? throw new InvalidOperationException("Nobody is signed in: the endpoint lacks a policy.");

    public static Viewer? Maybe(HttpContext context) => context.Items[typeof(Viewer)] as Viewer;

    public ClaimsPrincipal Principal(string scheme) =>
        new(
            new ClaimsIdentity(
                [
                    new System.Security.Claims.Claim(ClaimTypes.NameIdentifier, InJournal.Text),
                    new System.Security.Claims.Claim(ClaimTypes.Role, Role.ToString()),
                ],
                scheme
            )
        );

    internal static HashSet<string> UnitsBelow(PeopleDirectory directory, UnitCode top) =>
        [
            .. directory
                .Units.Where(unit => directory.ChainOf(unit.Code).Any(above => above.Code == top))
                .Select(unit => unit.Code.Value),
        ];
}
