using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using Npgsql;
using NpgsqlTypes;

namespace AtticLedger.Store;

/// <summary>All facts but the rare ones: each has a column of its own, which queries can use. A column is null if its
/// fact is none or unknown; the names of the unknown ones are in the row's <c>unknowns</c>.
/// </summary>
internal abstract class FactColumn(string name)
{
    public static IReadOnlyList<FactColumn> All { get; } =
    [.. DeclaredFacts.All.Where(fact => fact.Spread != FactSpread.Rare).Select(For)];

    /// <summary>Of the column, and in <c>unknowns</c>.</summary>
    public string Name => name;

    public abstract NpgsqlParameter Write(FactSet facts, List<string> unknowns);

    public abstract void Read(NpgsqlDataReader row, int place, string[] unknowns, FactSet.Builder into);

    private static FactColumn For(SiteFact fact)
    {
        var name = string.Concat(
            fact.Name.Select(letter => char.IsUpper(letter) ? $"_{char.ToLowerInvariant(letter)}" : $"{letter}")
        );
        return fact switch
        {
            SiteFact<string> text => new FactColumn<string, string>(
                name,
                text,
                NpgsqlDbType.Text,
                value => value,
                value => value
            ),
            SiteFact<UnitCode> unit => new FactColumn<UnitCode, string>(
                name,
                unit,
                NpgsqlDbType.Text,
                value => value.Value,
                value => new UnitCode(value)
            ),
            SiteFact<int> number => new FactColumn<int, int>(name, number, NpgsqlDbType.Integer, value => value, value => value),
            SiteFact<long> number => new FactColumn<long, long>(
                name,
                number,
                NpgsqlDbType.Bigint,
                value => value,
                value => value
            ),
            SiteFact<GroupId> group => new FactColumn<GroupId, long>(
                name,
                group,
                NpgsqlDbType.Bigint,
                value => value.Value,
                value => new GroupId(value)
            ),
            SiteFact<Status> status => new FactColumn<Status, short>(
                name,
                status,
                NpgsqlDbType.Smallint,
                value => (short)value,
                value => (Status)value
            ),
            SiteFact<DateTimeOffset> instant => new FactColumn<DateTimeOffset, DateTimeOffset>(
                name,
                instant,
                NpgsqlDbType.TimestampTz,
                value => value.ToUniversalTime(),
                value => value
            ),
            SiteFact<IReadOnlyList<string>> texts => new FactColumn<IReadOnlyList<string>, string[]>(
                name,
                texts,
                NpgsqlDbType.Array | NpgsqlDbType.Text,
                value => [.. value],
                value => value
            ),
            SiteFact<IReadOnlyList<PersonId>> people => new FactColumn<IReadOnlyList<PersonId>, long[]>(
                name,
                people,
                NpgsqlDbType.Array | NpgsqlDbType.Bigint,
                value => [.. value.Select(person => person.Value)],
                value => [.. value.Select(person => new PersonId(person))]
            ),
            _ => throw new NotSupportedException($"No column holds a {fact.ValueType.Name}, so {fact} has to be a rare fact."),
        };
    }
}

internal sealed class FactColumn<T, TStored>(
    string name,
    SiteFact<T> fact,
    NpgsqlDbType type,
    Func<T, TStored> toStored,
    Func<TStored, T> fromStored
) : FactColumn(name)
    where T : notnull
    where TStored : notnull
{
    public override NpgsqlParameter Write(FactSet facts, List<string> unknowns)
    {
        var value = facts.Of(fact);
        if (value.IsUnknown)
        {
            unknowns.Add(Name);
        }

        return new NpgsqlParameter { Value = value.Has(out var known) ? toStored(known) : DBNull.Value, NpgsqlDbType = type };
    }

    public override void Read(NpgsqlDataReader row, int place, string[] unknowns, FactSet.Builder into) =>
        into.Set(fact, row.Fact<TStored>(place, Name, unknowns).Select(fromStored));
}
