namespace AtticLedger.Server.Contracts;

public sealed record UnitResponse(string Code, string Name);
