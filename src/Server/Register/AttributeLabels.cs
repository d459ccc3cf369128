using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;

namespace AtticLedger.Server.Register;

/// <summary>An attribute that the filter sentence offers, or a part of the elements of a list attribute.</summary>
/// <param name="Order">The values of an ordered attribute, the lowest first.</param>
/// <param name="InRules">False for what rules find, which a rule cannot read.</param>
public sealed record AttributeResponse(
    string Name,
    string Words,
    string Says,
    AttributeKind Type,
    IReadOnlyList<string> Order,
    bool CanSort,
    bool InRules
);

/// <summary>The labels of attributes in the filter sentence.</summary>
internal static class AttributeLabels
{
    private static readonly Dictionary<string, string> Known = new(StringComparer.OrdinalIgnoreCase)
    {
        ["units"] = "its unit or one above",
        ["existence"] = "its place",
        ["view.inside"] = "access inside to the published site",
        ["view.outside"] = "access from outside to the published site",
        ["preview.inside"] = "access inside to the draft",
        ["preview.outside"] = "access from outside to the draft",
        ["edit.inside"] = "edit access inside",
        ["edit.outside"] = "edit access from outside",
        ["view.inside.allowed"] = "access inside allowed to the published site",
        ["view.outside.allowed"] = "access from outside allowed to the published site",
        ["preview.inside.allowed"] = "access inside allowed to the draft",
        ["preview.outside.allowed"] = "access from outside allowed to the draft",
        ["editors.count"] = "the number of editors",
        ["view.exceeds"] = "exceeding policy in the published site",
        ["preview.exceeds"] = "exceeding policy in the draft",
        ["edit.exceeds"] = "exceeding policy in editing",
        ["exceeds"] = "exceeding policy",
        ["owners"] = "an owner's address",
        ["owners.value"] = "an owner's address",
        ["owners.domain"] = "an owner's mail domain",
        ["owners.name"] = "an owner's name",
        ["owners.standing"] = "an owner's standing",
        ["owners.outside"] = "owned from outside",
        ["owners.active"] = "owned by an active owner",
        ["owners.unit"] = "an owner's unit",
        ["owners.active.count"] = "the number of active owners",
        ["underway"] = "under way",
        ["underway.count"] = "the number of changes under way",
        ["no-longer-reported"] = "no longer reported by its host",
        ["breaks"] = "a broken rule",
        ["breaks.value"] = "a broken rule",
        ["causes"] = "the cause of a finding",
        ["causes.value"] = "the cause of a finding",
        ["breaks.level"] = "a broken rule's level",
        ["excepted"] = "a rule with an exception",
        ["excepted.value"] = "a rule with an exception",
        ["excepted.level"] = "the level of a rule with an exception",
        ["unsure"] = "a rule that cannot tell",
        ["unsure.value"] = "a rule that cannot tell",
        ["unsure.level"] = "the level of a rule that cannot tell",
        ["tags"] = "a tag",
        ["tags.value"] = "a tag",
        ["unmapped"] = "an unmapped tag",
        ["unmapped.value"] = "an unmapped tag",
        ["name.words"] = "a word of its name",
        ["name.words.value"] = "a word of its name",
        ["name.drift"] = "a name that differs",
        ["name.drift.value"] = "a name that differs",
        ["disputed"] = "a fact on which sources disagree",
        ["disputed.value"] = "a fact on which sources disagree",
        ["joining"] = "how people join",
        ["joining.waiting"] = "the number waiting to join",
        ["shared"] = "the number of shared parts",
        ["sections"] = "a section with its own access",
        ["sections.value"] = "a section with its own access",
        ["ajar"] = "a section open to others",
        ["ajar.value"] = "a section open to others",
        ["plan"] = "its paid plan",
        ["plan.ends"] = "the end of the paid period",
        ["plan.renews"] = "renewed automatically",
        ["plan.sites"] = "the number of sites on its plan",
        ["owes"] = "with open obligations",
        ["signals"] = "content to review",
        ["signals.value"] = "content to review",
        ["bin.since"] = "the day it was put in the bin",
        ["bin.until"] = "the end of its time in the bin",
    };

    /// <summary>Everything a clause can use: attributes, and for lists the parts of their elements.</summary>
    public static readonly IReadOnlyList<AttributeResponse> All =
    [
        .. JudgedSite.Attributes.All.SelectMany(attribute =>
            attribute is ListAttribute<JudgedSite> list
                ? list.Parts.Select(part => ToResponse($"{list.Name}.{part.Name}", part.Says, part.Type, attribute, false))
                : [ToResponse(attribute.Name, attribute.Says, attribute.Type, attribute, true)]
        ),
    ];

    public static string Of(string name) =>
        Known.TryGetValue(name, out var words) ? words
        : DeclaredFacts.All.FirstOrDefault(fact => name == fact.Filter?.Name || name == $"{fact.Filter?.Name}.value") is { } fact
            ? fact.Filter!.Label
        : name.Replace('.', ' ');

    private static AttributeResponse ToResponse(
        string name,
        string says,
        AttributeType type,
        Attribute<JudgedSite> whole,
        bool canSort
    ) => new(name, Of(name), says, type.Kind, type.Order ?? [], canSort, SiteAttributes.List.Find(whole.Name) is not null);
}
