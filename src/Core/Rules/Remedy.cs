namespace AtticLedger.Core.Rules;

/// <summary>An action that helps to meet a demand.</summary>
public enum Remedy : byte
{
    /// <summary>Restricting access to what policy allows.</summary>
    Restrict,
    AddOwner,

    /// <summary>Removing the access of people who have left.</summary>
    RemoveAccess,

    /// <summary>Setting its unit, classification, purpose or tags.</summary>
    SetFact,
    MoveToAttic,
    Rename,

    /// <summary>Changing its description or its logo.</summary>
    Present,

    /// <summary>Looking at the sites with near names: one of two gets another name, moves to the attic, or both are right.</summary>
    TellApart,
}
