namespace AtticLedger.Server.Contracts;

public sealed record SiteNameResponse(long Id, string Title);
