using AtticLedger.Core.Journal;
using AtticLedger.Formats.Bundle;
using AtticLedger.Store;

namespace AtticLedger.Cli.Bundle;

/// <summary>Reads a bundle into an empty register: all of it in one transaction, or nothing.</summary>
public static class BundleImport
{
    private const int Batch = 5000;

    /// <returns>The number of sites read.</returns>
    /// <exception cref="BundleError">The bundle has a fault, or the register is not empty; nothing was written.</exception>
    public static Task<long> Read(Database database, DirectoryInfo folder)
    {
        var bundle = BundleFolder.Open(folder);
        return database.Change(async change =>
        {
            if (!await change.Connection.IsEmpty())
            {
                throw new BundleError(
                    folder.Name,
                    0,
                    "the register is not empty; a bundle can be imported into an empty installation only"
                );
            }

            await Write(change, new BundleRegister(bundle));
            await change.Append([
                new Draft(JournalAction.RegisterImported, EntryActor.Product, EntrySubject.Bundle)
                {
                    After = JournalValue.Of(
                        ("sites", JournalValue.Of(bundle.Lines("sites.jsonl"))),
                        ("digest", JournalValue.Of(bundle.Digest))
                    ),
                },
            ]);
            return bundle.Lines("sites.jsonl");
        });
    }

    private static async Task Write(Change change, BundleRegister register)
    {
        foreach (var unit in register.Units())
        {
            await change.SetUnit(unit.Code.Value, unit.Name, unit.Parent?.Value);
        }

        await change.LoadPeople([.. register.People()]);
        await change.SetByHand(register.ByHand, true);
        foreach (var source in register.Sponsorships().GroupBy(said => said.Source))
        {
            await change.SetSponsors(
                source.Key,
                [.. source.DistinctBy(said => said.Guest).Select(said => (said.Guest, said.Sponsor))]
            );
        }

        await change.LoadGroups([.. register.Groups()]);
        await WriteOrganisation(change, register);
        foreach (var sites in register.Sites().Chunk(Batch))
        {
            await change.LoadSites(sites);
        }

        foreach (var (from, to) in register.Moved())
        {
            await change.SetMoved(from, to);
        }

        await change.Loaded();
    }

    private static async Task WriteOrganisation(Change change, BundleRegister register)
    {
        foreach (var (setting, value) in register.Settings())
        {
            await change.Set(setting, value);
        }

        foreach (var kind in register.Kinds())
        {
            await change.SetKind(kind);
        }

        foreach (var limit in register.Limits())
        {
            await change.SetLimit(limit);
        }

        foreach (var keeping in register.RetentionRules())
        {
            await change.AddRetentionRule(keeping);
        }

        foreach (var rule in register.Rules())
        {
            await change.AddRule(rule);
        }
    }
}
