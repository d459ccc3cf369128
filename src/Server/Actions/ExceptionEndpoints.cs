using AtticLedger.Core.Actions;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Contracts;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Actions;

using ActionAnswer = Results<Ok<ActionDone>, Conflict<PlanResponse>, UnprocessableEntity<RefusalResponse>, ProblemHttpResult>;
using PreviewResult = Results<Ok<Preview>, ProblemHttpResult>;

/// <param name="IsUntold">True if it was granted because the rule cannot tell: a known break is not covered.</param>
/// <param name="Covers">True if it covers the current facts: the site is no worse than when the exception was granted.</param>
public sealed record ExceptionInForce(
    long Id,
    string Reason,
    PersonResponse By,
    DateTimeOffset From,
    DateOnly Through,
    bool IsUntold,
    bool Covers
)
{
    /// <summary>The exceptions in force from the rule of a finding, covering ones first.</summary>
    internal static IReadOnlyList<ExceptionInForce> Of(Finding finding, ComputedSite line, LedgerState state) =>
        [
            .. line
                .Exceptions.Where(exception => exception.Rule == finding.Rule.Id)
                .Select(exception => new ExceptionInForce(
                    exception.Id,
                    exception.Reason,
                    PersonResponse.Of(exception.By, state.PeopleDirectory),
                    exception.From,
                    exception.Through,
                    exception.IsUntold,
                    finding.Rule.IsCovered(exception, line, finding.IsUntold)
                ))
                .OrderByDescending(exception => exception.Covers),
        ];
}

public sealed record ExceptionPlanRequest(string Rule, string Reason, DateOnly Through);

public sealed record GrantExceptionRequest(string Rule, string Reason, DateOnly Through, string Fingerprint);

public sealed record EndExceptionRequest(string Reason);

/// <summary>Dated exceptions from rules.</summary>
internal static class ExceptionEndpoints
{
    public static void MapExceptions(this IEndpointRouteBuilder app)
    {
        var sites = app.MapGroup("/api/sites/{site:long}").WithTags("Actions").RequireAuthorization(Policies.Act);
        sites
            .MapPost("/exceptions/plan", Plan)
            .Previews()
            .WithName("planException")
            .WithSummary("The plan to grant an exception from a rule.");
        sites
            .MapPost("/exceptions", Exception)
            .Carries(ActionName.ExceptionGrant)
            .WithName("grantException")
            .WithSummary("Grants an exception from a rule that is broken or cannot tell, with a reason and a last day.");
        sites
            .MapPost("/exceptions/{exception:long}/end", End)
            .Carries(ActionName.ExceptionEnd)
            .WithName("endException")
            .WithSummary("Ends an exception before its last day.");
    }

    private static Task<PreviewResult> Plan(long site, ExceptionPlanRequest request, HttpContext context) =>
        context.PlanOf(Excepting(site, request.Rule, request.Reason, request.Through, context));

    private static Task<ActionAnswer> Exception(long site, GrantExceptionRequest request, HttpContext context) =>
        context.Carry(Excepting(site, request.Rule, request.Reason, request.Through, context), request.Fingerprint, request);

    private static async Task<ActionAnswer> End(long site, long exception, EndExceptionRequest request, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return await context.Carry(
            new SiteAction(ActionName.ExceptionEnd, site, viewer, (facts, _) =>
                ExceptionActions.End(facts, exception, SiteActionAnswers.Reason(request.Reason), viewer.Actor())
            )
            {
                WithNeighbours = false,
            },
            null,
            request
        );
    }

    private static SiteAction Excepting(long site, string rule, string reason, DateOnly through, HttpContext context)
    {
        var viewer = Viewer.Of(context);
        return new SiteAction(ActionName.ExceptionGrant, site, viewer, (facts, _) =>
            ExceptionActions.Grant(
                facts,
                new ExceptionRequest(new RuleId(rule), SiteActionAnswers.Reason(reason) ?? "", through),
                viewer.Actor()
            )
        )
        {
            WithNeighbours = false,
        };
    }
}
