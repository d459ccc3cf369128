using System.Security.Claims;
using AtticLedger.Core.People;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Accounts;

/// <summary>Who is signed in, and what they may see.</summary>
public sealed record Viewer(long Account, PersonId Person, Role Role, UnitCode? Part, Guid Session)
{
    public string InJournal => $"person:{Person.Value}";

    public bool MayAct => Role != Role.Auditor;

    /// <summary>The viewer's sight on a state of the register.</summary>
    public Sight SightOn(Roll roll) =>
        Role switch
        {
            Role.Administrator or Role.Auditor => new Sight.Everything(),
            Role.Steward => new Sight.OfUnits(UnitsBelow(roll, Part!.Value)),
            _ => OwnSites(roll),
        };

    /// <summary>The sites to which the viewer holds a key, whatever else they may see.</summary>
    public Sight OwnSites(Roll roll) => OwnSites(Person, roll);

    /// <summary>The sites to which somebody holds a key.</summary>
    public static Sight OwnSites(PersonId person, Roll roll) =>
        roll.PlaceOf(person) is { } place
            ? new Sight.OfKeys(
                person,
                roll.Groups.Where(group => roll.Expand(group.Id).People.Contains(place)).Select(group => group.Id).ToHashSet(),
                roll.Units.Where(unit => roll.OfUnit(unit.Code).Contains(place)).Select(unit => unit.Code).ToHashSet(),
                roll.Staff.Contains(place),
                roll.Time.DayOf(roll.Now)
            )
            : new Sight.OfKeys(person, new HashSet<GroupId>(), new HashSet<UnitCode>(), false, roll.Time.DayOf(roll.Now));

    /// <summary>Whoever has an account, for work that goes on when they are not here.</summary>
    public static Viewer Of(Account account) => new(account.Id, account.Person, account.Role, account.Part, Guid.Empty);

    public static Viewer Of(HttpContext context) =>
        context.Items[typeof(Viewer)] as Viewer
        ?? throw new InvalidOperationException("Nobody is signed in: the endpoint lacks a policy.");

    public static Viewer? Maybe(HttpContext context) => context.Items[typeof(Viewer)] as Viewer;

    public ClaimsPrincipal Principal(string scheme) =>
        new(
            new ClaimsIdentity(
                [new Claim(ClaimTypes.NameIdentifier, InJournal), new Claim(ClaimTypes.Role, Role.ToString())],
                scheme
            )
        );

    internal static HashSet<string> UnitsBelow(Roll roll, UnitCode top) =>
        [.. roll.Units.Where(unit => roll.ChainOf(unit.Code).Any(above => above.Code == top)).Select(unit => unit.Code.Value)];
}
