using AtticLedger.Core.Access;
using AtticLedger.Core.People;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>
/// Where something is not known, what is told is what all ways of filling the gap share, and unknown is told exactly where
/// they differ. Each small world is filled in every way that its gaps leave, and each filling is judged by
/// <see cref="CompleteWorld"/>. Where a limit goes by the classification of owners and not all owners are known, what is told is
/// true
/// and need not be the narrowest: who an owner is then decides whom the limit refuses, and the other way round. Likewise
/// whether a part is ajar may stay unknown where a group that was read in part is let in: who is in it gets into both at once.
/// </summary>
public class EveryFilling
{
    private static readonly PersonId[] Everybody = [new(1), new(2), new(3), new(4), new(5), new(6), new(7)];
    private static readonly string[] Classifications = ["Guarded", "Sealed"];

    // Runs by hand have many registers with fewer fillings each.
    private static readonly int MostFillings = Setting("ATTIC_FILLINGS", 2500);

    [Fact]
    public void A_verdict_is_what_all_fillings_share()
    {
        var worlds = Setting("ATTIC_WORLDS", 500);
        var faults = new System.Collections.Concurrent.ConcurrentBag<string>();
        Parallel.For(0, worlds, (seed, loop) =>
        {
            foreach (var fault in new World(seed).Faults())
            {
                faults.Add($"World {seed}: {fault}. {new World(seed)}");
            }

            if (faults.Count > 20)
            {
                loop.Stop();
            }
        });
        Assert.True(faults.IsEmpty, string.Join(Environment.NewLine, faults));
    }

    private static int Setting(string name, int otherwise) =>
        int.Parse(Environment.GetEnvironmentVariable(name) ?? $"{otherwise}", System.Globalization.CultureInfo.InvariantCulture);

    private sealed class World
    {
        private readonly Random random;
        private readonly List<Person> people;
        private readonly List<Group> groups = [];
        private readonly List<LimitSetting> limits = [];
        private readonly SiteFacts site;
        private readonly bool isRead;

        // Gaps, each with every way to fill it.
        private int room = MostFillings;

        public World(int seed)
        {
            random = new Random(seed);
            people =
            [
                Member(1, PersonKind.Staff, Pilotage),
                Member(2, PersonKind.Staff, Yard),
                Member(3, PersonKind.Staff, Pilotage) with
                {
                    Standing = Standing.Left,
                },
                Member(4, PersonKind.Service, Yard),
                Member(5, PersonKind.Guest, null),
                Member(7, PersonKind.Staff, Marine),
                Member(6, PersonKind.Guest, null) with
                {
                    Standing = random.Next(2) == 0 ? Standing.Left : Standing.Current,
                },
            ];
            if (random.Next(4) == 0)
            {
                var place = random.Next(2);
                people[place] = people[place] with { Unit = Known<UnitCode>.Unknown };
                room /= Units.Count + 1;
            }

            for (var number = 1; number <= random.Next(3); number++)
            {
                var isOpen = random.Next(3) == 0 && room > 128;
                room /= isOpen ? 128 : 1;
                groups.Add(
                    new Group(
                        new GroupId(number),
                        $"g{number}",
                        [
                            .. Some(Everybody).Select(People.Member.Of),
                            .. number == 2 && groups[0].Complete && random.Next(3) == 0
                                ? [People.Member.Of(new GroupId(1))]
                                : (Member[])[],
                        ],
                        !isOpen
                    )
                );
            }

            for (var count = random.Next(4); count > 0; count--)
            {
                var kind = random.Next(6) switch
                {
                    0 => LayerKind.Organisation,
                    1 => LayerKind.Host,
                    2 => LayerKind.Unit,
                    3 => LayerKind.Classification,
                    4 => LayerKind.Kind,
                    _ => LayerKind.OwnersClassification,
                };
                var code = kind switch
                {
                    LayerKind.Host => "Slipway",
                    LayerKind.Unit => One(Units.Select(unit => unit.Code.Value).ToArray()),
                    LayerKind.Classification => One(Classifications),
                    LayerKind.Kind => "noticeboard",
                    LayerKind.OwnersClassification => "Trainee",
                    _ => "",
                };
                var isUnknown = kind is LayerKind.Host or LayerKind.Organisation && random.Next(3) == 0 && room >= 18;
                room /= isUnknown ? 18 : 1;
                var limit = new LimitSetting(
                    kind,
                    code,
                    random.Next(2) == 0 ? Enforcer.Host : Enforcer.Policy,
                    isUnknown ? Known<PowerLimits>.Unknown : Known.Of(new PowerLimits(AnyLimit(), AnyLimit(), AnyLimit()))
                );
                if (!limits.Exists(other => (other.Kind, other.Code, other.Enforcer) == (limit.Kind, limit.Code, limit.Enforcer)))
                {
                    limits.Add(limit);
                }
            }

            isRead = random.Next(8) > 0 || room < 58;
            room /= isRead ? 1 : 58;
            site = Site([.. Grants(1 + random.Next(3))]) with
            {
                Unit = Gap(One(Known<UnitCode>.None, Known.Of(Pilotage), Known.Of(Marine), Known.Of(Yard)), Units.Count + 1),
                Classification = Gap(
                    One(Known<string>.None, Known.Of("Guarded"), Known.Of("Sealed")),
                    Classifications.Length + 1
                ),
                Kind = Gap(One(Known<string>.None, Known.Of("noticeboard")), 2),
                Status = Gap(
                    Known.Of(One(Status.Published, Status.NeverPublished, Status.UnpublishedChanges, Status.Offline)),
                    2
                ),
            };
            site = site with
            {
                Sharing =
                    !isRead ? Known<Sharing>.Unknown
                    : random.Next(6) == 0
                        ? site.Sharing.Select(sharing => sharing with { OwnLimit = PowerLimits.Same(AnyLimit()) })
                    : site.Sharing,
                Joining = !isRead
                    ? Known<Joining>.None
                    : random.Next(6) switch
                    {
                        0 => Known.Of(new Joining(JoinWay.Open, 0, null, Known.Of(One(Power.View, Power.Edit)))),
                        1 when room >= 3 => Known.Of(new Joining(JoinWay.Open, 0, null)),
                        2 when room >= 4 => Known<Joining>.Unknown,
                        _ => Known<Joining>.None,
                    },
                Sections =
                    random.Next(3) == 0
                        ? Known<IReadOnlyList<SiteSection>>.Of([
                            new SiteSection(
                                "s",
                                "Part",
                                SectionTie.StandingFree,
                                [.. Grants(1).Select(grant => grant with { Power = Power.View })]
                            ),
                        ])
                        : Known<IReadOnlyList<SiteSection>>.None,
            };
        }

