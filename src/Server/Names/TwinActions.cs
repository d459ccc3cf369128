using AtticLedger.Core.Actions;
using AtticLedger.Core.Naming;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Names;

/// <summary>Says of two sites with near names that both are right. Who says it sees both.</summary>
internal sealed class SayBothRight(BothRightRequest request, Viewer viewer) : RequestedAction<BothRight, TwinsDone>
{
    public override ActionName Name => ActionName.TwinsBothRight;

    public override async Task<Decided<BothRight>> Decide(FactReader facts)
    {
        var scope = viewer.ScopeOn(await facts.PeopleDirectory());
        var (lower, higher) = (Math.Min(request.One, request.Other), Math.Max(request.One, request.Other));
        if (
            await facts.Site(new SiteId(lower), scope) is not { } one
            || await facts.Site(new SiteId(higher), scope) is not { } other
            || LookAlikes.Bare(one.Name.Or("")) is var meaning
                && LookAlikes.Bare(other.Name.Or("")) is var otherMeaning
                && (lower == higher || Twins.Between(meaning, otherMeaning) is not (Nearness.Same or Nearness.Near))
        )
        {
            return new Decided<BothRight>.NotSeen("pair of near names");
        }

        var reason = SiteActionAnswers.Reason(request.Reason);
        return TellingTwins.Refusals(reason) is { Count: > 0 } refused
            ? new Decided<BothRight>.Refused(refused)
            : new Decided<BothRight>.Planned(
                new BothRight(one.Id, meaning, other.Id, otherMeaning, reason, viewer.Person, facts.Now),
                ""
            );
    }

    public override async Task<Written<TwinsDone>> Write(Change change, BothRight plan)
    {
        await change.Put(plan);
        var place = (await change.Append(TellingTwins.Entries(plan)))[^1];
        return new Written<TwinsDone>(place, new TwinsDone(place));
    }
}

/// <summary>Undoes it: the pair is open again.</summary>
internal sealed class OpenTwinsAgain(OpenTwinsAgainRequest request, Viewer viewer) : RequestedAction<BothRight, TwinsDone>
{
    public override ActionName Name => ActionName.TwinsOpenAgain;

    public override async Task<Decided<BothRight>> Decide(FactReader facts)
    {
        var scope = viewer.ScopeOn(await facts.PeopleDirectory());
        return
            (await facts.Connection.BothRight()).Find(said => said.One.Value == request.One && said.Other.Value == request.Other)
                is { } said
            && await facts.Site(said.One, scope) is not null
            && await facts.Site(said.Other, scope) is not null
            ? new Decided<BothRight>.Planned(said, "")
            : new Decided<BothRight>.NotSeen("pair that is both right");
    }

    public override async Task<Written<TwinsDone>> Write(Change change, BothRight plan)
    {
        await change.Drop(plan);
        var place = (await change.Append(TellingTwins.OpenedAgain(plan, viewer.Person)))[^1];
        return new Written<TwinsDone>(place, new TwinsDone(place));
    }
}
