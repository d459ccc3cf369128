namespace AtticLedger.Core.Sites;

/// <summary>A term of the vocabulary: a classification, a purpose or a tag that can be chosen. Values from sources with one of
/// its spellings are read as this term; in names of sites they are evidence for it.
/// </summary>
/// <param name="Words">In lower case.</param>
public sealed record Term(ClaimedFact Fact, string Code, string Name, IReadOnlyList<string> Words)
{
    public bool Equals(Term? other) =>
        other is not null && Fact == other.Fact && Code == other.Code && Name == other.Name && Words.SequenceEqual(other.Words);

    public override int GetHashCode() => HashCode.Combine(Fact, Code, Name, Words.Count);
}
