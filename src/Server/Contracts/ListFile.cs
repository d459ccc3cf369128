using AtticLedger.Formats.Tables;
using Microsoft.AspNetCore.Http.HttpResults;

namespace AtticLedger.Server.Contracts;

/// <summary>A list exported in one of the offered formats, written while it is sent.</summary>
internal sealed record ListFile(string Form, string ContentType, Func<Stream, Task> Write)
{
    /// <param name="numbers">The numeric columns.</param>
    /// <returns>Null if there is no such format.</returns>
    public static ListFile? Of(
        string form,
        string title,
        IReadOnlyList<string> heads,
        IReadOnlySet<int> numbers,
        IEnumerable<IReadOnlyList<string>> rows,
        CancellationToken stop
    ) =>
        form switch
        {
            "csv" => new ListFile(form, CsvList.ContentType, body => CsvList.Write(body, heads, rows, stop)),
            "xlsx" => new ListFile(form, XlsxList.ContentType, body => XlsxList.Write(body, title, heads, numbers, rows, stop)),
            "jsonl" => new ListFile(form, JsonLinesList.ContentType, body => JsonLinesList.Write(body, heads, rows, stop)),
            _ => null,
        };

    public static string NoSuchForm(string form) => $"\"{form}\" is not a file format: use csv, xlsx or jsonl";

    /// <param name="name">The name of the file, without extension.</param>
    public PushStreamHttpResult Answer(HttpContext context, string name)
    {
        context.Response.Headers.ContentDisposition = $"attachment; filename=\"{name}.{Form}\"";
        return TypedResults.Stream(Write, ContentType);
    }
}