        public IEnumerable<string> Faults()
        {
            var directory = new PeopleDirectory(people, Units, groups, Now, Time);
            var line = new ComputedSite(site, new Organisation { Limits = limits }, directory);
            var fillings = Fillings().ToList();
            foreach (var power in Powers.Limited)
            {
                var at = (int)power;
                var accessPath = line.AccessPath(power);
                foreach (
                    var fault in Words($"{power} inside", line.Inside(power), [.. fillings.Select(told => told.Inside[at])])
                        .Concat(Words($"{power} outside", line.Outside(power), [.. fillings.Select(told => told.Outside[at])]))
                )
                {
                    yield return fault;
                }

                foreach (
                    var fault in Truth(
                        $"{power} beyond",
                        line.ExcessOf(power),
                        fillings.Select(told => told.Excess[at]),
                        MayBeLoose
                    )
                )
                {
                    yield return fault;
                }

                foreach (
                    var fault in Words(
                            $"{power} permitted inside",
                            Known.Of(accessPath.PermittedInside),
                            [.. fillings.Select(told => (int?)told.PermittedInside[at])]
                        )
                        .Concat(
                            Words(
                                $"{power} permitted outside",
                                Known.Of(accessPath.PermittedOutside),
                                [.. fillings.Select(told => (int?)told.PermittedOutside[at])]
                            )
                        )
                )
                {
                    yield return fault;
                }
            }

            if (site.Sections.Has(out _))
            {
                foreach (
                    var fault in Truth(
                        "ajar",
                        line.Sections[0].IsAjar,
                        fillings.Select(told => told.IsAjar),
                        MayBeLoose || LetsInGroupsReadInPart
                    )
                )
                {
                    yield return fault;
                }
            }

            foreach (
                var fault in Words(
                    "active owners",
                    Known.Of(new Span(line.Owners.ActiveAtLeast, line.Owners.ActiveAtMost ?? int.MaxValue)),
                    [.. fillings.Select(told => (int?)told.ActiveOwners)]
                )
            )
            {
                yield return fault;
            }

            if (
                line.EditorCount.AtLeast > fillings.Min(told => told.Editors)
                || line.EditorCount.AtMost < fillings.Max(told => told.Editors)
            )
            {
                yield return $"editors are {fillings.Min(told => told.Editors)} to {fillings.Max(told => told.Editors)}, told {line.EditorCount}";
            }
        }

