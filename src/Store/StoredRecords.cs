using System.Text.Json;
using System.Text.Json.Serialization;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Store;

/// <summary>A JSON record in a column, apart from the core's types, which may change. Its shape has a version; a record without
/// one has version 1. The tests keep a fixture of every version, and read it.
/// </summary>
internal abstract record StoredRecord : IJsonOnDeserialized
{
    /// <summary>The newest version that this program reads and writes.</summary>
    protected virtual int Newest => 1;

    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Version { get; init; }

    void IJsonOnDeserialized.OnDeserialized()
    {
        if (Version > Newest)
        {
            throw new JsonException($"It was written by a newer program: version {Version}, where this one reads {Newest}.");
        }
    }
}

internal sealed record StoredLimits(StoredLimit View, StoredLimit Preview, StoredLimit Edit) : StoredRecord;

internal sealed record StoredLimit(int Inside, OutsideLevel Widest, VisitorSignIn VisitorSignIn, GuestInviter GuestInviter);

internal sealed record StoredLogo(LogoSource? Source, string? From);

internal sealed record StoredLook(string? Name, string? Description, StoredLogo? Logo)
{
    public static StoredLook Of(WantedLook look) =>
        new(look.Name, look.Description, look.Logo is { } logo ? new StoredLogo(logo.Source, logo.From) : null);

    [JsonIgnore]
    public WantedLook Look => new(Name, Description, Logo is { } logo ? new WantedLogo(logo.Source, logo.From) : null);
}

/// <summary>Version 2 has a look, and says what becomes of the old address.</summary>
internal sealed record StoredRequest(
    IReadOnlyList<StoredChange> Grants,
    Existence? Existence = null,
    string? Address = null,
    StoredLook? Look = null,
    DateTimeOffset? ForwardUntil = null,
    string? SwapWith = null
) : StoredRecord
{
    protected override int Newest => 2;

    public static StoredRequest Of(WantedState wanted) =>
        new(
            [
                .. wanted.Grants.Select(change => new StoredChange(
                    change.Key,
                    change.Wanted is { } grant ? StoredGrant.Of(grant) : null
                )),
            ],
            wanted.Existence,
            wanted.Address,
            wanted.Look is { } look ? StoredLook.Of(look) : null,
            wanted.ForwardUntil,
            wanted.SwapWith
        )
        {
            Version = 2,
        };

    [JsonIgnore]
    public WantedState Wanted =>
        new([.. Grants.Select(change => new GrantChange(change.Key, change.Wanted?.Grant(change.Key)))], Existence, Address)
        {
            Look = Look?.Look,
            ForwardUntil = ForwardUntil,
            SwapWith = SwapWith,
        };
}

internal sealed record StoredFact<T>(bool Unknown, T[] Value)
    where T : notnull
{
    public Known<T> Known() =>
        Unknown ? Known<T>.Unknown
        : Value.Length == 0 ? Known<T>.None
        : Known<T>.Of(Value[0]);
}

internal sealed record StoredSnapshot(
    StoredFact<string> Name,
    StoredFact<string> Address,
    StoredFact<string> Unit,
    StoredFact<string> Classification,
    StoredFact<Status> Status,
    StoredFact<int> Pages,
    StoredFact<StoredChange[]> Grants
) : StoredRecord;

internal sealed record StoredClaim(ClaimedFact Fact, string Source, string? Value, DateTimeOffset Since, long? By) : StoredRecord;

internal sealed record StoredNumber(long Value);

internal sealed record StoredCode(string Value);

internal sealed record StoredProcedure(
    StoredNumber? Assignee,
    string Account,
    string Support,
    int Days,
    string Reach,
    string Owners,
    string MoveToAttic,
    string Restore,
    string Look = ""
)
{
    public static StoredProcedure Of(ManualProcedure how) =>
        new(
            how.Assignee is { } person ? new StoredNumber(person.Value) : null,
            how.Account,
            how.Support,
            how.Days,
            how.Reach,
            how.Owners,
            how.MoveToAttic,
            how.Restore,
            how.Look
        );

    [JsonIgnore]
    public ManualProcedure Procedure =>
        new(
            Assignee is { } person ? new PersonId(person.Value) : null,
            Account,
            Support,
            Days,
            Reach,
            Owners,
            MoveToAttic,
            Restore,
            Look
        );
}

