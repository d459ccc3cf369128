using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Filters;

/// <summary>The examples of RFC 7644, section 3.4.2.2, figure 2, over three users.</summary>
public class ExamplesOfRfc7644
{
    private const string Core = "urn:ietf:params:scim:schemas:core:2.0:User";
    private const string Enterprise = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User";

    private static readonly AttributeList<string> Schema = new([new TextAttribute<string>("value", "", Known.Text)]);

    private static readonly AttributeList<Typed> TypedParts = new([
        new TextAttribute<Typed>("value", "", one => Known.Text(one.Value)),
        new TextAttribute<Typed>("type", "", one => Known.Text(one.Type)),
    ]);

    private static readonly AttributeList<User> Attributes = new([
        new TextAttribute<User>("userName", "", user => Known.Text(user.UserName)),
        new TextAttribute<User>($"{Core}:userName", "", user => Known.Text(user.UserName)),
        new TextAttribute<User>("name.familyName", "", user => Known.Text(user.FamilyName)),
        new TextAttribute<User>("title", "", user => Known.Text(user.Title)),
        new TextAttribute<User>("userType", "", user => Known.Text(user.UserType)),
        new MomentAttribute<User>("meta.lastModified", "", user => Known.Of(user.LastModified)),
        new ListAttribute<User, string>("schemas", "", Schema, user => new(user.Schemas, true)),
        new ListAttribute<User, Typed>("emails", "", TypedParts, user => new(user.Emails, true)),
        new ListAttribute<User, Typed>("ims", "", TypedParts, user => new(user.Ims, true)),
    ]);

    private static readonly User[] Users =
    [
        new(
            "bjensen",
            "O'Malley",
            "Tour guide",
            "Employee",
            Instant("2011-05-13T04:42:34Z"),
            [Core, Enterprise],
            [new("work", "bjensen@example.com"), new("home", "babs@jensen.org")],
            []
        ),
        new(
            "JSmith",
            "Smith",
            "",
            "Intern",
            Instant("2012-01-01T00:00:00Z"),
            [Core],
            [new("home", "smith@example.org")],
            [new("xmpp", "smith@foo.com")]
        ),
        new(
            "carol",
            "Jones",
            "Lead",
            "Contractor",
            Instant("2010-01-01T00:00:00Z"),
            [Core],
            [new("work", "carol@elsewhere.net")],
            [new("aim", "carol@foo.com")]
        ),
    ];

    [Theory]
    [InlineData("userName Eq \"bjensen\"", "bjensen")]
    [InlineData("name.familyName co \"O'Malley\"", "bjensen")]
    [InlineData("userName sw \"J\"", "JSmith")]
    [InlineData("urn:ietf:params:scim:schemas:core:2.0:User:userName sw \"J\"", "JSmith")]
    [InlineData("title pr", "bjensen carol")]
    [InlineData("meta.lastModified gt \"2011-05-13T04:42:34Z\"", "JSmith")]
    [InlineData("meta.lastModified ge \"2011-05-13T04:42:34Z\"", "bjensen JSmith")]
    [InlineData("meta.lastModified lt \"2011-05-13T04:42:34Z\"", "carol")]
    [InlineData("meta.lastModified le \"2011-05-13T04:42:34Z\"", "bjensen carol")]
    [InlineData("title pr and userType eq \"Employee\"", "bjensen")]
    [InlineData("title pr or userType eq \"Intern\"", "bjensen JSmith carol")]
    [InlineData("schemas eq \"urn:ietf:params:scim:schemas:extension:enterprise:2.0:User\"", "bjensen")]
    [InlineData("userType eq \"Employee\" and (emails co \"example.com\" or emails.value co \"example.org\")", "bjensen")]
    [InlineData("userType ne \"Employee\" and not (emails co \"example.com\" or emails.value co \"example.org\")", "carol")]
    [InlineData("userType eq \"Employee\" and (emails.type eq \"work\")", "bjensen")]
    [InlineData("userType eq \"Employee\" and emails[type eq \"work\" and value co \"@example.com\"]", "bjensen")]
    [InlineData(
        "emails[type eq \"work\" and value co \"@example.com\"] or ims[type eq \"xmpp\" and value co \"@foo.com\"]",
        "bjensen JSmith"
    )]
    public void Each_finds_whom_the_text_says(string filter, string found)
    {
        var mask = new ColumnsOfLines<User>(Users).Evaluate(Filter.Parse(filter, Attributes));

        Assert.Equal(found, string.Join(' ', mask.Lines().Select(line => Users[line].UserName)));
        Assert.Equal(0, mask.CountUnknown);
    }

    private static DateTimeOffset Instant(string text) =>
        DateTimeOffset.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    private sealed record Typed(string Type, string Value);

    private sealed record User(
        string UserName,
        string FamilyName,
        string Title,
        string UserType,
        DateTimeOffset LastModified,
        IReadOnlyList<string> Schemas,
        IReadOnlyList<Typed> Emails,
        IReadOnlyList<Typed> Ims
    );
}
