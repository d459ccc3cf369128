using System.Text.RegularExpressions;
using AtticLedger.Core.Access;
using AtticLedger.Core.Ownership;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Actions;

/// <summary>Judges a request to start a site: the same way while it is typed, when it is sent, and when it is granted.</summary>
public static partial class StartSite
{
    public const int LongestName = 120;
    public const int LongestText = 1000;
    public const int MostPeople = 50;
    private const int LongestLanguage = 35;
    private const int LongName = 40;
    private static readonly Dictionary<string, StartField> FieldsByAttribute = new()
    {
        ["name"] = StartField.Name,
        ["address"] = StartField.Address,
        ["mail"] = StartField.Alias,
        ["unit"] = StartField.Unit,
        ["purpose"] = StartField.Purpose,
        ["classification"] = StartField.Classification,
        ["tags"] = StartField.Tags,
        ["unmapped"] = StartField.Tags,
        ["language"] = StartField.Language,
        ["description"] = StartField.Description,
        ["notice"] = StartField.ContentNotice,
        ["ends"] = StartField.Ends,
        ["owners"] = StartField.Owners,
        ["view"] = StartField.Reach,
        ["preview"] = StartField.Reach,
        ["edit"] = StartField.Reach,
        ["exceeds"] = StartField.Reach,
    };

    public static StartVerdict Judge(StartFacts facts, NewSite wanted, Actor actor)
    {
        var refusals = new List<FieldRemark>();
        var because = new List<FieldRemark>();
        var advice = new List<FieldRemark>();
        var kind = facts.Organisation.KindsToStart.FirstOrDefault(one => one.Kind == wanted.Kind);
        if (!facts.PeopleDirectory.IsHere(actor.Person))
        {
            refusals.Add(new FieldRemark(StartField.Kind, new StarterNotStaff()));
        }

        if (kind is null)
        {
            refusals.Add(
                new FieldRemark(
                    StartField.Kind,
                    new KindNotStarted([.. facts.Organisation.KindsToStart.Select(one => NameOf(one.Kind, facts.Organisation))])
                )
            );
        }
        else
        {
            OfKind(kind, facts, wanted, actor, refusals, because);
            OfAddress(kind, facts, wanted, refusals, because, advice);
        }

        OfName(wanted, refusals, advice);
        OfWords(facts, wanted, refusals);
        OfPeople(facts, wanted, actor, refusals, because);
        if (kind is null)
        {
            return new StartVerdict(refusals, because, [], advice, [], null);
        }

        var (grants, changes) = Granted(kind, facts, wanted, because);
        var site = new ComputedSite(
            wanted.Prospect(kind, grants, facts.PeopleDirectory),
            facts.Organisation,
            facts.PeopleDirectory
        );
        OfRules(facts, site, because, advice);
        return new StartVerdict(refusals, because, changes, advice, grants, site);
    }

    /// <summary>The widest reach that a kind can have in a unit, whatever is asked for; and what limits it.</summary>
    public static AccessPath MostOf(KindToStart kind, UnitCode? unit, Organisation organisation, PeopleDirectory directory)
    {
        var open = new NewSite
        {
            Kind = kind.Kind,
            Unit = unit,
            Reach = new ViewReach(InsideLevel.Staff, OutsideLevel.Anonymous, VisitorSignIn.None),
        };
        return new ComputedSite(open.Prospect(kind, open.Grants(directory), directory), organisation, directory).AccessPath(
            Power.View
        );
    }

    /// <summary>The reach that a purpose expects; owners and editors only if none is set.</summary>
    public static ViewReach ReachFor(string? purpose, Organisation organisation) =>
        organisation.ExpectedReaches.FirstOrDefault(one => one.Purpose == purpose)?.Reach ?? ViewReach.Named;

    /// <summary>The name of a kind, as screens show it.</summary>
    public static string NameOf(string kind, Organisation organisation) =>
        organisation.Kinds.FirstOrDefault(one => one.Code == kind)?.Name ?? kind;

