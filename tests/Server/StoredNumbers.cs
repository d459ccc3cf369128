using System.Text.RegularExpressions;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Attic;
using AtticLedger.Core.People;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

/// <summary>Enumerations are stored as numbers. What a number means never changes: a value is only added at the end, and then the
/// constraint of its column with it.</summary>
public sealed partial class StoredNumbers
{
    private static readonly Dictionary<string, (Type Type, string Values)> Columns = new()
    {
        ["account.role"] = (typeof(Role), "Administrator Steward Owner Auditor"),
        ["approval.by_capacity"] = (typeof(Capacity), "Owner Steward Administrator"),
        ["approval.state"] = (typeof(ApprovalState), "Requested Approved Declined Withdrawn Lapsed Void"),
        ["attic_entry.state"] = (
            typeof(AtticState),
            "Announced MovingToAttic InAttic Due Restoring Restored Stopped NotDone Erased"
        ),
        ["batch.state"] = (typeof(BatchState), "Planned Running Stopped Ended"),
        ["batch_line.state"] = (typeof(BatchLineState), "Waiting Carried AsksSecond Changed Refused LeftOut"),
        ["host_change.purpose"] = (typeof(ChangePurpose), "Reach Owners MoveToAttic Restore Look Address"),
        ["host_change.state"] = (
            typeof(ChangeState),
            "Queued Sent Confirmed Verified Contradicted Refused Withdrawn Superseded GivenUp"
        ),
        ["invitation.power"] = (typeof(Power), "View Preview Edit Publish Invite Manage Own"),
        ["invitation.ending"] = (typeof(InvitationEnding), "Withdrawn Expired"),
        ["link.purpose"] = (typeof(LinkPurpose), "Password Offer Stop Yours ManualTask"),
        ["offer.current_owner_after"] = (typeof(CurrentOwnerAfter), "Stays Leaves Owns"),
        ["offer.state"] = (typeof(OfferState), "Offered Completing HandedOver Declined Lapsed Withdrawn Void NotDone"),
        ["organisation_limit.enforcer"] = (typeof(Enforcer), "Host Policy"),
        ["organisation_limit.kind"] = (
            typeof(LayerKind),
            "Organisation Host Place Unit Classification Kind OwnersClassification Site"
        ),
        ["finding.verdict"] = (typeof(Verdict), "Holds CannotTell Excepted Breaks"),
        ["owner_question.answer"] = (typeof(QuestionAnswer), "Fixed NeedsException NotMine"),
        ["owner_question.state"] = (typeof(QuestionState), "Asked Answered Overdue Restricted Ended"),
        ["rule_version.enforcement"] = (typeof(EnforcementKind), "Report AskOwners Restrict"),
        ["rule_version.level"] = (typeof(Level), "Critical Warning Note"),
        ["person.kind"] = (typeof(PersonKind), "Staff Guest Service Operator"),
        ["person.standing"] = (typeof(Standing), "Current Absent Leaving Left"),
        ["site.existence"] = (typeof(Existence), "InUse Attic Erased"),
        ["site.sharing_source"] = (typeof(SharingSource), "Confirmed Read"),
        ["site_request.state"] = (typeof(SiteRequestState), "Requested BeingMade Stopped InUse Refused GivenUp"),
        ["site.status"] = (typeof(Status), "NeverPublished Published UnpublishedChanges Offline"),
        ["site_grant.power"] = (typeof(Power), "View Preview Edit Publish Invite Manage Own"),
        ["site_grant.visitor_sign_in"] = (typeof(VisitorSignIn), "None OneTimeCode Account"),
    };

    [Fact]
    public void A_stored_number_means_what_it_meant() =>
        Assert.All(Columns.Values, column => Assert.Equal(column.Values, string.Join(' ', Enum.GetNames(column.Type))));

    [Fact]
    public async Task Every_column_of_a_number_has_its_enumeration_and_allows_just_its_values()
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        await using var query = database.Source.CreateCommand(
            """
            select c.table_name || '.' || c.column_name, (
                select string_agg(pg_get_constraintdef(k.oid), ' ') from pg_constraint k
                where k.conrelid = c.table_name::regclass and k.contype = 'c' and k.conkey = array[c.ordinal_position::smallint]
            )
            from information_schema.columns c
            where c.table_schema = 'public' and c.data_type = 'smallint' and c.table_name not like 'qrtz%'
            """
        );
        await using var rows = await query.ExecuteReaderAsync();
        List<string> found = [];
        while (await rows.ReadAsync())
        {
            var column = rows.GetString(0);
            found.Add(column);
            var most = Enum.GetValues(Columns[column].Type).Length - 1;
            Assert.Equal(
                (column, most.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                (column, Most().Match(rows.IsDBNull(1) ? "" : rows.GetString(1)).Groups[1].Value)
            );
        }

        Assert.Equal(Columns.Keys.Order(StringComparer.Ordinal), found.Order(StringComparer.Ordinal));
    }

    [GeneratedRegex(@"<= (\d+)")]
    private static partial Regex Most();
}
