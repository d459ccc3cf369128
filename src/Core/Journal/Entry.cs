using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace AtticLedger.Core.Journal;

/// <summary>What is to be written in the journal; number, instant and chain are given when it is committed.</summary>
/// <param name="Actor">Who did it: <c>person:7</c>, <c>host:slipway</c>, <c>house</c>, or <c>anonymous</c>. Never a name: names can be erased.</param>
/// <param name="Subject">What it was done to: <c>site:12</c>, <c>account:3</c>, <c>source:slipway</c>.</param>
public sealed record Draft(string Deed, string Actor, string Subject)
{
    /// <summary>A host or another source as an actor: <c>host:staff-list</c>.</summary>
    public static string ActorOf(string source) => $"host:{Named(source)}";

    /// <summary>A source as a subject: <c>source:staff-list</c>.</summary>
    public static string SubjectOf(string source) => $"source:{Named(source)}";

    public string? OnBehalf { get; init; }

    public JournalValue Before { get; init; } = JournalValue.Null;

    public JournalValue After { get; init; } = JournalValue.Null;

    public string? Reason { get; init; }

    /// <summary>The number of the entry that this one undoes.</summary>
    public long? UndoOf { get; init; }

    private static string Named(string source) => source.ToLowerInvariant().Replace(' ', '-');

    /// <summary>The text that is stored and hashed, as <c>docs/formats.md</c> describes it.</summary>
    public string Text(long number, DateTimeOffset at, string previous) =>
        JournalValue.Of(
            ("number", JournalValue.Of(number)),
            ("at", JournalValue.Of(at)),
            ("actor", JournalValue.Of(Actor)),
            ("for", JournalValue.Of(OnBehalf)),
            ("deed", JournalValue.Of(Deed)),
            ("subject", JournalValue.Of(Subject)),
            ("before", Before),
            ("after", After),
            ("reason", JournalValue.Of(Reason)),
            ("undoOf", UndoOf is { } undone ? JournalValue.Of(undone) : JournalValue.Null),
            ("previous", JournalValue.Of(previous))).Canonical();
}

/// <summary>The end of the chain: how many entries there are and the hash of the last.</summary>
public sealed record Head(long Number, string Hash)
{
    public static Head Start { get; } = new(0, new string('0', 64));

    public static string HashOf(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}

/// <summary>What a check of the chain found: the head it ends in, or the first bad line and what is wrong there.</summary>
public abstract record ChainCheck
{
    public sealed record Unbroken(Head Head) : ChainCheck;

    public sealed record Broken(long Line, string What) : ChainCheck;
}

/// <summary>
/// Checks a chain line by line. Give it a head known from before, and a tail that was cut is found too: that head must be
/// among the lines.
/// </summary>
public sealed class ChainChecker(string? knownHead = null)
{
    private Head head = Head.Start;
    private long line;
    private bool closed;
    private bool knownHeadMet = knownHead is null || knownHead == Head.Start.Hash;

    public ChainCheck? Failure { get; private set; }

    /// <summary>Takes the next line; false once something was wrong.</summary>
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
            Failure = text == ClosingLine(head) ? null : new ChainCheck.Broken(line, "the head carried here is not the head of the lines above");
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

    public ChainCheck End() =>
        Failure
        ?? (knownHeadMet
            ? new ChainCheck.Unbroken(head)
            : new ChainCheck.Broken(line + 1, "the known head is not in this chain: lines are missing from the end, or the last one was changed"));

    private string? Fault(string text)
    {
        JournalValue value;
        string? previous;
        string? number;
        try
        {
            using var json = JsonDocument.Parse(text);
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
