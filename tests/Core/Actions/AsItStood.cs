using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Classification;
using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using CsCheck;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Actions;

/// <summary>Whatever happens to a site (syncs, answers, lists, decisions, no longer being reported): today's facts and the
/// journal give the facts of any earlier moment.
/// </summary>
public class AsItStood
{
    private abstract record Happening
    {
        public sealed record Read(
            string? Name,
            int Classification,
            Existence Existence,
            IReadOnlyList<Grant> Grants,
            bool SaysSharing
        ) : Happening;

        public sealed record Answer(IReadOnlyList<Grant> Grants) : Happening;

        public sealed record Listed(ClaimedFact Fact, string? Value) : Happening;

        public sealed record Decided(ClaimedFact Fact, string? Value) : Happening;

        public sealed record Gone : Happening;
    }

    private static readonly Gen<IReadOnlyList<Grant>> AnyGrants =
        from some in Gen.Bool.Array[4]
        from power in Gen.Enum<Power>()
        select (IReadOnlyList<Grant>)
            [
                .. new[] { ToStaff(Power.View), ToAnonymous(power), ToPerson(Power.Own, Vane), ToPerson(power, Lund) }.Where(
                    (_, at) => some[at]
                ),
            ];

    private static readonly Gen<Happening> AnyHappening = Gen.OneOf(
        from name in Among<string?>("Tides", "Tide \"tables\"", "Ünïcode", null)
        from known in Gen.Int[0, 2]
        from existence in Gen.Enum<Existence>()
        from grants in AnyGrants
        from says in Gen.Frequency((5, Gen.Const(true)), (1, Gen.Const(false)))
        select (Happening)new Happening.Read(name, known, existence, grants, says),
        AnyGrants.Select(grants => (Happening)new Happening.Answer(grants)),
        from fact in Among(ClaimedFact.Unit, ClaimedFact.Classification)
        from value in Among<string?>("PIL", "Open", null)
        select (Happening)new Happening.Listed(fact, value),
        from fact in Among(ClaimedFact.Unit, ClaimedFact.Classification)
        from value in Among<string?>("YRD", "Sealed", null)
        select (Happening)new Happening.Decided(fact, value),
        Gen.Const((Happening)new Happening.Gone())
    );

    [Fact]
    public void The_facts_of_any_moment_come_out_of_today_and_the_entries_since() =>
        AnyHappening
            .List[1, 14]
            .Sample(happenings =>
            {
                var (site, at) = (default(SiteFacts), Now);
                var entries = new List<string>();
                var moments = new List<(int Entries, string? Facts)>();
                foreach (var happening in happenings.Prepend(new Happening.Read("Tides", 0, Existence.InUse, [], true)))
                {
                    moments.Add((entries.Count, Text(site)));
                    at = at.AddMinutes(7);
                    var (after, entry) = Happen(site, happening, at);
                    site = after;
                    if (entry is not null)
                    {
                        entries.Add(entry.Text(entries.Count + 1, at, ""));
                    }
                }

                foreach (var (count, facts) in moments)
                {
                    Assert.Equal(facts, Rewound(site!, entries.Skip(count).Reverse()));
                }
            });

    private static (SiteFacts, Draft?) Happen(SiteFacts? site, Happening happening, DateTimeOffset at)
    {
        switch (happening)
        {
            case Happening.Read read:
                var taken = Intake.Take(site, Seen(read, at), [], at, at);
                return (taken.Site, taken.Entry);
            case Happening.Answer answer:
                var confirmed = Intake.Confirm(site!, new WantedState([]), new HostAnswer.Done(answer.Grants, null), at);
                return (
                    confirmed,
                    new Draft(JournalAction.ChangeConfirmed, EntryActor.OfSource("Slipway"), EntrySubject.Of(new SiteId(1)))
                    {
                        After = JournalValue.Of(("attempts", JournalValue.Of(1))),
                    }.Telling(site!, confirmed)
                );
            case Happening.Listed(var fact, var value):
                var heard = Intake.Apply(
                    site!,
                    "Yard list",
                    new Dictionary<ClaimedFact, Known<string>> { [fact] = value is null ? Known<string>.None : Known.Of(value) },
                    at
                );
                return (heard.Site, heard.Entry);
            case Happening.Decided(var fact, var value):
                return
                    SetFact.Decide(site!, fact, value is null ? Known<string>.Unknown : Known.Of(value), Aske, "because", at)
                        is var (said, entry)
                    ? (said, entry)
                    : (site!, null);
            default:
                var gone = Intake.MarkMissing(site!, at);
                return (gone.Site, gone.Entry);
        }
    }

    private static SiteFacts Seen(Happening.Read read, DateTimeOffset at) =>
        Site(read.Grants) with
        {
            Name = read.Name is null ? Known<string>.None : Known.Of(read.Name),
            Classification = read.Classification switch
            {
                0 => Known<string>.Unknown,
                1 => Known<string>.None,
                _ => Known.Of("Guarded"),
            },
            Existence = read.Existence,
            SeenAt = at,
            StandsAt = at,
            Sharing = read.SaysSharing
                ? Known.Of(new Sharing(read.Grants, null, at, SharingSource.Read))
                : Known<Sharing>.Unknown,
        };

    private static string? Rewound(SiteFacts site, IEnumerable<string> latestFirst)
    {
        IReadOnlyDictionary<string, JournalValue>? facts = SiteRecord
            .Of(site)
            .All.ToDictionary(field => field.Name, field => field.Value);
        foreach (var text in latestFirst)
        {
            using var json = JsonDocument.Parse(text);
            var entry = json.RootElement;
            facts = SiteRecord.Before(
                facts,
                JournalAction.Find(entry.GetProperty("action").GetString()!),
                JournalValue.Read(entry.GetProperty("before")),
                JournalValue.Read(entry.GetProperty("after"))
            );
            if (facts is null)
            {
                return null;
            }
        }

        return new JournalValue.Fields([.. facts.Select(fact => (fact.Key, fact.Value))]).Canonical();
    }

    private static string? Text(SiteFacts? site) => site is null ? null : SiteRecord.Of(site).Canonical();
}
