using AtticLedger.Core.People;
using AtticLedger.Core.Terms;

namespace AtticLedger.Server.Contracts;

public sealed record PersonResponse(long Id, string Name, string Mail, bool IsOutside)
{
    public static PersonResponse Of(PersonId id, PeopleDirectory directory) =>
        directory.Find(id) is { } person
            ? new PersonResponse(id.Value, person.Name, person.Mail, person.IsOutside)
            : new PersonResponse(id.Value, "unknown", "", true);
}