        public override string ToString() =>
            string.Join(
                "; ",
                [
                    .. people.Select(person =>
                        $"{person.Name} {person.Kind} {person.Standing} unit {person.Unit} {person.Classification}"
                    ),
                    .. groups.Select(group =>
                        $"{group.Name}{(group.Complete ? "" : " in part")}: {string.Join(' ', group.Members.Select(member => $"{(member.Group is null ? 'p' : 'g')}{member.Person?.Value ?? member.Group?.Value}"))}"
                    ),
                    .. limits.Select(limit => $"{limit.Kind} {limit.Code} {limit.Enforcer} {Short(limit.Limits)}"),
                    $"unit {site.Unit} class {site.Classification} kind {site.Kind} stage {site.Status} joining {site.Joining}",
                    .. site.Sharing.Has(out var sharing)
                        ? sharing
                            .Grants.Select(grant => $"{grant.Power} to {grant.Subject} {grant.VisitorSignIn}")
                            .Append($"own {Short(sharing.OwnLimit is { } own ? Known.Of(own) : Known<PowerLimits>.None)}")
                        : ["not read"],
                    .. site.Sections.Or([]).Select(section => $"section for {section.Grants[0].Subject}"),
                ]
            );

        private static string Short(Known<PowerLimits> limits) =>
            limits.Has(out var known)
                ? string.Join(
                    ", ",
                    Powers
                        .Limited.Select(power => known.For(power))
                        .Select(limit => $"{limit.Inside.Word()}/{limit.Widest.Word()}/{limit.LeastSignIn.Word()}")
                )
            : limits.IsNone ? "none"
            : "unknown";

        // The set of owners and the limits of their classifications depend on each other.
        private bool MayBeLoose =>
            limits.Exists(limit => limit.Kind == LayerKind.OwnersClassification)
            && (
                !site.Sharing.Has(out var sharing)
                || sharing.Grants.Any(grant =>
                    grant.Power == Power.Own
                    && grant.Subject switch
                    {
                        Subject.OneGroup(var group) => IsReadInPart(group),
                        Subject.WholeUnit => people.Exists(person => person.Unit.IsUnknown),
                        _ => false,
                    }
                )
            );

        private bool LetsInGroupsReadInPart =>
            (site.Sharing.Has(out var sharing) ? sharing.Grants : [])
                .Concat(site.Sections.Or([]).SelectMany(section => section.Grants))
                .Any(grant => grant.Subject is Subject.OneGroup(var group) && IsReadInPart(group));

        private bool IsReadInPart(GroupId group) =>
            groups.Exists(one =>
                !one.Complete
                && (
                    one.Id == group
                    || groups.Exists(outer => outer.Id == group && outer.Members.Any(member => member.Group == one.Id))
                )
            );

        private IEnumerable<string> Truth(string what, Truth told, IEnumerable<bool> values, bool mayBeLoose)
        {
            var all = values.Distinct().ToList();
            var shared = all.Count > 1 ? Core.Terms.Truth.Unknown : Truths.Of(all[0]);
            if (told != shared && !(mayBeLoose && told == Core.Terms.Truth.Unknown))
            {
                yield return $"{what} is {shared}, told {told}";
            }
        }

        private IEnumerable<string> Words(string what, Known<Span> told, IReadOnlyList<int?> values)
        {
            var known = values.OfType<int>().ToList();
            var expected =
                known.Count == 0 ? Known<Span>.None
                : known.Count < values.Count ? Known<Span>.Unknown
                : Known.Of(new Span(known.Min(), known.Max()));
            if (
                told != expected
                && !(MayBeLoose && told.Has(out var wide) && expected.Has(out var restrict) && Span.Hull(wide, restrict) == wide)
            )
            {
                yield return $"{what} is {expected}, told {told}";
            }
        }

