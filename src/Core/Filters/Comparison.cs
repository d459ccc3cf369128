namespace AtticLedger.Core.Filters;

/// <summary>The comparison operators of RFC 7644, section 3.4.2.2.</summary>
public enum Comparison : byte
{
    Eq,
    Ne,
    Co,
    Sw,
    Ew,
    Gt,
    Ge,
    Lt,
    Le,
}
