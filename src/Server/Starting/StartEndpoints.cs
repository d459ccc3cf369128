using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Starting;

using StartAnswer = Results<Ok<StartDone>, Conflict<AnotherVerdict>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;

/// <summary>What can be chosen when a site is started, the verdict while it is filled in, and the request itself.</summary>
internal static class StartEndpoints
{
    private const int MostToAsk = 3;
    private const int MostSameNames = 5;
    private const int MostFound = 8;
    private const int LeastToFind = 2;

    public static void MapStart(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/start").WithTags("Starting a site");
        api.MapGet("", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("start")
            .WithSummary("The kinds of site that can be started and what each implies, and the words that can be chosen.");
        api.MapGet("/people", FindPeople)
            .RequireAuthorization(Policies.Act)
            .WithName("findStartPeople")
            .WithSummary(
                "People of the register by a part of their name or mail address, at most 8: those who have left are left out."
            );
        api.MapPost("/check", Check)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("checkStart")
            .WithSummary(
                "The verdict on a request as it is filled in: what is refused, decided by an administrator, or changed."
            );
        api.MapPost("/ask-holder", Ask)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.AddressAsk)
            .WithName("askHolder")
            .WithSummary(
                "Sends a message to the holder of an address, whom the viewer may not see: once a day for each address. Nothing is told about the holder."
            );
        api.MapPost("", Start)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.RequestMake)
            .WithName("startSite")
            .WithSummary(
                "Asks for a site. What the rules grant is made at once; the rest waits for an administrator. Its address is held meanwhile."
            );
    }

    private static Ok<StartChoices> Look(SeenRegister register)
    {
        var (organisation, directory, viewer) = (register.State.Organisation, register.State.PeopleDirectory, register.Viewer);
        var unit = directory.Find(viewer.Person)?.Unit is { } own && own.Has(out var code) ? code.Value : null;
        return TypedResults.Ok(
            new StartChoices(
                [.. organisation.KindsToStart.Select(kind => Kind(kind, unit, organisation, directory, viewer))],
                [
                    .. Terms(organisation, ClaimedFact.Purpose)
                        .Select(term => new PurposeToChoose(
                            term.Code,
                            term.Name,
                            ViewReachResponse.Of(StartSite.ReachFor(term.Code, organisation))
                        )),
                ],
                [.. Terms(organisation, ClaimedFact.Classification).Select(Choice)],
                [.. Terms(organisation, ClaimedFact.Tags).Select(Choice)],
                [
                    .. directory
                        .Units.OrderBy(one => one.Name, StringComparer.OrdinalIgnoreCase)
                        .Select(one => new UnitResponse(one.Code.Value, one.Name)),
                ],
                unit,
                PersonResponse.Of(viewer.Person, directory),
                organisation.RequestDays
            )
        );
    }

    private static IEnumerable<Term> Terms(Organisation organisation, ClaimedFact fact) =>
        organisation.Terms.Where(term => term.Fact == fact);

    private static TermToChoose Choice(Term term) => new(term.Code, term.Name, [.. term.Words]);

    private static OfferedKind Kind(
        KindToStart kind,
        string? unit,
        Organisation organisation,
        PeopleDirectory directory,
        Viewer viewer
    )
    {
        var most = StartSite.MostOf(kind, unit is null ? null : new UnitCode(unit), organisation, directory);
        return new OfferedKind(
            kind.Kind,
            StartSite.NameOf(kind.Kind, organisation),
            kind.Host,
            kind.Describes,
            kind.Address.Before,
            kind.Address.After,
            kind.StartedBy,
            viewer.MayAct && (kind.StartedBy != StartedBy.Administrators || viewer.Role == Role.Administrator),
            kind.MakesGroup,
            kind.AliasDomain,
            [.. kind.StarterPages],
            organisation.Kinds.FirstOrDefault(one => one.Code == kind.Kind)?.AlwaysAllStaff == true,
            most.Permitted.Has(out var limit)
                ? new ViewReachResponse(limit.Inside.Level(), limit.Widest, limit.LeastSignIn)
                : null,
            [
                .. most
                    .Steps.Where(step => step.Bindings.Any(binding => binding.IsCertain))
                    .Select(step => step.Layer.Name)
                    .Distinct(),
            ],
            !organisation.CapabilitiesOf(kind.Host).MakesSites
        );
    }

    private static Ok<IReadOnlyList<PersonResponse>> FindPeople(SeenRegister register, string text)
    {
        var directory = register.State.PeopleDirectory;
        var words = text.Trim();
        return TypedResults.Ok<IReadOnlyList<PersonResponse>>(
            words.Length < LeastToFind
                ? []
                :
                [
                    .. directory
                        .People.Where(
                            (person, place) =>
                                directory.Standings[place] != Standing.Left
                                && person is { Kind: PersonKind.Staff or PersonKind.Guest, Mail.Length: > 0 }
                                && (
                                    person.Name.Contains(words, StringComparison.OrdinalIgnoreCase)
                                    || person.Mail.Contains(words, StringComparison.OrdinalIgnoreCase)
                                )
                        )
                        .OrderBy(person => person.IsOutside)
                        .ThenBy(person => !person.Name.StartsWith(words, StringComparison.OrdinalIgnoreCase))
                        .ThenBy(person => person.Name, StringComparer.OrdinalIgnoreCase)
                        .ThenBy(person => person.Id.Value)
                        .Take(MostFound)
                        .Select(person => PersonResponse.Of(person.Id, directory)),
                ]
        );
    }

    private static async Task<Ok<StartCheck>> Check(
        NewSiteRequest request,
        SeenRegister register,
        LiveAddresses addresses,
        Database database
    )
    {
        var (state, viewer) = (register.State, register.Viewer);
        var directory = state.PeopleDirectory;
        var wanted = request.ToSite(directory);
        var kind = state.Organisation.KindsToStart.FirstOrDefault(one => one.Kind == wanted.Kind);
        var (requested, isAliasHeld) = kind is null
            ? ([], false)
            : await database.Read(async connection =>
                (
                    await connection.AddressesBesideSites(kind.Host),
                    kind.AliasDomain is { } domain
                        && wanted.AliasPart.Length > 0
                        && await connection.IsAliasHeld($"{wanted.AliasPart}@{domain}")
                )
            );
        var visible = register.Visible;
        var facts = new StartFacts(state.Organisation, state.Rules, directory)
        {
            Addresses = kind is null
                ? null
                : addresses.Addresses(state, kind.Host, kind.Address).With(StartSite.Own(kind.Address, requested)),
            IsAliasHeld = isAliasHeld,
            Sees = site => visible.Find(site) is not null,
        };
        var verdict = StartSite.Judge(facts, wanted, viewer.Actor());
        return TypedResults.Ok(
            new StartCheck(
                verdict.Granting(viewer.Grants(wanted.Unit, directory)),
                verdict.Fingerprint(),
                RemarkOnField.Of(verdict),
                Address(kind, wanted, facts, register),
                People(request, directory),
                [
                    .. addresses
                        .Named(state, wanted.Name)
                        .Select(site => visible.Find(site))
                        .OfType<Core.Rules.RegisterRow>()
                        .Take(MostSameNames)
                        .Select(row => new SiteNameResponse(row.Id.Value, row.Title)),
                ],
                Reach(verdict, wanted, directory)
            )
        );
    }

    private static AddressVerdict Address(KindToStart? kind, NewSite wanted, StartFacts facts, SeenRegister register)
    {
        if (kind is null || facts.Addresses is not { } book)
        {
            return new AddressVerdict(Addresses.Proposed(wanted.Name), null, false, [], []);
        }

        var suggested = wanted.Name.Length == 0 ? null : book.Proposed(wanted.Name, wanted.Unit?.Value, kind.Kind);
        var faults = wanted.Address.Length == 0 ? [] : book.FaultsOf(wanted.Address);
        var isFree = wanted.Address.Length > 0 && !faults.Any(fault => fault is not AddressFault.Confusable);
        return new AddressVerdict(
            suggested,
            wanted.Address.Length == 0 ? null : kind.Address.Whole(wanted.Address),
            isFree,
            [.. faults.OfType<AddressFault.Held>().Select(fault => Holder(fault.By, register))],
            isFree || wanted.Address.Length == 0
                ? []
                : book.Alternatives(
                    wanted.Address,
                    wanted.Unit?.Value,
                    Distinguishing(wanted, register.State.Organisation),
                    register.State.PeopleDirectory.Today.Year
                )
        );
    }

    // What tells the site from others with its name: what it is for, and the kind.
    private static IEnumerable<string> Distinguishing(NewSite wanted, Organisation organisation) =>
        new[]
        {
            wanted.Purpose is { } purpose ? organisation.Words.Meant(ClaimedFact.Purpose, purpose)?.Name : null,
            StartSite.NameOf(wanted.Kind, organisation),
        }.OfType<string>();

    /// <summary>Who holds an address, as far as the viewer may know.</summary>
    public static AddressHolder Holder(Holding by, SeenRegister register)
    {
        var directory = register.State.PeopleDirectory;
        return by.Site is { } site && register.Visible.Find(site) is { } row
            ? new AddressHolder(
                new SiteNameResponse(site.Value, row.Title),
                by.As,
                by.Until is { } until ? directory.Time.DayOf(until) : null,
                [
                    .. row
                        .Owners.Holders.Where(holder => holder.IsActive)
                        .Take(MostToAsk)
                        .Select(holder => PersonResponse.Of(holder.Person.Id, directory)),
                ]
            )
            : new AddressHolder(null, by.As, null, []);
    }

    /// <summary>The people of a request as written, each once, with the accounts behind them.</summary>
    public static IReadOnlyList<NamedPerson> People(NewSiteRequest request, PeopleDirectory directory) =>
        [
            .. request
                .Owners.Concat(request.Editors)
                .OfType<string>()
                .Distinct(StringComparer.OrdinalIgnoreCase)
                .Select(mail => new NamedPerson(
                    mail,
                    NewSiteRequest.PersonOf(mail, directory) is { } person ? PersonResponse.Of(person, directory) : null
                )),
        ];

    /// <summary>Who would get in, of what is granted.</summary>
    public static ProspectReach? Reach(StartVerdict verdict, NewSite wanted, PeopleDirectory directory)
    {
        if (verdict.Site is not { } site)
        {
            return null;
        }

        var view = site.AccessPath(Power.View).Effective.AtLeast;
        return new ProspectReach(
            new ViewReachResponse(
                (InsideLevel)site.Inside(Power.View).Or(default).AtLeast,
                (OutsideLevel)site.Outside(Power.View).Or(default).AtLeast,
                wanted.Reach.SignIn
            ),
            view.CountPeople(directory),
            (int)site.EditorCount.AtLeast
        );
    }

    private static Task<Results<Ok<AddressAsked>, Conflict<string>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>> Ask(
        AskHolderRequest request,
        HttpContext context
    ) => context.Carry(new AskHolderAction(request, Viewer.Of(context)), null, request, plan => Task.FromResult(plan.Host));

    private static Task<StartAnswer> Start(StartSiteRequest request, HttpContext context) =>
        context.Carry(new MakeRequest(request.Site, Viewer.Of(context)), request.Fingerprint, request, plan =>
            Task.FromResult(AnotherVerdict.Of(plan.Verdict))
        );
}