    private static void OfKind(
        KindToStart kind,
        StartFacts facts,
        NewSite wanted,
        Actor actor,
        List<FieldRemark> refusals,
        List<FieldRemark> because
    )
    {
        var name = NameOf(kind.Kind, facts.Organisation);
        switch (kind.StartedBy)
        {
            case StartedBy.Administrators when actor.As != Capacity.Administrator:
                refusals.Add(new FieldRemark(StartField.Kind, new KindByAdministrators(name)));
                break;
            case StartedBy.Request:
                because.Add(new FieldRemark(StartField.Kind, new KindByRequest(name)));
                break;
        }

        if (!facts.Organisation.CapabilitiesOf(kind.Host).MakesSites)
        {
            because.Add(new FieldRemark(StartField.Kind, new MadeByHand(kind.Host)));
        }

        if (
            facts.Organisation.Kinds.FirstOrDefault(one => one.Code == kind.Kind) is { } its
            && !KindFloors.CanHold(its, wanted.Reach.Inside)
        )
        {
            refusals.Add(
                new FieldRemark(
                    StartField.Reach,
                    new KindAlwaysAllStaff(
                        name,
                        [
                            .. facts
                                .Organisation.KindsToStart.Where(one =>
                                    facts.Organisation.Kinds.FirstOrDefault(other => other.Code == one.Kind)
                                        is not { AlwaysAllStaff: true }
                                )
                                .Select(one => NameOf(one.Kind, facts.Organisation)),
                        ]
                    )
                )
            );
        }
    }

    private static void OfName(NewSite wanted, List<FieldRemark> refusals, List<FieldRemark> advice)
    {
        if (string.IsNullOrWhiteSpace(wanted.Name))
        {
            refusals.Add(new FieldRemark(StartField.Name, new NameMissing()));
        }
        else if (wanted.Name.Length > LongestName)
        {
            refusals.Add(new FieldRemark(StartField.Name, new NameTooLong(wanted.Name.Length, LongestName)));
        }
        else if (wanted.Name.Length > LongName)
        {
            advice.Add(new FieldRemark(StartField.Name, new NameIsLong(wanted.Name.Length)));
        }
    }

    private static void OfWords(StartFacts facts, NewSite wanted, List<FieldRemark> refusals)
    {
        if (wanted.Unit is not { } unit)
        {
            refusals.Add(new FieldRemark(StartField.Unit, new NewSiteWithoutUnit()));
        }
        else if (facts.PeopleDirectory.Find(unit) is null)
        {
            refusals.Add(new FieldRemark(StartField.Unit, new UnitUnknown(unit.Value)));
        }

        if (wanted.Purpose is null)
        {
            refusals.Add(new FieldRemark(StartField.Purpose, new PurposeMissing()));
        }

        foreach (
            var (field, fact, word) in new[]
            {
                (StartField.Purpose, ClaimedFact.Purpose, wanted.Purpose),
                (StartField.Classification, ClaimedFact.Classification, wanted.Classification),
            }.Concat(wanted.Tags.Select(tag => (StartField.Tags, ClaimedFact.Tags, (string?)tag)))
        )
        {
            if (word is not null && !facts.Organisation.Terms.Any(term => term.Fact == fact && term.Code == word))
            {
                refusals.Add(new FieldRemark(field, new WordNotApproved(word)));
            }
        }

        if (wanted.Language is { } language && (language.Length > LongestLanguage || !LanguageTag.IsMatch(language)))
        {
            refusals.Add(new FieldRemark(StartField.Language, new LanguageMalformed(language)));
        }

        foreach (
            var (field, text) in new[]
            {
                (StartField.Description, wanted.Description),
                (StartField.ContentNotice, wanted.ContentNotice),
            }
        )
        {
            if (text?.Length > LongestText)
            {
                refusals.Add(new FieldRemark(field, new FieldTooLong(text.Length, LongestText)));
            }
        }

        if (wanted.Ends < facts.PeopleDirectory.Today)
        {
            refusals.Add(new FieldRemark(StartField.Ends, new EndIsPast(wanted.Ends.Value)));
        }
    }

    // Well-formed as RFC 5646, section 2.1, wants it: a language of letters, then subtags of at most 8 letters or digits.
    [GeneratedRegex("^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$", RegexOptions.CultureInvariant)]
    private static partial Regex LanguageTag { get; }

