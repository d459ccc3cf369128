using System.Reflection;
using System.Text.Json;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Sentences;

namespace AtticLedger.Server.Sentences;

/// <summary>A remark for a program and for a person.</summary>
/// <param name="Code">Which one it is.</param>
/// <param name="Parameters">Its parameters by name: texts, numbers, days (<c>yyyy-MM-dd</c>), instants, lists of texts.</param>
/// <param name="Sentence">What a person reads.</param>
public sealed record RemarkResponse(string Code, IReadOnlyDictionary<string, object?> Parameters, string Sentence)
{
    public static IReadOnlyList<RemarkResponse> Of(IEnumerable<Remark> remarks) => [.. remarks.Select(Of)];

    public static RemarkResponse Of(Remark remark) =>
        new(
            remark.Code,
            remark
                .GetType()
                .GetProperties(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly)
                .ToDictionary(
                    property => JsonNamingPolicy.CamelCase.ConvertName(property.Name),
                    property => property.GetValue(remark)
                ),
            RemarkSentence.Of(remark)
        );
}
