using AtticLedger.Core.Sites;
using AtticLedger.Store;

namespace AtticLedger.Server.Tests;

public class SettingFacts
{
    [Fact]
    public async Task A_setting_with_an_impossible_value_or_of_another_version_counts_as_not_set()
    {
        await using var database = Database.Open(Databases.Server(await Databases.Migrated()), TimeProvider.System);
        await database.Change(async change =>
        {
            await change.Set(Setting.OfferDays, "soon");
            await change.Set(Setting.Zone, "Merrowby/Harbour");
            await change.Set(Setting.ApprovalDays, "3");
        });
        await using var later = database.Source.CreateCommand(
            "insert into organisation_setting (name, value) values ('colour', 'red')"
        );
        await later.ExecuteNonQueryAsync();

        var organisation = await database.Read(connection => connection.Organisation());
        Assert.Equal((14, 3), (organisation.OfferDays, organisation.ApprovalDays));
        Assert.Equal("UTC", (await database.Read(connection => connection.OrganisationTime())).Zone.Id);
        Assert.Equal(
            [Setting.ApprovalDays],
            (await database.Read(connection => connection.Settings())).Select(pair => pair.Setting)
        );
    }
}
