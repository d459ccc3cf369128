namespace AtticLedger.Core.Rules;

/// <summary>The action that meets a demand.</summary>
public enum Remedy : byte
{
    /// <summary>None is known: an exception is possible.</summary>
    None,

    /// <summary>Restricting access to what policy allows.</summary>
    Restrict,
    AddOwner,
}