        private IEnumerable<Told> Fillings() =>
            from unit in Ways(site.Unit, Units.Select(unit => unit.Code))
            from classification in Ways(site.Classification, Classifications)
            from kind in Ways(site.Kind, ["noticeboard"])
            from status in Statuses()
            from members in Placed(0)
            from gathered in Gathered(0)
            from set in Set(0)
            from joining in Joinings()
            from sharing in Sharings()
            select new CompleteWorld(
                members,
                Harbour.Units,
                gathered,
                set,
                sharing.Grants,
                sharing.OwnLimit,
                joining,
                site with
                {
                    Unit = unit,
                    Classification = classification,
                    Kind = kind,
                    Status = status,
                }
            ).Judge();

        private Known<Status>[] Statuses() =>
            site.Status.IsUnknown
                ? [Known.Of(Status.Published), Known.Of(Status.NeverPublished), Known.Of(Status.Offline)]
                : [site.Status];

        private static IEnumerable<Known<T>> Ways<T>(Known<T> fact, IEnumerable<T> values)
            where T : notnull => fact.IsUnknown ? [Known<T>.None, .. values.Select(Known.Of)] : [fact];

        private IEnumerable<IReadOnlyList<Person>> Placed(int start)
        {
            var place = people.FindIndex(start, person => person.Unit.IsUnknown);
            return place < 0
                ? [people]
                : Ways(people[place].Unit, Units.Select(unit => unit.Code))
                    .Select(unit => people.Select((person, at) => at == place ? person with { Unit = unit } : person).ToList());
        }

        private IEnumerable<IReadOnlyList<Group>> Gathered(int start)
        {
            if (start == groups.Count)
            {
                return
                [
                    [],
                ];
            }

            var all = Enumerable
                .Range(0, groups[start].Complete ? 1 : 1 << Everybody.Length)
                .Select(which =>
                    groups[start] with
                    {
                        Complete = true,
                        Members =
                        [
                            .. groups[start].Members,
                            .. Everybody.Where((_, at) => (which >> at & 1) != 0).Select(People.Member.Of),
                        ],
                    }
                );
            return from rest in Gathered(start + 1) from one in all select Before(one, rest);
        }

        private IEnumerable<IReadOnlyList<LimitSetting>> Set(int start)
        {
            if (start == limits.Count)
            {
                return
                [
                    [],
                ];
            }

            var all = limits[start].Limits.Has(out var known) ? [known] : SomeLimits;
            return from rest in Set(start + 1)
                from limit in all
                select Before(limits[start] with { Limits = Known.Of(limit) }, rest);
        }

        private static IReadOnlyList<T> Before<T>(T one, IReadOnlyList<T> rest) => [one, .. rest];

        private static readonly PowerLimits[] SomeLimits =
        [
            PowerLimits.Open,
            PowerLimits.Shut,
            new(Limit.Open, Limit.Shut, Limit.Shut),
            new(Limit.Open, Limit.Open, Limit.Shut),
            Inside(InsideLimit.NamedInUnit),
            Outside(OutsideLevel.Partners),
            PowerLimits.Same(Limit.Open with { Inside = InsideLimit.Named, Widest = OutsideLevel.NoOne }),
            PowerLimits.Same(Limit.Open with { Inside = InsideLimit.NamedInUnit, Widest = OutsideLevel.NoOne }),
            Outside(OutsideLevel.Anonymous, VisitorSignIn.OneTimeCode),
            Outside(OutsideLevel.NamedGuests, VisitorSignIn.OneTimeCode),
            Inside(InsideLimit.Named),
            Inside(InsideLimit.Unit),
            Inside(InsideLimit.Nobody),
            Outside(OutsideLevel.NoOne),
            Outside(OutsideLevel.NamedGuests),
            Outside(OutsideLevel.Anonymous, VisitorSignIn.Account),
        ];

        private IEnumerable<Joining> Joinings()
        {
            var closed = new Joining(JoinWay.Invited, 0, null);
            Joining Open(Power power) => new(JoinWay.Open, 0, null, Known.Of(power));
            return !site.Joining.Has(out var joining)
                ? site.Joining.IsNone
                    ? [closed]
                    : [closed, Open(Power.View), Open(Power.Preview), Open(Power.Edit)]
                : joining.Members.IsUnknown
                    ? [Open(Power.View), Open(Power.Preview), Open(Power.Edit)]
                    : [joining];
        }

