using AtticLedger.Core.Filters;
using AtticLedger.Core.Register;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A row with its findings: the content of the index.</summary>
public sealed record JudgedSite(ComputedSite Line, IReadOnlyList<Finding> Findings)
{
    private static readonly AttributeList<Rule> RuleParts = new([
        new TextAttribute<Rule>("value", "the rule's id", rule => Known.Of(rule.Id.Value)),
        new WordAttribute<Rule>("level", "the level of the rule", ["note", "warning", "critical"], rule =>
            Known.Of(Span.Exactly(2 - (int)rule.Level))
        ),
    ]);

    private static readonly AttributeList<Cause> CauseParts = new([
        new TextAttribute<Cause>(
            "value",
            "the mail address of an owner, that of a person who has left and the host, or the rule's id",
            cause => Known.Of(cause.Name)
        ),
    ]);

    public const string CausesName = "causes";

    /// <summary>All attributes of a site, and its findings. Rules use the attributes only.</summary>
    public static readonly AttributeList<JudgedSite> Attributes = new([
        .. SiteAttributes.List.All.Select(attribute => attribute.Of<JudgedSite>(judged => judged.Line)),
        new ListAttribute<JudgedSite, Rule>("breaks", "the rules that the site breaks", RuleParts, judged =>
            new(judged.With(Verdict.Breaks), true)
        ),
        new ListAttribute<JudgedSite, Cause>(
            CausesName,
            "what its findings are decided by: an owner who leaves or has left, a person who has left and still has access at a host, or the rule",
            CauseParts,
            judged => new(judged.Causes, true)
        ),
        new ListAttribute<JudgedSite, Rule>("excepted", "the rules that it breaks and has an exception from", RuleParts, judged =>
            new(judged.With(Verdict.Excepted), true)
        ),
        new ListAttribute<JudgedSite, Rule>("unsure", "the rules that cannot tell", RuleParts, judged =>
            new(judged.With(Verdict.CannotTell), true)
        ),
        new TextAttribute<JudgedSite>("fault", "why the site cannot be computed", judged =>
            judged.Line.Site.Fault is { } why ? Known.Of(why) : Known<string>.None
        ),
        new NumberAttribute<JudgedSite>(
            "gravity",
            "its urgency: by broken critical rules, then by access from outside, then by warnings, notes, and rules that cannot tell",
            judged => Known.Of(Span.Exactly(judged.Gravity))
        ),
    ]);

    private int Gravity
    {
        get
        {
            // Six bits for each count, the most serious first; reach is 0 to 6.
            const int Most = 63;
            var (must, should, look, unsure) = (0, 0, 0, 0);
            foreach (var finding in Findings)
            {
                if (finding.Verdict == Verdict.CannotTell)
                {
                    unsure++;
                }
                else if (finding.Verdict != Verdict.Breaks)
                {
                    continue;
                }
                else if (finding.Rule.Level == Level.Critical)
                {
                    must++;
                }
                else if (finding.Rule.Level == Level.Warning)
                {
                    should++;
                }
                else
                {
                    look++;
                }
            }

            var outside =
                (int)Line.AccessPath(Power.Edit).Effective.AtLeast.Doors.Widest
                + (int)Line.AccessPath(Power.View).Effective.AtLeast.Doors.Widest;
            return (Math.Min(Most, must) << 24)
                | (outside << 18)
                | (Math.Min(Most, should) << 12)
                | (Math.Min(Most, look) << 6)
                | Math.Min(Most, unsure);
        }
    }

    // Nothing can be done at a site that its host no longer reports, so it waits for no decision.
    private IReadOnlyList<Cause> Causes =>
        !Line.Site.NoLongerReported && With(Verdict.Breaks) is { Count: > 0 } broken
            ? [.. broken.SelectMany(rule => Cause.Of(Line, rule))]
            : [];

    private IReadOnlyList<Rule> With(Verdict verdict)
    {
        // Every row is checked, and most break no rule.
        List<Rule>? with = null;
        foreach (var finding in Findings)
        {
            if (finding.Verdict == verdict)
            {
                (with ??= []).Add(finding.Rule);
            }
        }

        return with ?? (IReadOnlyList<Rule>)[];
    }
}
