using System.Globalization;
using AtticLedger.Core.Filters;
using AtticLedger.Core.FirstWeek;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Accounts;
using AtticLedger.Server.Deeds;
using AtticLedger.Server.Desk;
using AtticLedger.Server.Feed;
using AtticLedger.Store;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.FirstWeek;

/// <summary>A dirty list made clean: proposals with evidence, confirmed together; the word that decides most sites next.</summary>
internal static class FirstWeekEndpoints
{
    private const int MostAtOnce = 5000;
    private const int Chunk = 500;
    private const int MostGroups = 40;
    private const int FirstSites = 8;
    private const int ShownSites = 100;
    private const string WordGroup = "word:";
    private static readonly Filter<JudgedLine> Unsure = Filter.Parse("unsure pr", JudgedLine.Attributes);
    private static readonly Filter<JudgedLine> Disputed = Filter.Parse("disputed pr", JudgedLine.Attributes);

    public static void MapFirstWeek(this IEndpointRouteBuilder app)
    {
        app.MapGet("/api/first-week", Look)
            .WithTags("First week")
            .RequireAuthorization(Policies.Evidence)
            .WithName("firstWeek")
            .WithSummary("What nobody has said of sites, what is proposed and why, and the word that decides most sites next.");
        var api = app.MapGroup("/api/said").WithTags("First week").RequireAuthorization(Policies.Administer);
        api.MapPost("/plan", Plan)
            .WithName("planSay")
            .WithSummary("What saying a fact of some sites would come to; nothing is changed.");
        api.MapPost("", Carry)
            .WithName("say")
            .WithSummary("Says a fact of some sites, as planned; 409 with the new plan where it would be said of others by now.");
        api.MapPost("/take-back", TakeBack)
            .WithName("takeBackSaid")
            .WithSummary(
                "Takes back what was said of sites, or of all of which it was said together: the most direct source stands again."
            );
    }

    private static async Task<Results<Ok<FirstWeekWire>, ProblemHttpResult>> Look(
        HttpContext context,
        LedgerSheet sheet,
        FirstWeekDesk desk,
        [FromQuery(Name = "fact")] string asked = "class"
    )
    {
        if (!Enum.TryParse<SaidFact>(asked, ignoreCase: true, out var fact) || !Proposals.Facts.Contains(fact))
        {
            return TypedResults.Problem(statusCode: 400, title: $"There is no fact \"{asked}\": ask for unit, class or purpose.");
        }

        var state = await sheet.Current();
        SheetAt.Say(context, state.Place);
        var seen = state.Seen(new Sight.Everything());
        var lacks = new List<LackWire>();
        foreach (var one in Proposals.Facts)
        {
            var of = await desk.Of(state, one);
            lacks.Add(new LackWire(one, of.Sites.Count(site => site.Lacks(one)), of.Groups.Sum(group => group.Count())));
        }

        var lacking = await desk.Of(state, fact);
        var names = Say.Choices(fact, state.House, state.Roll).ToDictionary(choice => choice.Code, choice => choice.Name);
        return TypedResults.Ok(
            new FirstWeekWire(
                lacking.Sites.Count,
                seen.InUse.And(seen.Where(Unsure)).CountYes,
                seen.InUse.And(seen.Where(Disputed)).CountYes,
                lacks,
                fact,
                [
                    .. lacking
                        .Groups.Take(MostGroups)
                        .Select(group => new ProposalGroupWire(
                            group.Key,
                            [
                                .. group
                                    .GroupBy(proposal => proposal.Value)
                                    .OrderByDescending(same => same.Count())
                                    .ThenBy(same => same.Key, StringComparer.Ordinal)
                                    .Select(same => new ProposedValueWire(
                                        same.Key,
                                        names.GetValueOrDefault(same.Key, same.Key),
                                        same.Count()
                                    )),
                            ],
                            group.First().Strength,
                            [.. group.First().Evidence.Select(one => one.Kind).Distinct().Order()],
                            group.Count(),
                            group.Count(proposal => NextFacts.Decides(proposal.Site, fact)),
                            [
                                .. group
                                    .Take(FirstSites)
                                    .Select(proposal => new SiteNameWire(proposal.Site.Id.Value, proposal.Site.Title)),
                            ]
                        )),
                ],
                [
                    .. lacking.Next.Select(next => new NextFactWire(
                        $"{WordGroup}{next.Word}",
                        next.Word,
                        next.Sites.Count,
                        next.Decides,
                        [.. next.Sites.Take(FirstSites).Select(site => new SiteNameWire(site.Id.Value, site.Title))]
                    )),
                ],
                [.. names.Select(choice => new ChoiceOfFactWire(choice.Key, choice.Value))]
            )
        );
    }

