using System.Collections.Concurrent;
using System.Text.Json;

namespace AtticLedger.Core.Remarks;

/// <summary>Something that a decision says to a person, such as a reason of a refusal: which one it is, and its parameters. Its
/// sentence is made where it is shown. Equal remarks say the same.
/// </summary>
/// <example><c>new OfferOpen("Ada Lund", new DateOnly(2026, 12, 1))</c> has the code <c>offer-open</c>.</example>
public abstract record Remark
{
    private static readonly ConcurrentDictionary<Type, string> Codes = new();

    /// <summary>The code: the name of the record in lower case, its words joined by hyphens.</summary>
    public string Code => CodeOf(GetType());

    /// <summary>All remarks that there are.</summary>
    public static IReadOnlyList<Type> All { get; } =
    [
        .. typeof(Remark)
            .Assembly.GetTypes()
            .Where(type => type.IsSubclassOf(typeof(Remark)) && !type.IsAbstract)
            .OrderBy(type => type.Name, StringComparer.Ordinal),
    ];

    public static string CodeOf(Type remark) =>
        Codes.GetOrAdd(remark, type => JsonNamingPolicy.KebabCaseLower.ConvertName(type.Name));
}

/// <summary>What cannot be done while a host does not report who has access.</summary>
public enum AccessStep : byte
{
    Restrict,
    Undo,
    HandOver,
    ChangeOwner,
    Remove,
    Grant,
}

/// <summary>Why a person cannot become owner of a site.</summary>
public enum Ineligibility : byte
{
    IsOwner,

    /// <summary>For viewers who do not decide about other people's leaving and absence.</summary>
    NotSaid,
    Outside,
    Service,
    Left,
    Leaves,
    Away,
    NoMail,
}

/// <summary>A text of a manual procedure.</summary>
public enum ProcedureText : byte
{
    Account,
    Support,
    Reach,
    Owners,
    MoveToAttic,
    Restore,
    Look,
}