/// <summary>Version 2 says whether sites can be made there from here; version 3 what of their look can be changed;
/// version 4 whether guests can be invited.</summary>
internal sealed record StoredCapabilities(
    Deletion Deletes,
    int? BinDays,
    int? StateDays,
    bool KnowsRepeats,
    bool TellsChanges,
    bool NamesPeople,
    Power[] Powers,
    TimeSpan ListLag,
    StoredProcedure? ManualProcedure,
    string[] Notes,
    bool MakesSites = false,
    LookField[]? Changes = null,
    LogoSource[]? Logos = null,
    int ForwardDays = 0,
    bool SwapsAddresses = false,
    bool InvitesGuests = false
) : StoredRecord
{
    protected override int Newest => 4;

    public static StoredCapabilities Of(HostCapabilities can) =>
        new(
            can.Deletes,
            can.BinDays,
            can.StateDays,
            can.KnowsRepeats,
            can.TellsChanges,
            can.NamesPeople,
            [.. can.Powers],
            can.ListLag,
            can.ManualProcedure is { } how ? StoredProcedure.Of(how) : null,
            [.. can.Notes],
            can.MakesSites,
            [.. can.Changes],
            [.. can.Logos],
            can.ForwardDays,
            can.SwapsAddresses,
            can.InvitesGuests
        )
        {
            Version = 4,
        };

    [JsonIgnore]
    public HostCapabilities Capabilities =>
        new()
        {
            Deletes = Deletes,
            BinDays = BinDays,
            StateDays = StateDays,
            KnowsRepeats = KnowsRepeats,
            TellsChanges = TellsChanges,
            NamesPeople = NamesPeople,
            Powers = [.. Powers],
            ListLag = ListLag,
            ManualProcedure = ManualProcedure?.Procedure,
            Notes = [.. Notes],
            MakesSites = MakesSites,
            Changes = [.. Changes ?? []],
            Logos = [.. Logos ?? []],
            ForwardDays = ForwardDays,
            SwapsAddresses = SwapsAddresses,
            InvitesGuests = InvitesGuests,
        };
}

internal sealed record StoredReach(InsideLevel Inside, OutsideLevel Outside, VisitorSignIn SignIn)
{
    public static StoredReach Of(ViewReach reach) => new(reach.Inside, reach.Outside, reach.SignIn);

    [JsonIgnore]
    public ViewReach Reach => new(Inside, Outside, SignIn);
}

internal sealed record StoredExpectedReach(string Purpose, StoredReach Reach) : StoredRecord;

internal sealed record StoredKindToStart(
    string Kind,
    string Host,
    string Describes,
    string AddressBefore,
    string AddressAfter,
    StartedBy StartedBy,
    bool MakesGroup,
    string? AliasDomain,
    string[] StarterPages
) : StoredRecord
{
    public static StoredKindToStart Of(KindToStart kind) =>
        new(
            kind.Kind,
            kind.Host,
            kind.Describes,
            kind.Address.Before,
            kind.Address.After,
            kind.StartedBy,
            kind.MakesGroup,
            kind.AliasDomain,
            [.. kind.StarterPages]
        );

    [JsonIgnore]
    public KindToStart ToStart =>
        new(
            Kind,
            Host,
            Describes,
            new AddressForm(AddressBefore, AddressAfter),
            StartedBy,
            MakesGroup,
            AliasDomain,
            [.. StarterPages]
        );
}

internal sealed record StoredNewSite(
    string Kind,
    string Name,
    string Address,
    string Alias,
    string? Unit,
    string? Purpose,
    string? Classification,
    string[] Tags,
    string? Language,
    string? Description,
    string? ContentNotice,
    DateOnly? Ends,
    long[] Owners,
    long[] Editors,
    StoredReach Reach
) : StoredRecord
{
    public static StoredNewSite Of(NewSite wanted) =>
        new(
            wanted.Kind,
            wanted.Name,
            wanted.Address,
            wanted.Alias,
            wanted.Unit?.Value,
            wanted.Purpose,
            wanted.Classification,
            [.. wanted.Tags],
            wanted.Language,
            wanted.Description,
            wanted.ContentNotice,
            wanted.Ends,
            [.. wanted.Owners.Select(person => person.Value)],
            [.. wanted.Editors.Select(person => person.Value)],
            StoredReach.Of(wanted.Reach)
        );

    [JsonIgnore]
    public NewSite Wanted =>
        new()
        {
            Kind = Kind,
            Name = Name,
            Address = Address,
            Alias = Alias,
            Unit = Unit is { } unit ? new UnitCode(unit) : null,
            Purpose = Purpose,
            Classification = Classification,
            Tags = [.. Tags],
            Language = Language,
            Description = Description,
            ContentNotice = ContentNotice,
            Ends = Ends,
            Owners = [.. Owners.Select(person => new PersonId(person))],
            Editors = [.. Editors.Select(person => new PersonId(person))],
            Reach = Reach.Reach,
        };
}

internal sealed record StoredTerm(ClaimedFact Fact, string Code, string Name, string[] Words) : StoredRecord;

