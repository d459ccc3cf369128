using System.Runtime.CompilerServices;
using System.Text;
using AtticLedger.Core.Access;
using AtticLedger.Core.Actions;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;

namespace AtticLedger.Core.Tests.Doors;

/// <summary>The page <c>docs/access.md</c>: a section for each worked case, written by its test. A section that differs fails its
/// test; with <c>ATTIC_WRITE_DOCS=1</c> it is written instead.</summary>
internal static class AccessPage
{
    private static readonly Lock Writing = new();

    /// <summary>The section has this access path, layer by layer.</summary>
    /// <param name="says">The situation.</param>
    public static void Shows(this AccessPath path, string says, [CallerMemberName] string test = "")
    {
        var rows = new List<(string Step, string Enforcer, string Allows, string Limits)>
        {
            ("set on the site", "", Words(path, path.SetAccess), ""),
        };
        rows.AddRange(
            path.Steps.Select(step =>
                (
                    AccessText.Name(step.Layer),
                    step.Layer.Enforcer == Enforcer.Host ? "the host" : "policy only",
                    step.Limit.Has(out var limit) ? AccessText.Of(limit) : "not known",
                    step.Bindings.Count == 0 ? ""
                    : step.Bindings.Any(binding => binding.IsCertain) ? "limits it"
                    : "may limit it"
                )
            )
        );
        rows.Add(("**effective**", "", Words(path, path.Effective), ""));
        rows.Add(("**allowed**", "", Words(path, path.Allowed), path.Excess.IsSo == Truth.Yes ? "exceeds policy" : ""));
        var table = new StringBuilder(
            $"{says}\n\n| {path.Power.Word()} | enforced by | allows, inside and outside | |\n|---|---|---|---|\n"
        );
        foreach (var (step, enforcer, allows, limits) in rows)
        {
            table.Append($"| {step} | {enforcer} | {allows} | {limits} |\n");
        }

        Shows(table.ToString(), test);
    }

    /// <summary>The section has this text.</summary>
    public static void Shows(string text, [CallerMemberName] string test = "")
    {
        var section = $"### {Title(test)}\n\n{text.TrimEnd()}\n";
        lock (Writing)
        {
            var page = File.ReadAllText(Path);
            var start = page.IndexOf($"### {Title(test)}\n", StringComparison.Ordinal);
            var next = start < 0 ? -1 : page.IndexOf("\n#", start + 4, StringComparison.Ordinal);
            var now = start < 0 ? "" : page[start..(next < 0 ? page.Length : next)];
            if (now == section)
            {
                return;
            }

            if (Environment.GetEnvironmentVariable("ATTIC_WRITE_DOCS") != "1")
            {
                Assert.Fail(
                    $"docs/access.md differs from this case. Run the tests once with ATTIC_WRITE_DOCS=1. It has to say:\n{section}"
                );
            }

            File.WriteAllText(
                Path,
                start < 0 ? $"{page.TrimEnd()}\n\n{section}" : page.Replace(now, section, StringComparison.Ordinal)
            );
        }
    }

    private static string Path { get; } = System.IO.Path.Combine(Root(), "docs", "access.md");

    private static string Words(AccessPath path, AccessBounds bounds)
    {
        var inside = path.LevelsOf(bounds);
        string One(long level, AccessSet access) => $"{((InsideLevel)level).Word()} inside, {access.Doors.Widest.Word()} outside";
        var (least, most) = (One(inside.AtLeast, bounds.AtLeast), One(inside.AtMost, bounds.AtMost));
        return least == most ? least : $"at least {least}; at most {most}";
    }

    // "Case_1_the_site_alone" is "Case 1: the site alone".
    private static string Title(string test) =>
        test.Split('_') is ["Case", var number, .. var rest]
            ? rest is ["and", var other, .. var more]
                ? $"Cases {number} and {other}: {string.Join(' ', more)}"
                : $"Case {number}: {string.Join(' ', rest)}"
            : string.Join(' ', test.Split('_'));

    private static string Root()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(System.IO.Path.Combine(folder.FullName, "AtticLedger.slnx")))
        {
            folder = folder.Parent;
        }

        return folder?.FullName ?? throw new InvalidOperationException("The tests do not run in a checkout.");
    }
}
