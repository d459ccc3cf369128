using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Server.Starting;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Looks;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

/// <summary>How a site presents itself, and changes of that.</summary>
internal static class LookEndpoints
{
    public static void MapLooks(this IEndpointRouteBuilder app)
    {
        var api = app.MapGroup("/api/sites/{site:long}").WithTags("Name, logo and address");
        api.MapGet("/look", Look)
            .RequireAuthorization(Policies.Read)
            .WithName("siteLook")
            .WithSummary("How a site presents itself, what of it can be changed from here, and which pages link to it.");
        api.MapPost("/look/plan", PlanLook)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planLook")
            .WithSummary("The plan to change name, description or logo of a site; nothing is changed.");
        api.MapPost("/look", ChangeTheLook)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.SiteLook)
            .WithName("changeLook")
            .WithSummary("Changes name, description or logo of a site as planned. Its address stays.");
        api.MapPost("/address/check", Check)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("checkAddress")
            .WithSummary("The verdict on an address while it is typed, with free alternatives.");
        api.MapPost("/address/plan", PlanAddress)
            .RequireAuthorization(Policies.Act)
            .Previews()
            .WithName("planAddress")
            .WithSummary("The plan to change the address of a site: who links to it, and what becomes of the old one.");
        api.MapPost("/address", ChangeTheAddress)
            .RequireAuthorization(Policies.Act)
            .Carries(ActionName.SiteAddress)
            .WithName("changeAddress")
            .WithSummary("Changes the address of a site as planned.");
    }

    private static async Task<Results<Ok<SiteLookResponse>, ProblemHttpResult>> Look(
        long site,
        HttpContext context,
        Database database
    )
    {
        var viewer = Viewer.Of(context);
        return
            await database.Read(async connection =>
            {
                var reader = FactReader.Of(database, connection);
                return await reader.OfSite(viewer.ScopeOn, new SiteId(site), false) is { } facts
                    ? await Response(reader, facts, viewer)
                    : null;
            })
                is { } found
            ? TypedResults.Ok(found)
            : ActionEndpoint.NotThere("site");
    }

    private static async Task<SiteLookResponse> Response(FactReader reader, ActionFacts facts, Viewer viewer)
    {
        var (site, scope) = (facts.Site, viewer.ScopeOn(facts.PeopleDirectory));
        var capabilities = facts.Organisation.CapabilitiesOf(site.Host);
        var borrowers = facts.Around.Borrowers.ToLookup(facts.Around.Scope.Sees);
        var form = ChangeAddress.FormOf(site, facts.Organisation);
        var own = site.Address.Has(out var address) ? form?.Own(address) : null;
        var linked = facts with
        {
            Around = facts.Around with
            {
                Address = new AroundAddress(new AddressBook([]), _ => false, await reader.LinksTo(site, scope)),
            },
        };
        return new SiteLookResponse(
            site.Id.Value,
            site.Title,
            site.Host,
            site.Name.Has(out var name) ? name : null,
            site.Description.Has(out var description) ? description : null,
            !site.Description.IsUnknown,
            await Logo(reader, site, scope),
            [.. Enum.GetValues<LookField>().Where(capabilities.CanChange)],
            capabilities.ManualProcedure is null ? [.. capabilities.Logos] : Enum.GetValues<LogoSource>(),
            capabilities.ManualProcedure is not null,
            [
                .. Enum.GetValues<VisibleName>()
                    .Where(where => NameDrift.Of(site, where) == Truth.Yes)
                    .Select(where => new DriftingName(
                        where,
                        where switch
                        {
                            VisibleName.Shown => site.ShownName.Or(""),
                            VisibleName.Home => site.HomeTitle.Or(""),
                            _ => site.Address.Or(""),
                        }
                    )),
            ],
            [.. borrowers[true].Select(other => new SiteNameResponse(other.Id.Value, other.Title))],
            borrowers[false].Count(),
            new SiteAddressResponse(
                address,
                capabilities.CanChange(LookField.Address) ? form?.Before : null,
                own,
                form?.After,
                capabilities.ForwardDays,
                capabilities.SwapsAddresses,
                [.. site.Forwards.Or([]).Select(forward => ForwardResponse.Of(forward, facts.PeopleDirectory.Time))],
                AddressImpactResponse.Of(ChangeAddress.Impact(linked, "", null, null), facts.PeopleDirectory.Time)
            ),
            RemarkResponse.Of([.. ChangeLook.NotNow(facts)])
        );
    }

    private static async Task<LogoResponse> Logo(FactReader reader, SiteFacts site, Scope scope)
    {
        var source = site.Logo.Has(out var known) ? known : (LogoSource?)null;
        var from = site.LogoFrom.Has(out var text) ? text : null;
        var lender = source == LogoSource.Borrowed && from is not null ? await reader.Connection.SiteAt(site.Host, from) : null;
        return new LogoResponse(
            source,
            !site.Logo.IsUnknown,
            source == LogoSource.Linked ? from : null,
            lender is not null && await reader.Site(lender.Id, scope) is not null
                ? new SiteNameResponse(lender.Id.Value, lender.Title)
                : null,
            lender is { Existence: not Existence.InUse },
            source == LogoSource.KeptWithSite && from is not null && await reader.Connection.HasPicture(from) ? from : null
        );
    }

    private static Task<PreviewResult> PlanLook(long site, LookPlanRequest request, HttpContext context) =>
        context.PlanOf(Presenting(site, request, context));

    private static Task<ActionAnswer> ChangeTheLook(long site, ChangeLookRequest request, HttpContext context) =>
        context.Carry(Presenting(site, request, context), request.Fingerprint, request);

    private static Task<PreviewResult> PlanAddress(long site, AddressPlanRequest request, HttpContext context) =>
        context.PlanOf(Readdressing(site, request, context));

    private static Task<ActionAnswer> ChangeTheAddress(long site, ChangeAddressRequest request, HttpContext context) =>
        context.Carry(Readdressing(site, request, context), request.Fingerprint, request);

    private static SiteAction Presenting(long site, LookPlanRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.SiteLook, site, viewer, (facts, id) =>
            ChangeLook.Decide(
                facts,
                new LookRequest(
                    new WantedLook(Line(request.Name), Text(request.Description), Wanted(request.Logo, facts)),
                    SiteActionAnswers.Reason(request.Reason)
                ),
                new ChangeId(id),
                viewer.Actor()
            )
        )
        {
            Completing = (reader, facts) => reader.WithLogo(facts, request.Logo, viewer.ScopeOn),
        };
    }

    private static WantedLogo? Wanted(WantedLogoRequest? logo, ActionFacts facts) =>
        logo is null
            ? null
            : new WantedLogo(
                logo.Source,
                logo.Source switch
                {
                    LogoSource.KeptWithSite => logo.Picture,
                    LogoSource.Borrowed => facts.Around.Other?.HostKey,
                    LogoSource.Linked => logo.Link?.Trim(),
                    _ => null,
                }
            );

    private static SiteAction Readdressing(long site, AddressPlanRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        var own = Line(request.Own) ?? "";
        return new SiteAction(ActionName.SiteAddress, site, viewer, (facts, id) =>
            ChangeAddress.Decide(
                facts,
                new AddressRequest(own, request.ForwardDays, request.Swap, SiteActionAnswers.Reason(request.Reason)),
                new ChangeId(id),
                viewer.Actor()
            )
        )
        {
            WithNeighbours = false,
            Completing = (reader, facts) => reader.WithAddress(facts, own, request.Swap, viewer.ScopeOn),
        };
    }

    private static async Task<Results<Ok<AddressCheckResponse>, ProblemHttpResult>> Check(
        long site,
        AddressCheckRequest request,
        SeenRegister register,
        LiveAddresses addresses,
        Database database
    )
    {
        var (state, id) = (register.State, new SiteId(site));
        var (found, beside) = await database.Read(async connection =>
            (await connection.Sites(register.Viewer.ScopeOn(state.PeopleDirectory), [id])) is [var one]
                ? (one, await connection.AddressesBesideSites(one.Host))
                : (null, [])
        );
        if (found is not { } facts || ChangeAddress.FormOf(facts, state.Organisation) is not { } form)
        {
            return ActionEndpoint.NotThere("site");
        }

        var book = addresses.Addresses(state, facts.Host, form).With(StartSite.Own(form, beside));
        var own = Line(request.Own) ?? "";
        var faults = own.Length == 0 ? [] : book.FaultsOf(own, id);
        var isFree = own.Length > 0 && faults.All(fault => fault is AddressFault.Confusable);
        string? NameOf(Holding by) => by.Site is { } its && register.Visible.Find(its) is { } seen ? seen.Title : null;
        var unit = facts.Unit.Has(out var code) ? code.Value : null;
        return TypedResults.Ok(
            new AddressCheckResponse(
                book.Proposed(facts.Title, unit, facts.Kind.Has(out var kind) ? kind : null),
                isFree,
                RemarkResponse.Of([.. faults.Select(fault => Remark(fault, form, NameOf, state))]),
                [.. faults.OfType<AddressFault.Held>().Select(fault => StartEndpoints.Holder(fault.By, register))],
                state.Organisation.CapabilitiesOf(facts.Host).SwapsAddresses && !facts.Address.IsNone
                    ? faults
                        .OfType<AddressFault.Held>()
                        .Where(fault => fault.By.As == HeldAs.InUse && NameOf(fault.By) is not null)
                        .Select(fault => new SiteNameResponse(fault.By.Site!.Value.Value, fault.By.Title))
                        .FirstOrDefault()
                    : null,
                isFree || own.Length == 0
                    ? []
                    : book.Alternatives(
                        own,
                        unit,
                        facts.Kind.Has(out var its) ? [StartSite.NameOf(its, state.Organisation)] : [],
                        state.PeopleDirectory.Today.Year
                    )
            )
        );
    }

    private static Remark Remark(AddressFault fault, AddressForm form, Func<Holding, string?> nameOf, LedgerState state) =>
        fault switch
        {
            AddressFault.Malformed(var why) => new AddressMalformed(why),
            AddressFault.Held(var by) => new AddressHeld(
                form.Whole(by.Address),
                nameOf(by),
                by.As,
                by.Until is { } until ? state.PeopleDirectory.Time.DayOf(until) : null
            ),
            AddressFault.Reserved(var word) => new AddressReserved(word),
            AddressFault.Confusable(var word, null) => new AddressLikeReserved(word),
            AddressFault.Confusable(var like, { } by) => new AddressLike(like, nameOf(by)),
            _ => throw new InvalidOperationException("Every fault of an address is handled above."),
        };

    // The database cannot store NUL; a name is one line without spaces around it.
    private static string? Line(string? text) =>
        text is null
            ? null
            : string.Join(
                ' ',
                text.Normalize()
                    .Replace('\0', '\uFFFD')
                    .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            );

    private static string? Text(string? text) => text?.Normalize().Replace('\0', '\uFFFD').Trim();
}
