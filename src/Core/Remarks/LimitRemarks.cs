using AtticLedger.Core.Sites;

namespace AtticLedger.Core.Remarks;

/// <summary>What is said against a change of a limit.</summary>
public abstract record LimitRemark : Remark;

public sealed record LimitIsSo : LimitRemark;

public sealed record LimitNeedsReason : LimitRemark;

public sealed record LimitTargetMissing(LayerKind Kind, string Target) : LimitRemark;

/// <summary>The host enforces it: it is a setting there.</summary>
public sealed record LimitOfHost(string Host) : LimitRemark;

/// <summary>A site's own setting belongs to the site.</summary>
public sealed record LimitOfSite : LimitRemark;
