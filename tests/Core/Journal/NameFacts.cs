using AtticLedger.Core.Journal;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Journal;

public class NameFacts
{
    public static TheoryData<EntryActor> Actors =>
        [EntryActor.Of(new PersonId(7)), EntryActor.OfSource("Staff list"), EntryActor.Product, EntryActor.Anonymous];

    public static TheoryData<EntrySubject> Subjects =>
        [
            EntrySubject.Of(new SiteId(12)),
            EntrySubject.Of(new PersonId(7)),
            EntrySubject.OfSource("Staff list"),
            EntrySubject.Bundle,
            EntrySubject.Accounts,
            EntrySubject.Organisation,
            new EntrySubject.Account(3),
            new EntrySubject.Batch(new Guid(1, 2, 3, new byte[8])),
        ];

    [Theory]
    [MemberData(nameof(Actors))]
    public void An_actor_is_read_from_its_text(EntryActor actor) => Assert.Equal(actor, EntryActor.Parse(actor.Text));

    [Theory]
    [MemberData(nameof(Subjects))]
    public void A_subject_is_read_from_its_text(EntrySubject subject) => Assert.Equal(subject, EntrySubject.Parse(subject.Text));

    [Theory]
    [InlineData("site:")]
    [InlineData("site:-1")]
    [InlineData("site:99999999999999999999")]
    [InlineData("person:Ada")]
    [InlineData("batch:7")]
    [InlineData("ship:1")]
    public void A_text_of_another_version_is_nobody(string text)
    {
        Assert.Null(EntryActor.Parse(text));
        Assert.Null(EntrySubject.Parse(text));
    }

    [Fact]
    public void Every_action_is_found_by_its_name_and_has_its_own_label()
    {
        Assert.All(JournalAction.All, action => Assert.Same(action, JournalAction.Find(action.Name)));
        Assert.Equal(JournalAction.All.Count, JournalAction.All.Select(action => action.Label).Distinct().Count());
        Assert.Null(JournalAction.Find("site.painted"));
    }

    [Theory]
    [InlineData("zone", "Europe/London", null)]
    [InlineData("zone", "Merrowby", "there is no time zone \"Merrowby\"")]
    [InlineData("offer-days", "21", null)]
    [InlineData("offer-days", "soon", "offer-days has to be a number from 0 to 3650")]
    [InlineData("unreported-share", "101", "unreported-share has to be a number from 0 to 100")]
    [InlineData("host:Quay", "{}", null)]
    public void A_setting_has_a_value_that_it_can_have(string name, string value, string? fault) =>
        Assert.Equal(fault, Setting.Find(name)!.Fault(value));

    [Fact]
    public void A_setting_of_another_version_is_not_known() => Assert.Null(Setting.Find("colour"));
}
