using System.Text.Encodings.Web;
using Microsoft.AspNetCore.WebUtilities;

namespace AtticLedger.StandIns.Mail;

/// <summary>A page that shows the received mail: everybody's or one person's. Only for the demo: it has no access
/// control.</summary>
public static class ReadingPage
{
    private const string Style =
        "body{font:15px/1.45 system-ui,sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem;color:#16241d;background:#fbfcf8}a{color:#35557a}li{margin:.4rem 0}iframe{width:100%;height:28rem;border:1px solid #9db8a0;background:#fff}pre{white-space:pre-wrap;border-left:3px solid #c9d8c7;padding-left:1rem}";

    public static void MapMailbox(this WebApplication app, Mailbox mailbox)
    {
        app.MapGet("/", (string? to) => Page("Mail at Merrowby", List(mailbox, to)));
        app.MapGet("/mail", (string id) =>
            mailbox.Find(id) is { } mail
                ? Page(mail.Subject, Read(mail))
                : Results.Text("There is no such mail.", statusCode: 404)
        );
        app.MapGet("/html", (string id, HttpContext http) =>
        {
            http.Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'unsafe-inline'";
            return mailbox.Find(id) is { } mail ? Results.Content(mail.Html, "text/html; charset=utf-8") : Results.NotFound();
        });
        app.MapGet("/mails", (string? to) => mailbox.To(to));
    }

    private static string List(Mailbox mailbox, string? to)
    {
        var html = HtmlEncoder.Default;
        var mails = mailbox.To(to);
        var lines = mails.Select(mail =>
            $"<li>{mail.Date:d MMM HH:mm} to <a href=\"{html.Encode(QueryHelpers.AddQueryString("/", "to", mail.To))}\">{html.Encode(mail.To)}</a>: <a href=\"{html.Encode(QueryHelpers.AddQueryString("/mail", "id", mail.Id))}\">{html.Encode(mail.Subject)}</a></li>"
        );
        return $"<p>{(to is null ? "Everything that was sent" : $"What was sent to {html.Encode(to)} (<a href=\"/\">all</a>)")}, the latest first.</p>"
            + (mails.Count == 0 ? "<p>Nothing has come in yet.</p>" : $"<ul>{string.Concat(lines)}</ul>");
    }

    private static string Read(KeptMail mail)
    {
        var html = HtmlEncoder.Default;
        return $"<p>To <a href=\"{html.Encode(QueryHelpers.AddQueryString("/", "to", mail.To))}\">{html.Encode(mail.To)}</a>, {mail.Date:d MMM yyyy HH:mm}</p>"
            + $"<pre>{Linked(mail.Text)}</pre><h2>As HTML</h2><iframe title=\"The mail as HTML\" sandbox=\"allow-popups allow-top-navigation-by-user-activation\" src=\"{html.Encode(QueryHelpers.AddQueryString("/html", "id", mail.Id))}\"></iframe>";
    }

    private static string Linked(string text) =>
        string.Join(
            '\n',
            text.Split('\n')
                .Select(line =>
                {
                    var at = line.IndexOf("http", StringComparison.Ordinal);
                    var html = HtmlEncoder.Default;
                    return at < 0
                        ? html.Encode(line)
                        : $"{html.Encode(line[..at])}<a href=\"{html.Encode(line[at..].Trim())}\">{html.Encode(line[at..].Trim())}</a>";
                })
        );

    private static IResult Page(string title, string body)
    {
        var html = HtmlEncoder.Default;
        return Results.Content(
            $"<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width\"><title>{html.Encode(title)}</title><style>{Style}</style><main><h1>{html.Encode(title)}</h1>{body}</main></html>",
            "text/html; charset=utf-8"
        );
    }
}
