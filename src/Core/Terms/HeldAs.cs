namespace AtticLedger.Core.Terms;

/// <summary>The reason why an address is taken.</summary>
public enum HeldAs : byte
{
    InUse,
    NeverPublished,
    Offline,
    NoLongerReported,
    MoveToAttic,
    Listed,

    /// <summary>A request to start a site asks for it.</summary>
    Requested,
}
