using AtticLedger.Core.Remarks;
using AtticLedger.Core.Terms;
using static AtticLedger.Server.Sentences.Phrases;

namespace AtticLedger.Server.Sentences;

internal static class VocabularySentences
{
    public static string Of(VocabularyRemark remark) =>
        remark switch
        {
            UnitsElsewhere => "Units come from the staff list: rename and merge them there.",
            NoVocabulary(var fact) => $"The vocabulary has no list for the {fact.Word()} of a site.",
            TermMissing(var fact, var term) => $"There is no {fact.Word()} \"{term}\". Somebody has changed the list meanwhile.",
            TermToMergeMissing(var fact, var term) => $"There is no other {fact.Word()} \"{term}\" to merge it into.",
            TermMeansIt(var written, var term) => $"\"{written}\" means {term} already.",
            TermMeansAnother(var written, var term) =>
                $"\"{written}\" already means {term}. Remove it there first, or merge the two.",
            TermMeansAlways(var written, var term) => $"\"{written}\" is the code or the name of {term}, which always mean it.",
            TermEmpty => "Write a word: at least one letter or digit.",
            TermTooLong(var start, var maximum) => $"Write at most {maximum} characters: \"{start}…\" is longer.",
            TermUnprintable => "Write it without line breaks and other control characters.",
            TermSeveral(var written) => $"\"{written}\" is more than one word: commas, semicolons and bars separate tags.",
            TermLimits(var term) => $"A limit applies to sites classified {term}. Change the limit first.",
            TermKeeps(var term) => $"A retention rule applies to sites classified {term}. Change that rule first.",
            TermInRule(var rule, var title, var term) => $"The rule {rule} ({title}) uses \"{term}\". Change the rule first.",
            TermsChanged => "That change cannot be undone: these words have changed since. Change them one by one.",
            FactOfHost(var fact) =>
                $"The {fact.Word()} is reported by its host. Correct it there, or in the list that reports something else.",
            NoTerms(var fact, var value) => $"\"{value}\" cannot be set: the vocabulary has no {fact.Word()} yet.",
            NoSuchTerm(var fact, var value, var choices, var more) =>
                $"\"{value}\" is not a {fact.Word()} in the vocabulary. Choose one of: {string.Join(", ", choices)}{(more ? ", …" : "")}.",
            _ => throw Missing(remark),
        };
}
