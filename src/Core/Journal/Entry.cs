using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace AtticLedger.Core.Journal;

/// <summary>An entry for the journal; number, instant and chain are given when it is committed.</summary>
public sealed record Draft(JournalAction Action, EntryActor Actor, EntrySubject Subject)
{
    /// <summary>For whom the actor acts, such as the person who requested the change that a host has confirmed.</summary>
    public EntryActor? OnBehalf { get; init; }

    public JournalValue Before { get; init; } = JournalValue.Null;

    public JournalValue After { get; init; } = JournalValue.Null;

    public string? Reason { get; init; }

    /// <summary>The number of the entry that this one undoes.</summary>
    public long? UndoOf { get; init; }

    /// <summary>The fields of an entry, in the order of RFC 8785; each has all of them and no other.</summary>
    public static IReadOnlyList<string> Fields { get; } =
    ["action", "actor", "after", "at", "before", "for", "number", "previous", "reason", "subject", "undoOf"];

    /// <summary>The text that is stored and hashed, as <c>docs/formats.md</c> describes it.</summary>
    public string Text(long number, DateTimeOffset at, string previous) =>
        JournalValue
            .Of(
                ("number", JournalValue.Of(number)),
                ("at", JournalValue.Of(at)),
                ("actor", JournalValue.Of(Actor.Text)),
                ("for", JournalValue.Of(OnBehalf?.Text)),
                ("action", JournalValue.Of(Action.Name)),
                ("subject", JournalValue.Of(Subject.Text)),
                ("before", Before),
                ("after", After),
                ("reason", JournalValue.Of(Reason)),
                ("undoOf", UndoOf is { } undone ? JournalValue.Of(undone) : JournalValue.Null),
                ("previous", JournalValue.Of(previous))
            )
            .Canonical();
}

/// <summary>The end of the chain: how many entries there are and the hash of the last.</summary>
public sealed record Head(long Number, string Hash)
{
    public static Head Start { get; } = new(0, new string('0', 64));

    public static string HashOf(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}

/// <summary>An entry as table columns, in addition to its text.</summary>
public sealed record Projection(long Number, DateTimeOffset At, string Actor, string Action, string Subject, string Hash);

/// <summary>The result of a check of the chain: its head, or the first bad line with the fault.</summary>
public abstract record ChainCheck
{
    public sealed record Unbroken(Head Head) : ChainCheck;

    public sealed record Broken(long Line, string What) : ChainCheck;
}

/// <summary>Checks a chain line by line. With a head known from before it also finds a cut tail: that head must be among the
/// lines.
/// </summary>
public sealed class ChainChecker(string? knownHead = null)
{
    private Head head = Head.Start;
    private long line;
    private bool closed;
    private bool knownHeadMet = knownHead is null || knownHead == Head.Start.Hash;

    public ChainCheck? Failure { get; private set; }

    /// <summary>Checks the next entry with the columns that screens show; false after the first fault.</summary>
    public bool Take(string text, Projection columns)
    {
        if (!Take(text))
        {
            return false;
        }

        var shown = JournalValue.Of(
            ("actor", JournalValue.Of(columns.Actor)),
            ("at", JournalValue.Of(columns.At)),
            ("action", JournalValue.Of(columns.Action)),
            ("number", JournalValue.Of(columns.Number)),
            ("subject", JournalValue.Of(columns.Subject))
        );
        using var json = JsonDocument.Parse(text);
        var told = JournalValue.Of([
            .. json
                .RootElement.EnumerateObject()
                .Where(field => field.Name is "actor" or "at" or "action" or "number" or "subject")
                .Select(field => (field.Name, JournalValue.Read(field.Value))),
        ]);
        Failure =
            shown.Canonical() != told.Canonical() ? new ChainCheck.Broken(line, "the columns of the entry differ from its text")
            : columns.Hash != head.Hash ? new ChainCheck.Broken(line, "the hash beside the entry is not that of its text")
            : null;
        return Failure is null;
    }

    /// <summary>Checks the next line; false after the first fault.</summary>
    public bool Take(string text)
    {
        line++;
        if (Failure is not null)
        {
            return false;
        }

        if (closed)
        {
            Failure = new ChainCheck.Broken(line, "nothing may follow the line that carries the head");
            return false;
        }

        if (text.StartsWith("{\"head\":", StringComparison.Ordinal))
        {
            closed = true;
            Failure =
                text == ClosingLine(head)
                    ? null
                    : new ChainCheck.Broken(line, "the head carried here is not the head of the lines above");
            return Failure is null;
        }

        Failure = Fault(text) is { } fault ? new ChainCheck.Broken(line, fault) : null;
        head = new Head(line, Head.HashOf(text));
        knownHeadMet |= head.Hash == knownHead;
        return Failure is null;
    }

    /// <summary>The last line of an export: the head that the lines above end in.</summary>
    public static string ClosingLine(Head head) =>
        JournalValue.Of(("head", JournalValue.Of(head.Hash)), ("number", JournalValue.Of(head.Number))).Canonical();

    /// <summary>Checks the end of a file, whose last line has the head.</summary>
    public ChainCheck EndOfFile() =>
        Failure
        ?? (
            closed
                ? End()
                : new ChainCheck.Broken(line + 1, "the last line, which carries the head, is missing: the file was cut off")
        );

    public ChainCheck End() =>
        Failure
        ?? (
            knownHeadMet
                ? new ChainCheck.Unbroken(head)
                : new ChainCheck.Broken(
                    line + 1,
                    "the known head is not in this chain: lines are missing from the end, or the last one was changed"
                )
        );

    private string? Fault(string text)
    {
        JournalValue value;
        string? previous;
        string? number;
        try
        {
            using var json = JsonDocument.Parse(text);
            if (!json.RootElement.EnumerateObject().Select(field => field.Name).SequenceEqual(Draft.Fields))
            {
                return $"an entry has the fields {string.Join(", ", Draft.Fields)}, and no other";
            }

            value = JournalValue.Read(json.RootElement);
            previous = json.RootElement.GetProperty("previous").GetString();
            number = json.RootElement.GetProperty("number").GetString();
        }
        catch (Exception fault) when (fault is JsonException or KeyNotFoundException or InvalidOperationException)
        {
            return "this is not an entry of a journal";
        }

        if (value.Canonical() != text)
        {
            return "this is not the canonical text of an entry: something was added or written otherwise";
        }

        if (number != line.ToString(System.Globalization.CultureInfo.InvariantCulture))
        {
            return $"this should be entry {line} and says that it is entry {number}";
        }

        return previous == head.Hash ? null
            : line == 1 ? "the first entry does not start a chain"
            : $"this entry does not follow from the one before it: entry {line - 1} or its place was changed";
    }
}
