using Microsoft.AspNetCore.Mvc;

namespace AtticLedger.Server.Register;

/// <summary>The filter sentence, as request parameters.</summary>
public sealed class SentenceQuery
{
    /// <summary>The code of a unit, including all units below it; or none.</summary>
    [FromQuery(Name = "unit")]
    public string? Unit { get; init; }

    [FromQuery(Name = "reach")]
    public string? Reach { get; init; }

    /// <summary>The id of a rule; or any, critical, unsure (a rule cannot tell), excepted or none.</summary>
    [FromQuery(Name = "rule")]
    public string? Rule { get; init; }

    [FromQuery(Name = "status")]
    public string? Status { get; init; }

    /// <summary>An expression in the grammar of RFC 7644, section 3.4.2.2.</summary>
    [FromQuery(Name = "filter")]
    public string? Filter { get; init; }

    /// <summary>Clauses, each attribute:how:value|value.</summary>
    [FromQuery(Name = "where")]
    public string[]? Where { get; init; }

    /// <summary>cannot-tell for the sites for which the filter cannot tell, instead of those that match.</summary>
    [FromQuery(Name = "verdict")]
    public string? Verdict { get; init; }

    /// <summary>worst, title, edited; or a list of attributes, with a hyphen before a descending one.</summary>
    [FromQuery(Name = "sort")]
    public string? Sort { get; init; }
}