    private static void OfPeople(
        StartFacts facts,
        NewSite wanted,
        Actor actor,
        List<FieldRemark> refusals,
        List<FieldRemark> because
    )
    {
        if (wanted.Owners.Count == 0)
        {
            refusals.Add(new FieldRemark(StartField.Owners, new NewSiteWithoutOwner()));
        }
        else if (!wanted.Owners.Contains(actor.Person))
        {
            because.Add(new FieldRemark(StartField.Owners, new StartsForOthers()));
        }

        foreach (var (field, people) in new[] { (StartField.Owners, wanted.Owners), (StartField.Editors, wanted.Editors) })
        {
            if (people.Count > MostPeople)
            {
                refusals.Add(new FieldRemark(field, new PeopleTooMany(people.Count, MostPeople)));
                continue;
            }

            foreach (var id in people)
            {
                refusals.AddRange(WhyNot(facts, id, field, actor).Select(remark => new FieldRemark(field, remark)));
            }
        }
    }

    private static IEnumerable<Remark> WhyNot(StartFacts facts, PersonId id, StartField field, Actor actor)
    {
        if (facts.PeopleDirectory.Find(id) is not { } person)
        {
            return [new PersonNotInRegister()];
        }

        if (field == StartField.Owners)
        {
            return Successors
                .WhyNotActive(person, facts.PeopleDirectory, facts.Organisation.ActiveDays, actor.KnowsDays)
                .Select(why => new NewOwnerIneligible(person.Name, why.Because, why.Day));
        }

        var hasLeft = facts.PeopleDirectory.Standings[facts.PeopleDirectory.PlaceOf(id)!.Value] == Standing.Left;
        return hasLeft ? [new EditorIneligible(person.Name, actor.KnowsDays ? Ineligibility.Left : Ineligibility.NotSaid)]
            : person.Mail.Length == 0 ? [new EditorIneligible(person.Name, Ineligibility.NoMail)]
            : [];
    }

    // The access that policy allows of what is asked for, and what that changes.
    private static (IReadOnlyList<Grant> Grants, IReadOnlyList<FieldRemark> Changes) Granted(
        KindToStart kind,
        StartFacts facts,
        NewSite wanted,
        List<FieldRemark> because
    )
    {
        var asked = wanted.Grants(facts.PeopleDirectory);
        if (wanted.Purpose is { } purpose && !wanted.Reach.IsWithin(ReachFor(purpose, facts.Organisation)))
        {
            because.Add(
                new FieldRemark(
                    StartField.Reach,
                    new ReachBeyondPurpose(facts.Organisation.Words.Meant(ClaimedFact.Purpose, purpose)?.Name ?? purpose)
                )
            );
        }

        var site = wanted.Prospect(kind, asked, facts.PeopleDirectory);
        var computed = new ComputedSite(site, facts.Organisation, facts.PeopleDirectory);
        if (!RestrictReach.Remedy(computed).Has(out var allowed))
        {
            because.Add(new FieldRemark(StartField.Reach, new ReachLimitUnknown()));
            return (asked, []);
        }

        var narrower = new Restricting(
            new ActionFacts(site, [], facts.Organisation, facts.Rules, facts.PeopleDirectory),
            allowed
        ).Of(asked);
        return narrower.Count == 0
            ? (asked, [])
            : (
                asked.With(narrower),
                [
                    new FieldRemark(
                        StartField.Reach,
                        new ReachNarrowed([
                            .. Powers
                                .Limited.SelectMany(power => computed.AccessPath(power).Steps)
                                .Where(step => step.Bindings.Any(binding => binding.IsCertain))
                                .Select(step => step.Layer.Name)
                                .Distinct(),
                        ])
                    ),
                ]
            );
    }

    private static void OfRules(StartFacts facts, ComputedSite site, List<FieldRemark> because, List<FieldRemark> advice)
    {
        foreach (var finding in facts.Rules.Judge(site))
        {
            var (id, title) = (finding.Rule.Id.Value, finding.Rule.Title);
            var remark = new FieldRemark(
                FieldOf(finding.Rule, facts.Rules.Today),
                finding.Verdict == Verdict.Breaks
                    ? new WouldBreak(id, title, finding.Rule.Level == Level.Critical)
                    : new WouldNotTell(id, title)
            );
            (finding is { Verdict: Verdict.Breaks, Rule.Level: Level.Critical } ? because : advice).Add(remark);
        }
    }

    // A finding is shown at the first field that its demand is about.
    private static StartField FieldOf(Rule rule, Today today) =>
        new RuleExpression("", rule.Demand.Expression)
            .Reads(SiteAttributes.List, today)
            .Select(attribute =>
                FieldsByAttribute.TryGetValue(attribute.Name.Split('.')[0], out var field) ? field : (StartField?)null
            )
            .FirstOrDefault(field => field is not null)
        ?? StartField.Kind;
}
