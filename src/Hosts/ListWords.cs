using AtticLedger.Core.People;

namespace AtticLedger.Hosts;

/// <summary>A word of a list, compared without case.</summary>
/// <param name="Of">What it names: <see cref="Units"/>, <see cref="People"/>, or a column with fixed words.</param>
/// <param name="Text">As written.</param>
public sealed record ListWord(string Of, string Text)
{
    public const string Units = "unit";

    /// <summary>Owners, editors and viewers alike.</summary>
    public const string People = "people";

    public bool Equals(ListWord? other) =>
        other is not null && Of == other.Of && Text.Equals(other.Text, StringComparison.OrdinalIgnoreCase);

    public override int GetHashCode() => HashCode.Combine(Of, Text.GetHashCode(StringComparison.OrdinalIgnoreCase));
}

/// <summary>A word of a line that is not understood, or only because its meaning was chosen.</summary>
public sealed record DoubtfulWord(ListWord Word, bool IsUnderstood);

/// <summary>What the words of a list mean, the same for all of its lines: as chosen for the whole list; otherwise people by mail
/// address or by a name that only one has, units by code or by a name that only one has, and audiences as offices call them.
/// </summary>
/// <param name="Person">The mail address of a person in the register; null if it is nobody, or more than one.</param>
/// <param name="Unit">The code of a unit; null if there is none, or more than one.</param>
public sealed record ListWords(Func<string, string?> Person, Func<string, string?> Unit)
{
    private static readonly Dictionary<string, HostSubject> Audiences = new(StringComparer.OrdinalIgnoreCase)
    {
        ["staff"] = new HostSubject.Staff(),
        ["all staff"] = new HostSubject.Staff(),
        ["employee"] = new HostSubject.Staff(),
        ["employees"] = new HostSubject.Staff(),
        ["all employees"] = new HostSubject.Staff(),
        ["internal"] = new HostSubject.Staff(),
        ["partner"] = new HostSubject.Partners(),
        ["partners"] = new HostSubject.Partners(),
        ["anonymous"] = new HostSubject.Anonymous(),
        ["anonymous visitors"] = new HostSubject.Anonymous(),
        ["public"] = new HostSubject.Anonymous(),
        ["the public"] = new HostSubject.Anonymous(),
        ["internet"] = new HostSubject.Anonymous(),
    };

    /// <summary>Meanings chosen for the whole list, each written as the list could have written it.</summary>
    public IReadOnlyDictionary<ListWord, string> Chosen { get; init; } = new Dictionary<ListWord, string>();

    public static ListWords Of(PeopleDirectory directory, IReadOnlyDictionary<ListWord, string>? chosen = null)
    {
        var names = directory
            .People.Where(person => person.Mail.Length > 0)
            .ToLookup(person => Spelling(person.Name), person => person.Mail.ToLowerInvariant(), StringComparer.Ordinal);
        var codes = directory.Units.ToDictionary(unit => unit.Code.Value, unit => unit.Code.Value, StringComparer.Ordinal);
        var units = directory.Units.ToLookup(unit => Spelling(unit.Name), unit => unit.Code.Value, StringComparer.Ordinal);
        return new ListWords(
            text => directory.ByMail.ContainsKey(text.ToLowerInvariant()) ? text.ToLowerInvariant() : Only(names[Spelling(text)]),
            text => codes.GetValueOrDefault(text) ?? Only(units[Spelling(text)])
        )
        {
            Chosen = chosen ?? new Dictionary<ListWord, string>(),
        };
    }

    /// <summary>Who is meant, with the key of the grant; null if nobody can tell.</summary>
    public (string Key, HostSubject Subject)? Who(string text)
    {
        if (Audiences.TryGetValue(text, out var audience))
        {
            return (
                audience switch
                {
                    HostSubject.Staff => "staff",
                    HostSubject.Partners => "partners",
                    _ => "anonymous",
                },
                audience
            );
        }

        if (text.StartsWith("unit:", StringComparison.OrdinalIgnoreCase))
        {
            return Unit(text[5..].Trim()) is { } code ? ($"unit:{code}", new HostSubject.Unit(code)) : null;
        }

        return Person(text) is { } mail ? ($"person:{mail}", new HostSubject.ByMail(mail)) : null;
    }

    // "Lund,  Ada" is written in lists as often as "Ada Lund".
    private static string Spelling(string name) =>
        name.Split(',', 2, StringSplitOptions.TrimEntries) is [var last, var first]
            ? Spelling($"{first} {last}")
            : string.Join(' ', name.Split(' ', StringSplitOptions.RemoveEmptyEntries)).ToLowerInvariant();

    private static string? Only(IEnumerable<string> of) => of.Distinct().Take(2).ToList() is [var one] ? one : null;
}
