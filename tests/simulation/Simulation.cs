namespace AtticLedger.Simulation.Tests;

/// <summary>Deterministic runs: the real decisions, change queues, intake and adapter with the real stand-in, with answers lost
/// before and after their effect, kills between any two commits, and changes made at the host meanwhile.
/// </summary>
public sealed partial class Simulation
{
    private const int Runs = 500;
    private const int TogetherRuns = 150;
    private const int Steps = 45;

    [Fact]
    public async Task Nothing_is_lost_nothing_is_done_twice_and_the_prediction_is_the_outcome_at_a_host_that_knows_repeats()
    {
        await using var slipway = await SimulatedSlipway.Start();
        await Play(slipway, Runs);
    }

    [Fact]
    public async Task A_host_that_deletes_irrevocably_behaves_the_same()
    {
        await using var lantern = await SimulatedLantern.Start();
        await Play(lantern, Runs);
    }

    [Fact]
    public async Task Likewise_at_a_host_that_lets_nobody_in_by_name_and_whose_lists_lag()
    {
        await using var quay = await SimulatedQuay.Start();
        await Play(quay, Runs);
    }

    [Fact]
    public async Task Likewise_at_three_hosts_at_once_with_faults_in_all()
    {
        await using var slipway = await SimulatedSlipway.Start();
        await using var lantern = await SimulatedLantern.Start();
        await using var quay = await SimulatedQuay.Start();
        var had = new Tally();
        for (var seed = 1; seed <= TogetherRuns; seed++)
        {
            var order = new Random(seed);
            Run[] runs = [new(slipway, seed, had), new(lantern, seed, had), new(quay, seed, had)];
            try
            {
                foreach (var run in runs)
                {
                    await run.Begin();
                }

                for (var step = 0; step < Steps * runs.Length; step++)
                {
                    await runs[order.Next(runs.Length)].Advance();
                }

                foreach (var run in runs)
                {
                    await run.End();
                }
            }
            catch (Exception broken)
            {
                Assert.Fail($"Seed {seed} broke an invariant: {broken.Message}");
            }
        }

        Assert.True(had.Seen > TogetherRuns && had.Lost > 500 && had.Killed > 500 && had.Disputed > 500, had.ToString());
    }

    private static async Task Play(SimulatedHost host, int runs)
    {
        var had = new Tally();
        for (var seed = 1; seed <= runs; seed++)
        {
            try
            {
                await new Run(host, seed, had).Play();
            }
            catch (Exception broken)
            {
                Assert.Fail($"Seed {seed} broke an invariant: {broken.Message}");
            }
        }

        // Runs without faults prove nothing: every kind of fault has to have happened often.
        Assert.True(
            had.Seen > runs
                && had.Undone > runs / 20
                && had.Lost > runs / 2
                && had.Killed > runs / 2
                && had.ChangedMeanwhile > runs / 2
                && had.Predicted > runs / 2
                && (had.HandedOver > runs / 7 || !host.Host.Capabilities.NamesPeople)
                && had.MoveToAttic > runs / 7
                && had.Restored > runs / 10
                && (had.KilledWhileCompleting > runs / 40 || !host.Host.Capabilities.NamesPeople)
                && had.Clean > runs / 20,
            had.ToString()
        );
    }
}
