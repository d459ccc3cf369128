namespace AtticLedger.Core.Filters;

/// <summary>What is wrong with a filter and where: the column counts UTF-16 units from 1, as browsers do.</summary>
public sealed class FilterError(int column, string message) : Exception(message)
{
    public int Column { get; } = column;
}
