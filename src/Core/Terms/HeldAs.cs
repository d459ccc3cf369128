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

    /// <summary>A site had it, and it forwards to that site.</summary>
    Forwarding,
}
