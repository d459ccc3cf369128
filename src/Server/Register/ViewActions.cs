using System.Text.Json;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Actions;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Identity;
using AtticLedger.Store;

namespace AtticLedger.Server.Register;

/// <summary>Saves a view of the register under a name; one's own view of that name is replaced. It changes no fact, so the journal
/// does not record it.</summary>
/// <param name="count">The number of sites that it shows now.</param>
internal sealed class SaveView(SaveViewRequest request, int count, Viewer viewer) : RequestedAction<string, ViewId>
{
    private const int LongestName = 80;
    private const int MostViews = 100;
    private const int LongestSentence = 8000;

    public override ActionName Name => ActionName.ViewSave;

    public override async Task<Decided<string>> Decide(FactReader facts)
    {
        if (SiteActionAnswers.Reason(request.Name) is not { Length: <= LongestName } name)
        {
            return Decided<string>.Refuse(new ViewNameInvalid(LongestName));
        }

        var length = Sentence.Length;
        if (length > LongestSentence)
        {
            return Decided<string>.Refuse(new ViewTooLong(length, LongestSentence));
        }

        var own = (await facts.Connection.Views(viewer.Account)).Where(view => view.Account == viewer.Account).ToList();
        return own.Count >= MostViews && !own.Exists(view => view.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
            ? Decided<string>.Refuse(new ViewsTooMany(MostViews))
            : new Decided<string>.Planned(name, "");
    }

    public override async Task<Written<ViewId>> Write(Change change, string plan)
    {
        var id = await change.Keep(new SavedView(0, viewer.Account, viewer.Person, plan, Sentence, request.IsShared, null));
        await change.Saw(id, viewer.Account, count);
        return new Written<ViewId>(await change.AppendOrHead([]), new ViewId(id));
    }

    private string Sentence => JsonSerializer.Serialize(request.View, JsonSerializerOptions.Web);
}

/// <summary>Deletes one's own view.</summary>
internal sealed class DeleteView(long view, Viewer viewer) : RequestedAction<long, ViewId>
{
    public override ActionName Name => ActionName.ViewDelete;

    public override async Task<Decided<long>> Decide(FactReader facts) =>
        (await facts.Connection.Views(viewer.Account)).Exists(one => one.Id == view && one.Account == viewer.Account)
            ? new Decided<long>.Planned(view, "")
            : new Decided<long>.NotSeen("view");

    public override async Task<Written<ViewId>> Write(Change change, long plan)
    {
        await change.Forget(plan);
        return new Written<ViewId>(await change.AppendOrHead([]), new ViewId(plan));
    }
}
