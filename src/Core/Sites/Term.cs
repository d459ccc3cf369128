namespace AtticLedger.Core.Sites;

/// <summary>
/// A word of the house's own list: a class, a purpose or a tag that can be chosen. Other words that mean it are read as
/// it where a source says them; in names of sites they are evidence for it.
/// </summary>
/// <param name="Words">In lower case.</param>
public sealed record Term(SaidFact Fact, string Code, string Name, IReadOnlyList<string> Words)
{
    public bool Equals(Term? other) =>
        other is not null && Fact == other.Fact && Code == other.Code && Name == other.Name && Words.SequenceEqual(other.Words);

    public override int GetHashCode() => HashCode.Combine(Fact, Code, Name, Words.Count);
}
