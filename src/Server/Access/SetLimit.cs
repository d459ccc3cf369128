using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Access;

/// <summary>Sets or removes a limit that is policy only.</summary>
internal sealed class SetLimit(LimitRequest request, Viewer viewer) : RequestedAction<LimitSetting?, ActionDone>
{
    public override ActionName Name => ActionName.LimitSet;

    /// <summary>The same limit on the same limits has the same effect.</summary>
    public static string FingerprintOf(LimitRequest request, Organisation organisation) =>
        Head.HashOf(
            $"{request with { Reason = null }} {JsonSerializer.Serialize(organisation.Limits.Select(limit => limit.ToString()).Order(StringComparer.Ordinal))}"
        );

    public override async Task<Decided<LimitSetting?>> Decide(FactReader facts)
    {
        var organisation = await facts.Connection.Organisation();
        var plan = LimitActions.Plan(request, organisation, await facts.PeopleDirectory());
        List<Remark> refused = [.. plan.Refused];
        if (request.Enforcer == Enforcer.Host)
        {
            refused.Add(new LimitOfHost(request.Code));
        }

        if (string.IsNullOrWhiteSpace(request.Reason))
        {
            refused.Add(new LimitNeedsReason());
        }

        return refused.Count > 0
            ? Decided<LimitSetting?>.Refuse(refused)
            : new Decided<LimitSetting?>.Planned(
                LimitActions.Find(organisation.Limits, request),
                FingerprintOf(request, organisation)
            );
    }

    public override async Task<Written<ActionDone>> Write(Change change, LimitSetting? before)
    {
        await change.ChangeLimit(request, viewer.Person);
        var numbers = await change.Append([LimitActions.Entry(request, before, viewer.Person)]);
        return ActionDone.Written(numbers[0]);
    }
}
