namespace AtticLedger.Simulation.Tests;

/// <summary>How often what had to happen did.</summary>
internal sealed record Tally
{
    public int Seen { get; set; }

    public int Undone { get; set; }

    public int Lost { get; set; }

    public int Killed { get; set; }

    public int KilledInSwitch { get; set; }

    public int ChangedMeanwhile { get; set; }

    public int Predicted { get; set; }

    public int HandedOver { get; set; }

    public int PutAway { get; set; }

    public int BroughtBack { get; set; }

    public int Clean { get; set; }

    public int Disputed { get; set; }
}
