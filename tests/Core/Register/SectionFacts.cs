using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using static AtticLedger.Core.Tests.Harbour;

namespace AtticLedger.Core.Tests.Index;

/// <summary>Parts of a site with their own access, under the limits on the site.</summary>
public class SectionFacts
{
    private readonly Harbour harbour = new();

    [Fact]
    public void A_section_that_stands_free_is_ajar_where_it_lets_in_whom_the_site_does_not()
    {
        var line = Line(
            Site(ToPerson(Power.Own, Vane)),
            Section(SectionTie.StandingFree, ToStaff(Power.View)),
            Section(SectionTie.StandingFree, ToPerson(Power.View, Vane)),
            Section(SectionTie.Nested, ToStaff(Power.View))
        );
        Assert.Equal([Truth.Yes, Truth.No, Truth.No], line.Sections.Select(section => section.IsAjar));
        Assert.Equal([5, 1, 1], line.Sections.Select(section => section.View.AtLeast.CountPeople(harbour.PeopleDirectory)));
    }

    [Fact]
    public void A_site_in_the_attic_shuts_nothing_that_has_a_door_of_its_own()
    {
        var open = Line(
            Site(ToStaff(Power.View)),
            Section(SectionTie.StandingFree, ToStaff(Power.View)),
            Section(SectionTie.Nested, ToStaff(Power.View))
        );
        Assert.Equal([Truth.No, Truth.No], open.Sections.Select(section => section.IsAjar));
        var shut = Line(
            Site(ToStaff(Power.View)) with
            {
                Existence = Existence.Attic,
            },
            Section(SectionTie.StandingFree, ToStaff(Power.View)),
            Section(SectionTie.Nested, ToStaff(Power.View))
        );
        Assert.Equal([Truth.Yes, Truth.No], shut.Sections.Select(section => section.IsAjar));
        Assert.Equal(0, shut.Sections[1].View.AtMost.CountPeople(harbour.PeopleDirectory));
    }

    [Fact]
    public void Where_it_is_not_known_who_gets_into_the_site_nobody_can_tell_whether_a_section_is_ajar()
    {
        var line = Line(Site() with { Sharing = Known<Sharing>.Unknown }, Section(SectionTie.StandingFree, ToStaff(Power.View)));
        Assert.Equal(Truth.Unknown, line.Sections[0].IsAjar);
        Assert.Equal(
            Truth.Unknown,
            new ColumnsOfLines<ComputedSite>([line]).Evaluate(Filter.Parse("ajar pr", SiteAttributes.List))[0]
        );
        Assert.Empty(Line(Site()).Sections);
    }

    [Fact]
    public void Layers_that_the_host_enforces_apply_to_its_sections_too()
    {
        harbour.Limit(LayerKind.Host, "Slipway", Enforcer.Host, Inside(InsideLimit.Named));
        Assert.Equal(
            0,
            Line(Site(), Section(SectionTie.StandingFree, ToStaff(Power.View)))
                .Sections[0]
                .View.AtMost.CountPeople(harbour.PeopleDirectory)
        );
    }

    private static SiteSection Section(SectionTie tie, params IReadOnlyList<Grant> grants) =>
        new("s", "Section", tie, [.. grants]);

    private ComputedSite Line(SiteFacts site, params IReadOnlyList<SiteSection> sections) =>
        new(
            site with
            {
                Sections =
                    sections.Count == 0 ? Known<IReadOnlyList<SiteSection>>.None : Known<IReadOnlyList<SiteSection>>.Of(sections),
            },
            harbour.Organisation,
            harbour.PeopleDirectory
        );
}
