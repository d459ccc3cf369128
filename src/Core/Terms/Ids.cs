namespace AtticLedger.Core.Terms;

// Ids are types, so that a person is never looked up among the groups. Numbers are given by the store and never reused.

public readonly record struct SiteId(long Value);

public readonly record struct PersonId(long Value);

public readonly record struct GroupId(long Value);

/// <summary>A unit's code, as the organisation writes it ("MAR", "PIL").</summary>
public readonly record struct UnitCode(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct RuleId(string Value)
{
    public override string ToString() => Value;
}

public readonly record struct OfferId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct ApprovalId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct ChangeId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct BatchId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct QuestionId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct InvitationId(Guid Value)
{
    public override string ToString() => Value.ToString();
}

public readonly record struct RequestId(Guid Value)
{
    public override string ToString() => Value.ToString();
}