    private static async Task<Results<Ok<SayPlanWire>, ProblemHttpResult>> Plan(
        SayWire wish,
        LedgerSheet sheet,
        FirstWeekDesk desk,
        Database database
    )
    {
        var state = await sheet.Current();
        return await Chosen(wish, state, desk) is { } chosen
            ? TypedResults.Ok(await Foresee(chosen, state, database))
            : NoSuchGroup();
    }

    private static async Task<
        Results<Ok<SaidWire>, Conflict<SayPlanWire>, UnprocessableEntity<RefusalWire>, ProblemHttpResult>
    > Carry(SayDoneWishWire wish, HttpContext context, LedgerSheet sheet, FirstWeekDesk desk, Database database)
    {
        var state = await sheet.Current();
        if (await Chosen(wish.Wish, state, desk) is not { } chosen)
        {
            return NoSuchGroup();
        }

        if (chosen.Refused(state) is { } refused)
        {
            return TypedResults.UnprocessableEntity(new RefusalWire([refused]));
        }

        if (chosen.Fingerprint != wish.Fingerprint)
        {
            return TypedResults.Conflict(await Foresee(chosen, state, database));
        }

        var (together, count) = (database.Now, 0);
        foreach (var chunk in chosen.Sites.Select(site => (site.Site, site.Said, Why(site.Evidence))).Chunk(Chunk))
        {
            count += await Write(chunk, chosen.Fact, wish.Wish.Sites is null, together, context, database);
        }

        var after = await sheet.Refresh();
        SheetAt.Say(context, after.Place);
        return TypedResults.Ok(new SaidWire(after.Place, count, together));
    }

    private static async Task<Results<Ok<SaidWire>, ProblemHttpResult>> TakeBack(
        TakeBackWire wish,
        HttpContext context,
        LedgerSheet sheet,
        Database database
    )
    {
        IReadOnlyList<SiteId> sites = wish is { Together: { } at, Sites: null }
            ? await database.Read(connection => connection.SaidTogether(wish.Fact, at.ToUniversalTime()))
            : [.. (wish.Sites ?? []).Take(MostAtOnce).Select(id => new SiteId(id))];
        var count = 0;
        foreach (var chunk in sites.Select(site => (site, Known<string>.Unknown, (string?)null)).Chunk(Chunk))
        {
            count += await Write(chunk, wish.Fact, false, database.Now, context, database);
        }

        var after = await sheet.Refresh();
        SheetAt.Say(context, after.Place);
        return TypedResults.Ok(new SaidWire(after.Place, count, database.Now));
    }

    /// <param name="ifLacking">Whether only sites of which nobody has said it meanwhile are written.</param>
    private static Task<int> Write(
        IReadOnlyList<(SiteId Site, Known<string> Value, string? Why)> sites,
        SaidFact fact,
        bool ifLacking,
        DateTimeOffset at,
        HttpContext context,
        Database database
    ) =>
        database.Change(async change =>
        {
            var wished = sites.ToDictionary(site => site.Site);
            var decided = (
                await change.Connection.Sites(
                    Viewer.Of(context).SightOn(await change.Roll(await change.Connection.HouseTime())),
                    [.. wished.Keys]
                )
            )
                .Where(site => !ifLacking || site.Of(fact).IsUnknown)
                .Select(site => Say.Decide(site, fact, wished[site.Id].Value, Viewer.Of(context).Person, wished[site.Id].Why, at))
                .OfType<(SiteFacts Site, Draft Entry)>()
                .ToList();
            if (decided.Count > 0)
            {
                await change.UpdateFact(fact, [.. decided.Select(one => one.Site)]);
                await change.Append([.. decided.Select(one => one.Entry)]);
            }

            return decided.Count;
        });