        // An unknown access setting can be anything; these values cover every distinguishable case.
        private IEnumerable<Sharing> Sharings()
        {
            if (site.Sharing.Has(out var read))
            {
                return [read];
            }

            Sharing Of(PowerLimits? own, params Grant[] grants) => new(grants, own, default, SharingSource.Read);
            var byName = Everybody.Select(person => ToPerson(Power.Own, person)).ToArray();
            return
            [
                Of(null),
                Of(PowerLimits.Shut),
                Of(null, byName),
                Of(null, ToStaff(Power.Own)),
                Of(null, ToAnonymous(Power.Own)),
                Of(null, ToPartners(Power.Own, VisitorSignIn.None)),
                Of(null, ToAnonymous(Power.Own, VisitorSignIn.Account)),
                Of(null, ToAnonymous(Power.Own, VisitorSignIn.OneTimeCode)),
                Of(null, ToPartners(Power.Own, VisitorSignIn.OneTimeCode)),
                Of(null, ToPartners(Power.Own)),
                Of(null, [.. byName.Select(grant => grant with { VisitorSignIn = VisitorSignIn.None })]),
                Of(null, [.. byName.Select(grant => grant with { VisitorSignIn = VisitorSignIn.OneTimeCode })]),
                Of(null, [.. byName[..3]]),
                Of(null, [.. byName, ToPartners(Power.Own)]),
                Of(null, [.. byName, ToPartners(Power.Own, VisitorSignIn.None)]),
                Of(null, [.. byName, ToAnonymous(Power.Own), ToStaff(Power.Own)]),
                Of(Inside(InsideLimit.Named), byName),
                Of(null, [.. Units.Select(unit => new Grant($"unit:{unit.Code}", Power.Own, new Subject.WholeUnit(unit.Code)))]),
                Of(null, ToStaff(Power.Edit)),
                Of(null, ToAnonymous(Power.Edit)),
                Of(null, ToPartners(Power.Edit, VisitorSignIn.None)),
                Of(Inside(InsideLimit.Named), [.. byName.Select(grant => grant with { Power = Power.Edit })]),
                .. Everybody.Select(person => Of(null, ToPerson(Power.Own, person))),
                .. Everybody.Select(person => Of(null, ToPerson(Power.Edit, person))),
                Of(null, [.. byName.Select(grant => grant with { Power = Power.Edit })]),
                .. byName.Select(one => Of(null, [.. byName.Except([one]).Select(grant => grant with { Power = Power.Edit })])),
                .. byName.Select(one => Of(null, [.. byName.Except([one])])),
            ];
        }

        private Known<T> Gap<T>(Known<T> known, int ways)
            where T : notnull
        {
            if (random.Next(5) > 0 || room < ways)
            {
                return known;
            }

            room /= ways;
            return Known<T>.Unknown;
        }

        private IEnumerable<Grant> Grants(int count)
        {
            for (var at = 0; at < count; at++)
            {
                var power = One(Power.View, Power.Preview, Power.Edit, Power.Own);
                var grant = random.Next(7) switch
                {
                    0 => ToStaff(power),
                    1 => ToPartners(power, One(VisitorSignIn.None, VisitorSignIn.Account)),
                    2 => ToAnonymous(power, One(VisitorSignIn.None, VisitorSignIn.OneTimeCode)),
                    3 => new Grant("unit", power, new Subject.WholeUnit(One(Units.Select(unit => unit.Code).ToArray()))),
                    4 when groups.Count > 0 => ToGroup(power, new GroupId(1)),
                    5 when groups.Count > 1 => ToGroup(power, new GroupId(2)),
                    _ => ToPerson(power, One(Everybody)),
                };
                yield return grant with
                {
                    Key = $"{grant.Key} {at}",
                };
            }
        }

        private Limit AnyLimit() =>
            random.Next(2) == 0
                ? Limit.Open
                : new(
                    One(InsideLimit.Staff, InsideLimit.Unit, InsideLimit.Named, InsideLimit.NamedInUnit, InsideLimit.Nobody),
                    One(Enum.GetValues<OutsideLevel>()),
                    One(Enum.GetValues<VisitorSignIn>()),
                    GuestInviter.AnyOwner
                );

        private Person Member(int id, PersonKind kind, UnitCode? unit) =>
            new(
                new PersonId(id),
                kind,
                $"p{id}",
                $"p{id}@merrowby.example",
                Standing.Current,
                null,
                unit is { } own ? Known.Of(own) : Known<UnitCode>.None,
                random.Next(4) == 0 ? "Trainee" : ""
            );

        private T One<T>(params T[] of) => of[random.Next(of.Length)];

        private IEnumerable<T> Some<T>(IEnumerable<T> of) => of.Where(_ => random.Next(3) == 0).ToList();
    }
}
