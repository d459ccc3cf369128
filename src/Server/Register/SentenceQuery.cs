using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Register;

/// <summary>The sentence as a request carries it.</summary>
public sealed class SentenceQuery
{
    /// <summary>A unit's code, with all units below it; or none.</summary>
    [FromQuery(Name = "unit")]
    public string? Unit { get; init; }

    [FromQuery(Name = "reach")]
    public string? Reach { get; init; }

    /// <summary>A rule's id; or any, must, unsure or none.</summary>
    [FromQuery(Name = "rule")]
    public string? Rule { get; init; }

    [FromQuery(Name = "stage")]
    public string? Stage { get; init; }

    /// <summary>An expression in the grammar of RFC 7644, section 3.4.2.2.</summary>
    [FromQuery(Name = "filter")]
    public string? Filter { get; init; }

    /// <summary>Clauses, each attribute:how:value|value.</summary>
    [FromQuery(Name = "where")]
    public string[]? Where { get; init; }

    /// <summary>cannot-tell for the lines of which the sentence cannot be told, instead of those for which it holds.</summary>
    [FromQuery(Name = "verdict")]
    public string? Verdict { get; init; }

    /// <summary>worst, title, edited; or attributes in a row, a hyphen before one that goes down.</summary>
    [FromQuery(Name = "sort")]
    public string? Sort { get; init; }
}
