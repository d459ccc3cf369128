using AtticLedger.Core.Journal;
using AtticLedger.Core.People;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>A change of a limit: its new value; null removes it.</summary>
/// <param name="Code">Of what: of a host its name, of a unit its code; empty for the organisation.</param>
public sealed record LimitRequest(LayerKind Kind, string Code, Enforcer Enforcer, PowerLimits? Limits, string? Reason);

/// <summary>The limits after a change, or why it is refused.</summary>
public sealed record LimitPlan(IReadOnlyList<LimitSetting> Limits, IReadOnlyList<Remark> Refused);

/// <summary>Changes limits that are policy only. What a host enforces is a setting of the host: a change of that can be tried out,
/// and is made there.</summary>
public static class LimitActions
{
    public const int LongestCode = 200;

    /// <summary>The limits with the change, to be tried out. A reason is asked for only when it is made.</summary>
    public static LimitPlan Plan(LimitRequest request, Organisation organisation, PeopleDirectory directory)
    {
        var (limits, now) = (organisation.Limits, Find(organisation.Limits, request));
        List<Remark> refused = [.. HostChanges.TooLong(request.Reason)];
        if (request.Kind == LayerKind.Site)
        {
            refused.Add(new LimitOfSite());
        }
        else if (now is null && !IsThere(request, organisation, directory))
        {
            refused.Add(new LimitTargetMissing(request.Kind, request.Code));
        }
        else if (now is null ? request.Limits is null : request.Limits is { } wanted && now.Limits == Known.Of(wanted))
        {
            refused.Add(new LimitIsSo());
        }

        return new LimitPlan(
            refused.Count > 0 ? limits
                : request.Limits is { } to
                    ?
                    [
                        .. limits.Where(limit => limit != now),
                        new LimitSetting(request.Kind, request.Code, request.Enforcer, Known.Of(to)),
                    ]
                : [.. limits.Where(limit => limit != now)],
            refused
        );
    }

    public static LimitSetting? Find(IEnumerable<LimitSetting> limits, LimitRequest request) =>
        limits.FirstOrDefault(limit =>
            limit.Kind == request.Kind && limit.Code == request.Code && limit.Enforcer == request.Enforcer
        );

    public static Draft Entry(LimitRequest request, LimitSetting? before, PersonId by) =>
        new(JournalAction.LimitSet, EntryActor.Of(by), EntrySubject.Organisation)
        {
            Before = InJournal(request, before?.Limits.Has(out var was) == true ? was : null),
            After = InJournal(request, request.Limits),
            Reason = request.Reason,
        };

    private static bool IsThere(LimitRequest request, Organisation organisation, PeopleDirectory directory) =>
        request.Kind switch
        {
            LayerKind.Organisation => request.Code.Length == 0,
            LayerKind.Host => organisation.Hosts.ContainsKey(request.Code),
            LayerKind.Unit => directory.Find(new UnitCode(request.Code)) is not null,
            LayerKind.Classification => organisation.Terms.Any(term =>
                term.Fact == ClaimedFact.Classification && term.Code == request.Code
            ),
            LayerKind.Kind => organisation.Kinds.Any(kind => kind.Code == request.Code),
            LayerKind.OwnersClassification => directory.People.Any(person => person.Classification == request.Code),
            _ => request.Code is { Length: > 0 and <= LongestCode } && !request.Code.Any(char.IsWhiteSpace),
        };

    // What is removed or not known has no values: only of what it is the limit.
    private static JournalValue InJournal(LimitRequest request, PowerLimits? limits) =>
        JournalValue.Of(
            ("limit", JournalValue.Of($"{request.Kind} {request.Code}".Trim())),
            ("view", limits is null ? JournalValue.Null : InJournal(limits.View)),
            ("preview", limits is null ? JournalValue.Null : InJournal(limits.Preview)),
            ("edit", limits is null ? JournalValue.Null : InJournal(limits.Edit))
        );

    private static JournalValue InJournal(Limit limit) =>
        JournalValue.Of(
            $"{limit.Inside.Word()}; {limit.Widest.Word()}; {limit.LeastSignIn.Word()}; invited by {limit.GuestInviter.Word()}"
        );
}
