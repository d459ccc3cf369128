namespace AtticLedger.Simulation.Tests;

/// <summary>Counts how often each required event happened.</summary>
internal sealed record Tally
{
    public int Seen { get; set; }

    public int Undone { get; set; }

    public int Lost { get; set; }

    public int Killed { get; set; }

    public int KilledWhileCompleting { get; set; }

    public int ChangedMeanwhile { get; set; }

    public int Predicted { get; set; }

    public int HandedOver { get; set; }

    public int MoveToAttic { get; set; }

    public int Restored { get; set; }

    public int Clean { get; set; }

    public int Disputed { get; set; }
}