    private static async Task<SayPlanWire> Foresee(ChosenSites chosen, LedgerState state, Database database)
    {
        var (before, after) = (new List<JudgedLine>(), new List<JudgedLine>());
        var said = chosen.Sites.ToDictionary(site => site.Site);
        foreach (var chunk in chosen.Sites.Chunk(Chunk))
        {
            var sites = await database.Read(connection =>
                connection.Sites(new Sight.Everything(), [.. chunk.Select(site => site.Site)])
            );
            before.AddRange(state.Judge(sites));
            after.AddRange(
                state.Judge([
                    .. sites.Select(site => site.Heard(chosen.Fact, Statements.House, said[site.Id].Said, database.Now, null)),
                ])
            );
        }

        var effect = Say.Effect(before, after);
        var names = Say.Choices(chosen.Fact, state.House, state.Roll).ToDictionary(choice => choice.Code, choice => choice.Name);
        return new SayPlanWire(
            chosen.Fingerprint,
            before.Count,
            effect.Told,
            [.. effect.Rules.Select(move => new RuleMoveWire(RuleWire.Of(move.Rule.Id, state.Rules), move.Before, move.After))],
            [
                .. before
                    .Take(ShownSites)
                    .Select(line => line.Line.Site)
                    .Select(site => new ProposedSiteWire(
                        site.Id.Value,
                        site.Title,
                        site.Address.Has(out var address) ? address : null,
                        site.Host,
                        said[site.Id].Value is { } value ? names.GetValueOrDefault(value, value) : null,
                        [.. said[site.Id].Evidence.Select(one => one.Words)]
                    )),
            ],
            chosen.Refused(state)
        );
    }

    private static async Task<ChosenSites?> Chosen(SayWire wish, LedgerState state, FirstWeekDesk desk)
    {
        if (wish.Sites is { } named)
        {
            return new ChosenSites(
                wish.Fact,
                [.. named.Distinct().Take(MostAtOnce).Select(id => new ChosenSite(new SiteId(id), wish.Value, []))]
            );
        }

        if (!Proposals.Facts.Contains(wish.Fact))
        {
            return null;
        }

        var lacking = await desk.Of(state, wish.Fact);
        if (wish.Group?.StartsWith(WordGroup, StringComparison.Ordinal) == true)
        {
            return lacking.Next.FirstOrDefault(next => next.Word == wish.Group[WordGroup.Length..]) is { } next
                ? new ChosenSites(
                    wish.Fact,
                    [.. next.Sites.Take(MostAtOnce).Select(site => new ChosenSite(site.Id, wish.Value, []))]
                )
                : null;
        }

        return lacking.Groups.FirstOrDefault(group => group.Key == wish.Group) is { } group
            ? new ChosenSites(
                wish.Fact,
                [
                    .. group
                        .Take(MostAtOnce)
                        .Select(proposal => new ChosenSite(proposal.Site.Id, proposal.Value, proposal.Evidence)),
                ]
            )
            : null;
    }

    private static string? Why(IReadOnlyList<Evidence> evidence) =>
        evidence.Count == 0 ? null : string.Join("; ", evidence.Select(one => one.Words));

    private static ProblemHttpResult NoSuchGroup() =>
        TypedResults.Problem(
            statusCode: 404,
            title: "There is no such group any more.",
            detail: "What it was made of has been said meanwhile. Look at what is left."
        );

    /// <summary>Of which sites what is to be said, and why.</summary>
    private sealed record ChosenSites(SaidFact Fact, IReadOnlyList<ChosenSite> Sites)
    {
        public string Fingerprint =>
            Head.HashOf(
                $"{Fact} {string.Join(' ', Sites.OrderBy(site => site.Site.Value).Select(site => string.Create(CultureInfo.InvariantCulture, $"{site.Site.Value}={site.Value}")))}"
            );

        public string? Refused(LedgerState state) =>
            Sites
                .Select(site => site.Value)
                .Distinct()
                .Select(value => Say.NotChosen(Fact, value, state.House, state.Roll))
                .FirstOrDefault(words => words is not null);
    }

    private sealed record ChosenSite(SiteId Site, string? Value, IReadOnlyList<Evidence> Evidence)
    {
        public Known<string> Said => Value is null ? Known<string>.None : Known.Of(Value);
    }
}
