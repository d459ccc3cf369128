using AtticLedger.Core.Filters;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Rules;

/// <summary>A line with the findings on it: what the sheet is made of.</summary>
public sealed record JudgedLine(SiteLine Line, IReadOnlyList<Finding> Findings)
{
    private static readonly AttributeList<Rule> RuleParts = new([
        new TextAttribute<Rule>("value", "the rule's id", rule => Known.Of(rule.Id.Value)),
        new WordAttribute<Rule>("level", "how much the rule matters", ["look", "should", "must"], rule =>
            Known.Of(Span.Exactly(2 - (int)rule.Level))
        ),
    ]);

    /// <summary>All attributes of a site, and its findings. Rules speak of the former only.</summary>
    public static readonly AttributeList<JudgedLine> Attributes = new([
        .. SiteAttributes.List.All.Select(attribute => attribute.Of<JudgedLine>(judged => judged.Line)),
        new ListAttribute<JudgedLine, Rule>("breaks", "the rules that the site breaks", RuleParts, judged =>
            new(judged.With(Verdict.Breaks), true)
        ),
        new ListAttribute<JudgedLine, Rule>("excused", "the rules that it breaks and is excused from", RuleParts, judged =>
            new(judged.With(Verdict.Excused), true)
        ),
        new ListAttribute<JudgedLine, Rule>("unsure", "the rules of which it cannot be told", RuleParts, judged =>
            new(judged.With(Verdict.CannotTell), true)
        ),
        new TextAttribute<JudgedLine>("fault", "why nothing can be computed of the site", judged =>
            judged.Line.Site.Fault is { } why ? Known.Of(why) : Known<string>.None
        ),
        new NumberAttribute<JudgedLine>(
            "gravity",
            "how bad it stands: by broken rules that must be kept, then by how far outside it reaches, then by rules that should be kept, by those worth a look, by what cannot be told",
            judged => Known.Of(Span.Exactly(judged.Gravity))
        ),
    ]);

    private int Gravity
    {
        get
        {
            // Six bits for each count, the gravest first; reach is from 0 to 6.
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
                else if (finding.Rule.Level == Level.Must)
                {
                    must++;
                }
                else if (finding.Rule.Level == Level.Should)
                {
                    should++;
                }
                else
                {
                    look++;
                }
            }

            var outside =
                (int)Line.Passage(Power.Edit).Actual.AtLeast.Doors.Widest
                + (int)Line.Passage(Power.View).Actual.AtLeast.Doors.Widest;
            return (Math.Min(Most, must) << 24)
                | (outside << 18)
                | (Math.Min(Most, should) << 12)
                | (Math.Min(Most, look) << 6)
                | Math.Min(Most, unsure);
        }
    }

    private IReadOnlyList<Rule> With(Verdict verdict)
    {
        // Every line is asked, and most break nothing.
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
