using System.Text;
using System.Text.Encodings.Web;

namespace AtticLedger.Server.Mail;

/// <summary>One notification of a mail, with its link. Mails are written as plain text and as equivalent HTML.</summary>
internal sealed record MailText(string Title, IReadOnlyList<string> Sentences, string? Label, string? Link)
{
    private const string Footer =
        "Attic Ledger sends this mail because you are on the organisation's staff list. A link works once, for you only, after you sign in.";

    public static string Plain(string name, IReadOnlyList<MailText> texts)
    {
        var mail = new StringBuilder($"{name},\n");
        foreach (var text in texts)
        {
            mail.Append('\n').Append(text.Title).Append('\n').Append('-', Math.Min(72, text.Title.Length)).Append('\n');
            foreach (var sentence in text.Sentences)
            {
                mail.Append(sentence).Append('\n');
            }

            if (text.Link is { } link)
            {
                mail.Append(text.Label).Append(": ").Append(link).Append('\n');
            }
        }

        return mail.Append('\n').Append(Footer).Append('\n').ToString();
    }

    public static string Html(string name, string subject, IReadOnlyList<MailText> texts)
    {
        var encode = HtmlEncoder.Default;
        var mail = new StringBuilder(
            $"<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>{encode.Encode(subject)}</title></head><body style=\"margin:0;background:#eef5ea;color:#16241d;font:15px/1.45 sans-serif\"><div style=\"max-width:560px;margin:0 auto;padding:24px;background:#fbfcf8;border-top:6px solid #3d2130\"><p>{encode.Encode(name)},</p>"
        );
        foreach (var text in texts)
        {
            mail.Append("<h2 style=\"font:600 18px serif;margin:24px 0 8px\">").Append(encode.Encode(text.Title)).Append("</h2>");
            foreach (var sentence in text.Sentences)
            {
                mail.Append("<p style=\"margin:0 0 8px\">").Append(encode.Encode(sentence)).Append("</p>");
            }

            if (text.Link is { } link)
            {
                mail.Append("<p><a style=\"color:#35557a;font-weight:bold\" href=\"")
                    .Append(encode.Encode(link))
                    .Append("\">")
                    .Append(encode.Encode(text.Label!))
                    .Append("</a></p>");
            }
        }

        return mail.Append("<p style=\"color:#47584f;font-size:13px;border-top:1px solid #c9d8c7;padding-top:12px\">")
            .Append(encode.Encode(Footer))
            .Append("</p></div></body></html>")
            .ToString();
    }
}
