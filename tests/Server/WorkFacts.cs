using AtticLedger.Server.Work;

namespace AtticLedger.Server.Tests;

/// <summary>Background work: one at a time for each name, none lost, and a fault stops nothing else.</summary>
public class WorkFacts
{
    private readonly List<string> failed = [];
    private readonly SemaphoreSlim begun = new(0);
    private readonly SemaphoreSlim goOn = new(0);
    private int runs;

    private OneEach Works => new((name, fault) => failed.Add($"{name}: {fault.Message}"));

    [Fact]
    public async Task Woken_while_it_runs_it_runs_once_more_however_often_it_was_woken()
    {
        var works = Works;
        works.Wake("a", Run, default);
        await begun.WaitAsync();
        works.Wake("a", Run, default);
        works.Wake("a", Run, default);
        works.Wake("a", Run, default);
        goOn.Release();
        await begun.WaitAsync();
        Assert.Equal(2, runs);
        goOn.Release();
        await Over(works, "a");
        Assert.Equal(3, runs);
    }

    [Fact]
    public async Task Started_while_it_runs_it_does_not_run_again_and_other_names_do_not_wait()
    {
        var works = Works;
        works.Start("a", Run, default);
        await begun.WaitAsync();
        works.Start("a", Run, default);
        works.Start("b", Run, default);
        await begun.WaitAsync();
        Assert.Equal(2, runs);
        goOn.Release(2);
        await Over(works, "a");
        Assert.Equal(3, runs);
    }

    [Fact]
    public async Task A_fault_is_reported_by_its_name_and_the_work_can_be_started_again()
    {
        var works = Works;
        works.Wake("a", () => throw new InvalidOperationException("no"), default);
        await Installation.Until(() => Task.FromResult(failed.Count > 0), "the fault is reported");
        Assert.Equal(["a: no"], failed);
        goOn.Release();
        await Over(works, "a");
        Assert.Equal(1, runs);
    }

    // Starts it until it is free, and lets it run once.
    private async Task Over(OneEach works, string name)
    {
        var before = runs;
        goOn.Release();
        await Installation.Until(
            () =>
            {
                if (runs == before)
                {
                    works.Start(name, Run, default);
                }

                return Task.FromResult(runs > before);
            },
            "it is free again"
        );
    }

    private async Task Run()
    {
        Interlocked.Increment(ref runs);
        begun.Release();
        await goOn.WaitAsync();
    }
}
