namespace AtticLedger.Core.Sheet;

/// <summary>Takes a sheet down, value by value. What bytes it makes of them is the format's business.</summary>
public interface ISheetWriter
{
    void Write(int value);

    void Write(long value);

    void Write(string value);

    void Write(ReadOnlySpan<int> values);
}

/// <summary>Gives back what an <see cref="ISheetWriter"/> took, in the same order. Fails with an exception where it cannot.</summary>
public interface ISheetReader
{
    int ReadInt();

    long ReadLong();

    string ReadText();

    void Read(Span<int> values);
}
