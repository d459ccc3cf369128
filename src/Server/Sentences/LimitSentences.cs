using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;

namespace AtticLedger.Server.Sentences;

internal static class LimitSentences
{
    public static string Of(LimitRemark remark) =>
        remark switch
        {
            LimitIsSo => "The limit is already like this.",
            LimitNeedsReason => "Write why the limit changes. The reason is kept with the limit.",
            LimitTargetMissing(var kind, var code) => kind switch
            {
                LayerKind.Host => $"There is no host {code}.",
                LayerKind.Unit => $"There is no unit with the code {code}.",
                LayerKind.Classification => $"The vocabulary has no classification {code}. Add it there first.",
                LayerKind.Kind => $"There is no kind of site {code}.",
                LayerKind.OwnersClassification => $"Nobody in the register has the classification {code}.",
                _ => $"\"{code}\" is no address: write it whole, without spaces, as in sites.example/pilot.",
            },
            LimitOfHost(var host) =>
                $"This is a setting of {(host.Length == 0 ? "the host" : host)}: an administrator of it changes it there, and the next sync reports it.",
            LimitOfSite => "A site's own setting is changed at its host.",
            _ => throw Phrases.Missing(remark),
        };
}