/// <summary>Version 1 has sentences: <paramref name="NeedsSecond"/> and <paramref name="Unaffected"/>. Version 2 has remarks.
/// </summary>
internal sealed record StoredEffect(
    int Gain,
    int Lose,
    bool ShutsDoors,
    StoredCode[] Cleared,
    StoredCode[] Opened,
    bool OpensDoors = false,
    StoredRemark? Second = null,
    StoredRemark[]? Leaves = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? NeedsSecond = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string[]? Unaffected = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] StoredRemark[]? Advice = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? NameBefore = null
) : StoredRecord
{
    protected override int Newest => 2;

    public static StoredEffect Of(LineEffect effect) =>
        new(
            effect.Gain,
            effect.Lose,
            effect.ShutsDoors,
            [.. effect.Cleared.Select(rule => new StoredCode(rule.Value))],
            [.. effect.Opened.Select(rule => new StoredCode(rule.Value))],
            effect.OpensDoors,
            effect.NeedsSecond is { } second ? StoredRemark.Of(second) : null,
            [.. effect.Unaffected.Select(StoredRemark.Of)],
            Advice: effect.Advice.Count > 0 ? [.. effect.Advice.Select(StoredRemark.Of)] : null,
            NameBefore: effect.NameBefore
        )
        {
            Version = 2,
        };

    [JsonIgnore]
    public LineEffect Effect =>
        new(
            Gain,
            Lose,
            ShutsDoors,
            [.. Cleared.Select(rule => new RuleId(rule.Value))],
            [.. Opened.Select(rule => new RuleId(rule.Value))],
            Second?.Remark ?? (NeedsSecond is { } second ? new AsRecorded(second) : null),
            [.. (Leaves ?? []).Select(left => left.Remark), .. (Unaffected ?? []).Select(sentence => new AsRecorded(sentence))],
            OpensDoors
        )
        {
            Advice = [.. (Advice ?? []).Select(advice => advice.Remark)],
            NameBefore = NameBefore,
        };
}

/// <summary>A remark: its code, and its parameters by name.</summary>
internal sealed record StoredRemark(string Code, JsonElement Parameters)
{
    private static readonly Dictionary<string, Type> Types = Core.Remarks.Remark.All.ToDictionary(Core.Remarks.Remark.CodeOf);

    public static StoredRemark Of(Remark remark) =>
        new(remark.Code, JsonSerializer.SerializeToElement(remark, remark.GetType(), Json.Options));

    /// <summary>One that a newer program wrote costs its own line only, because servers of two versions can share a database.</summary>
    [JsonIgnore]
    public Remark Remark =>
        Types.TryGetValue(Code, out var type)
            ? (Remark)Parameters.Deserialize(type, Json.Options)!
            : new RecordedByNewerVersion(Code);
}

internal sealed record StoredClassification(string? Classification, DateTimeOffset From) : StoredRecord;

internal sealed record StoredLink(LinkPurpose Purpose, string Subject, DateTimeOffset Until, string Label) : StoredRecord;

/// <summary>A grant by its key, and the wanted one; null to remove it.</summary>
internal sealed record StoredChange(string Key, StoredGrant? Wanted) : StoredRecord;

/// <summary>A grant as columns and JSON have it: the subject as a word and an id.</summary>
internal sealed record StoredGrant(
    Power Power,
    string Subject,
    long? Person,
    long? Group,
    string? Unit,
    VisitorSignIn VisitorSignIn,
    bool IsLink,
    DateOnly? Through
)
{
    public static StoredGrant Of(Grant grant)
    {
        var (word, person, group, unit) = grant.Subject switch
        {
            Core.Sites.Subject.OnePerson(var id) => ("person", (long?)id.Value, (long?)null, (string?)null),
            Core.Sites.Subject.OneGroup(var id) => ("group", null, id.Value, null),
            Core.Sites.Subject.WholeUnit(var code) => ("unit", null, null, code.Value),
            Core.Sites.Subject.AllStaff => ("staff", null, null, null),
            Core.Sites.Subject.Partners => ("partners", null, null, null),
            _ => ("anonymous", null, null, null),
        };
        return new StoredGrant(grant.Power, word, person, group, unit, grant.VisitorSignIn, grant.IsLink, grant.Through);
    }

    public Grant Grant(string key) =>
        new(
            key,
            Power,
            Subject switch
            {
                "person" => new Core.Sites.Subject.OnePerson(new PersonId(Person!.Value)),
                "group" => new Core.Sites.Subject.OneGroup(new GroupId(Group!.Value)),
                "unit" => new Core.Sites.Subject.WholeUnit(new UnitCode(Unit!)),
                "staff" => new Core.Sites.Subject.AllStaff(),
                "partners" => new Core.Sites.Subject.Partners(),
                _ => new Core.Sites.Subject.Anonymous(),
            },
            VisitorSignIn,
            IsLink,
            Through
        );
}
