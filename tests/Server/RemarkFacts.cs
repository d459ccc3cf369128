using System.Text.Json;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Server.Sentences;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>Each remark has one sentence, made in one place, with its parameters in it; it is stored and read again.</summary>
public class RemarkFacts
{
    public static TheoryData<string> Codes => [.. Remark.All.Select(Remark.CodeOf)];

    [Theory]
    [MemberData(nameof(Codes))]
    public void A_remark_has_a_sentence_with_its_parameters_and_survives_the_database(string code)
    {
        var remark = Sample(Remark.All.Single(type => Remark.CodeOf(type) == code));
        var sentence = RemarkSentence.Of(remark);
        Assert.NotEmpty(sentence);
        foreach (var value in RemarkResponse.Of(remark).Parameters.Values.OfType<string>())
        {
            Assert.Contains(value, sentence, StringComparison.Ordinal);
        }

        // Lists are equal by their elements.
        Assert.Equal(JsonSerializer.Serialize<object>(remark), JsonSerializer.Serialize<object>(Json.Remark(Json.Of(remark))));
    }

    [Fact]
    public void Codes_are_distinct()
    {
        var codes = Remark.All.Select(Remark.CodeOf).ToList();
        Assert.Equal(codes.Distinct(), codes);
        Assert.True(codes.Count > 150);
    }

    public static TheoryData<string, Remark> Sentences =>
        new()
        {
            {
                "A hold blocks it until the end of 31 Dec 2026: Inquiry 9. Slipway empties its bin by itself, so a held site cannot be moved to the attic.",
                new HeldFromAttic(new DateOnly(2026, 12, 31), "Inquiry 9", "Slipway")
            },
            {
                "A hold blocks it: Inquiry 9. Slipway empties its bin by itself, so a held site cannot be moved to the attic.",
                new HeldFromAttic(null, "Inquiry 9", "Slipway")
            },
            {
                "12 vouchers are not used, which can be claimed until the end of 2 Mar 2027. Settle them at Slipway first.",
                new ObligationOpen(12, "vouchers are not used", new DateOnly(2027, 3, 2), "Slipway")
            },
            {
                "All of the staff may be able to read it, so a second person has to agree.",
                new StaffNeedSecond(Power.View, Certain: false)
            },
            {
                "Anonymous visitors can edit it, so a second person has to agree.",
                new AnonymousNeedSecond(Power.Edit, Certain: true)
            },
            {
                "Slipway could restore it until 07:30 on 2 Mar 2027, which has passed.",
                new RecoveryPassed("Slipway", new DateTimeOffset(2027, 3, 2, 7, 30, 0, TimeSpan.FromHours(1)))
            },
            {
                "Ottoline Farrow leaves on 30 Nov.",
                new NewOwnerIneligible("Ottoline Farrow", Ineligibility.Leaves, new DateOnly(2026, 11, 30))
            },
            { "Ottoline Farrow is leaving.", new NewOwnerIneligible("Ottoline Farrow", Ineligibility.Leaves, null) },
            { "The address a/b is used by a site that you may not see.", new AddressTaken("a/b", null) },
            { "One of these sites does not exist.", new BatchSitesMissing(1) },
            { "There is no tag \"boats\". Somebody has changed the list meanwhile.", new TermMissing(ClaimedFact.Tags, "boats") },
            {
                "\"x\" is not a purpose in the vocabulary. Choose one of: open, shut, ….",
                new NoSuchTerm(ClaimedFact.Purpose, "x", ["open", "shut"], More: true)
            },
            {
                "Hearth has access by groups only, so a site cannot be handed over from here. Make a group an owner at Hearth; the next sync reports it.",
                new HandoverByGroup("Hearth", null)
            },
            {
                "Slipway does not report the access to this site, so the change cannot be undone yet.",
                new AccessNotReported("Slipway", AccessStep.Undo)
            },
        };

    [Theory]
    [MemberData(nameof(Sentences))]
    public void A_sentence_says_what_its_parameters_are(string sentence, Remark remark) =>
        Assert.Equal(sentence, RemarkSentence.Of(remark));

    [Fact]
    public void A_remark_of_a_newer_program_is_read_as_its_code() =>
        Assert.Equal(new RecordedByNewerVersion("of-tomorrow"), Json.Remark("""{"code":"of-tomorrow","parameters":{}}"""));

    private static Remark Sample(Type type) =>
        (Remark)
            Activator.CreateInstance(
                type,
                [
                    .. type.GetConstructors()
                        .Single(one => one.IsPublic)
                        .GetParameters()
                        .Select(one => Value(one.ParameterType, one.Name!)),
                ]
            )!;

    private static object Value(Type type, string name) =>
        Nullable.GetUnderlyingType(type) is { } inner ? Value(inner, name)
        : type == typeof(string) ? $"the {name}"
        : type == typeof(int) ? 7
        : type == typeof(bool) ? true
        : type == typeof(DateOnly) ? new DateOnly(2027, 3, 2)
        : type == typeof(DateTimeOffset) ? new DateTimeOffset(2027, 3, 2, 7, 30, 0, TimeSpan.Zero)
        : type.IsEnum ? Enum.GetValues(type).GetValue(1)!
        : type == typeof(IReadOnlyList<string>) ? new[] { "one", "two" }
        : throw new InvalidOperationException($"There is no sample of {type.Name}.");
}
