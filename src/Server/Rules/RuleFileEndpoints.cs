using System.Net.Mime;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Formats.RuleBooks;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Feed;
using AtticLedger.Server.Identity;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Rules;

using ImportAnswer = Results<
    Ok<RulesImported>,
    Conflict<RuleFilePlanResponse>,
    UnprocessableEntity<RefusalResponse>,
    ProblemHttpResult
>;

/// <summary>The rule book as a file, out and in.</summary>
internal static class RuleFileEndpoints
{
    public static void MapRuleFiles(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/rules/file", Export)
            .WithTags("Rules")
            .RequireAuthorization(Policies.Read)
            .WithName("exportRules")
            .WithSummary("The rules that are in force or will be, as JSON: see docs/rule-book.schema.json.")
            .Produces<string>(contentType: MediaTypeNames.Application.Json);
        var write = app.MapGroup("/api/rules/file").WithTags("Rules").RequireAuthorization(Policies.Administer);
        write
            .MapPost("/plan", Plan)
            .Previews()
            .WithName("planRuleImport")
            .WithSummary("What importing a rule book would do, rule by rule; nothing is stored.");
        write
            .MapPost("", Import)
            .Carries(ActionName.RulesImport)
            .WithName("importRules")
            .WithSummary(
                "Imports a rule book as planned: all of its rules, or none if one is refused; 409 with the new plan where the rule book has changed."
            );
    }

    private static async Task<FileContentHttpResult> Export(SeenRegister register, Database database)
    {
        var (all, today) = (await database.Read(connection => connection.AllRules()), register.State.Rules.Today.Day);
        return TypedResults.File(
            RuleBookFile.Write(RuleActions.FromOn(all, today)),
            MediaTypeNames.Application.Json,
            "rule-book.json"
        );
    }

    private static async Task<Ok<RuleFilePlanResponse>> Plan(RuleFileRequest request, SeenRegister register, Database database) =>
        TypedResults.Ok(await Predict(request.Book, register.State, database));

    private static async Task<ImportAnswer> Import(
        ImportRulesRequest request,
        HttpContext context,
        SeenRegister register,
        LiveRegister index,
        Database database
    )
    {
        try
        {
            _ = ImportRules.Read(request.Book);
        }
        catch (RuleBookError error)
        {
            return TypedResults.Problem(statusCode: 400, title: error.Message);
        }

        // Every rule is tried out before anything waits for the decision; on another rule book it is another plan.
        var again = request.Looked ? [] : await Again(request.Book, register.State, database);
        return await context.Carry(
            new ImportRules(request.Book, request.Reason, Viewer.Of(context), again),
            request.Fingerprint,
            request,
            async _ => await Predict(request.Book, await index.Refresh(), database)
        );
    }

    private static async Task<RuleFilePlanResponse> Predict(string book, LedgerState state, Database database)
    {
        var versions = await database.Read(connection => connection.AllRules());
        var fingerprint = ImportRules.FingerprintOf(book, versions);
        try
        {
            var planned = PlannedBook.Of(ImportRules.Read(book), "import", versions, state.Rules.Today);
            var numbers = RuleNumbers.OfAll(state);
            List<RuleOfFilePlan> rules =
            [
                .. planned
                    .Rules.Select(pair => Planned(pair.Rule, pair.Plan, numbers))
                    .OrderBy(rule =>
                        rule.State switch
                        {
                            RuleOfFileState.Refused => 0,
                            RuleOfFileState.Unchanged => 2,
                            _ => 1,
                        }
                    ),
            ];
            int Count(RuleOfFileState which) => rules.Count(rule => rule.State == which);
            return new RuleFilePlanResponse(
                fingerprint,
                null,
                Count(RuleOfFileState.Added),
                Count(RuleOfFileState.Changed),
                Count(RuleOfFileState.Unchanged),
                Count(RuleOfFileState.Refused),
                rules
            );
        }
        catch (RuleBookError error)
        {
            return new RuleFilePlanResponse(fingerprint, new RuleFileFault(error.Place, error.What), 0, 0, 0, 0, []);
        }
    }

    private static async Task<IReadOnlyList<Remark>> Again(string book, LedgerState state, Database database)
    {
        var versions = await database.Read(connection => connection.AllRules());
        var numbers = RuleNumbers.OfAll(state);
        return
        [
            .. PlannedBook
                .Of(ImportRules.Read(book), "import", versions, state.Rules.Today)
                .Rules.Select(pair => pair.Plan.Next)
                .OfType<Rule>()
                .Select(rule => numbers.LookAgain(numbers.Try(rule)))
                .OfType<Remark>(),
        ];
    }

    private static RuleOfFilePlan Planned(RuleOfFile rule, RulePlan plan, RuleNumbers numbers)
    {
        var tried = plan.Next is { } written ? numbers.Try(written) : null;
        return new(
            rule.Id,
            rule.Title,
            plan.Refused.Count > 0 ? RuleOfFileState.Refused
                : plan.Next is null ? RuleOfFileState.Unchanged
                : plan.Before is null ? RuleOfFileState.Added
                : RuleOfFileState.Changed,
            plan is { Next: { } next, Before: { } before } ? RuleDifferences.Between(before, next) : [],
            plan.Before is { } its ? numbers.Found(its.Id) : 0,
            tried is not null ? tried.Breaks.CountYes
                : plan.Before is { } same ? numbers.Found(same.Id)
                : 0,
            tried is not null && numbers.LookAgain(tried) is { } look ? RemarkResponse.Of(look) : null,
            RemarkResponse.Of(plan.Refused)
        );
    }
}
