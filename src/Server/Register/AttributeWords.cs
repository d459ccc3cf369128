using AtticLedger.Core.Filters;
using AtticLedger.Core.Rules;

namespace AtticLedger.Server.Register;

/// <summary>An attribute or a part of a list's elements, as the sentence offers it.</summary>
/// <param name="Type">text, word, number, instant or truth.</param>
/// <param name="Order">The words of an ordered attribute, the least first.</param>
public sealed record AttributeWire(
    string Name,
    string Words,
    string Says,
    string Type,
    IReadOnlyList<string> Order,
    bool CanSort
);

/// <summary>How the sentence speaks of attributes.</summary>
internal static class AttributeWords
{
    private static readonly Dictionary<string, string> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        ["visits"] = "the number of visits in a week",
        ["pages"] = "the number of pages",
        ["units"] = "its unit or one above",
        ["edited"] = "the last edit",
        ["created"] = "the day it was made",
        ["visited"] = "the last visit",
        ["existence"] = "its place",
        ["view.inside"] = "who reads it inside",
        ["view.outside"] = "who reads it outside",
        ["preview.inside"] = "who reads the working copy inside",
        ["preview.outside"] = "who reads the working copy outside",
        ["edit.inside"] = "who edits inside",
        ["edit.outside"] = "who edits outside",
        ["view.inside.allowed"] = "who may read it inside",
        ["view.outside.allowed"] = "who may read it outside",
        ["preview.inside.allowed"] = "who may read the working copy inside",
        ["preview.outside.allowed"] = "who may read the working copy outside",
        ["editors.count"] = "the number of editors",
        ["view.beyond"] = "read by more than allowed",
        ["preview.beyond"] = "its working copy read by more than allowed",
        ["edit.beyond"] = "edited by more than allowed",
        ["beyond"] = "further reached than allowed",
        ["owners"] = "an owner's address",
        ["owners.value"] = "an owner's address",
        ["owners.domain"] = "an owner's mail domain",
        ["owners.name"] = "an owner's name",
        ["owners.standing"] = "an owner's standing",
        ["owners.outside"] = "owned from outside",
        ["owners.fit"] = "owned by somebody fit",
        ["owners.unit"] = "an owner's unit",
        ["owners.fit.count"] = "the number of fit owners",
        ["underway"] = "under way",
        ["underway.count"] = "the number of orders under way",
        ["vanished"] = "vanished from its host",
        ["breaks"] = "a broken rule",
        ["breaks.value"] = "a broken rule",
        ["breaks.level"] = "a broken rule's level",
        ["excused"] = "an excused rule",
        ["excused.value"] = "an excused rule",
        ["excused.level"] = "an excused rule's level",
        ["unsure"] = "a rule nobody can judge",
        ["unsure.value"] = "a rule nobody can judge",
        ["unsure.level"] = "the level of a rule nobody can judge",
        ["purpose"] = "its purpose",
        ["tags"] = "a tag",
        ["tags.value"] = "a tag",
        ["words"] = "a word that is no tag",
        ["words.value"] = "a word that is no tag",
        ["name.shown"] = "the name it shows",
        ["name.home"] = "what its home page is called",
        ["name.drift"] = "a name that says something else",
        ["name.drift.value"] = "a name that says something else",
        ["description"] = "its description",
        ["language"] = "its language",
        ["disputed"] = "a fact that sources dispute",
        ["disputed.value"] = "a fact that sources dispute",
        ["joining"] = "how one gets in by oneself",
        ["joining.waiting"] = "the number who wait to get in",
        ["shared"] = "the number of pieces that stand elsewhere too",
        ["sections"] = "a section of its own",
        ["sections.value"] = "a section of its own",
        ["ajar"] = "a section left open",
        ["ajar.value"] = "a section left open",
        ["plan"] = "its paid plan",
        ["plan.ends"] = "the end of what is paid for",
        ["plan.renews"] = "renewed by itself",
        ["plan.sites"] = "the number of sites on its plan",
        ["mail"] = "its mail address",
        ["owes"] = "owing somebody something",
        ["signals"] = "something to look at in it",
        ["signals.value"] = "something to look at in it",
        ["storage"] = "storage in kB",
        ["domains"] = "a web domain",
        ["domains.value"] = "a web domain",
        ["bin.since"] = "the day it was put in the bin",
        ["bin.until"] = "the end of its time in the bin",
    };

    /// <summary>All that a clause can speak of: attributes, and for lists the parts of their elements.</summary>
    public static readonly IReadOnlyList<AttributeWire> All =
    [
        .. JudgedLine.Attributes.All.SelectMany(attribute =>
            attribute is ListAttribute<JudgedLine> list
                ? list.Parts.Select(part => Wire($"{list.Name}.{part.Name}", part.Says, part.TypeWord, false))
                : [Wire(attribute.Name, attribute.Says, attribute.TypeWord, true)]
        ),
    ];

    public static string Of(string name) => Known.TryGetValue(name, out var words) ? words : name.Replace('.', ' ');

    private static AttributeWire Wire(string name, string says, string typeWord, bool canSort) =>
        new(
            name,
            Of(name),
            says,
            typeWord switch
            {
                "number" => "number",
                "instant" => "instant",
                "true or false" => "truth",
                _ => typeWord.Contains('<', StringComparison.Ordinal) ? "word" : "text",
            },
            typeWord.Contains('<', StringComparison.Ordinal) ? typeWord.Split(" < ") : [],
            canSort
        );
}
