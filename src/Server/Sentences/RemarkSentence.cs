using AtticLedger.Core.Remarks;

namespace AtticLedger.Server.Sentences;

/// <summary>The sentence of a remark: the only place where one is made, for the API, the mails and the records alike.</summary>
public static class RemarkSentence
{
    public static string Of(Remark remark) =>
        remark switch
        {
            SiteRemark one => SiteSentences.Of(one),
            ExceptionRemark one => ExceptionSentences.Of(one),
            AtticRemark one => AtticSentences.Of(one),
            OwnerRemark one => OwnerSentences.Of(one),
            TaskRemark one => TaskSentences.Of(one),
            VocabularyRemark one => VocabularySentences.Of(one),
            RuleRemark one => RuleSentences.Of(one),
            SourceRemark one => SourceSentences.Of(one),
            AccountRemark one => AccountSentences.Of(one),
            BatchRemark one => BatchSentences.Of(one),
            StartRemark one => StartSentences.Of(one),
            LookRemark one => LookSentences.Of(one),
            LimitRemark one => LimitSentences.Of(one),
            _ => throw Phrases.Missing(remark),
        };

    public static IReadOnlyList<string> Of(IEnumerable<Remark> remarks) => [.. remarks.Select(Of)];
}
