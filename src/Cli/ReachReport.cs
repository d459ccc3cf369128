using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Doors;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sheet;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Cli;

/// <summary>The arithmetic of one site's reach, as text and as JSON: the same computation as on the screens.</summary>
internal static class ReachReport
{
    public static async Task<int> Write(Database database, string address, bool asJson, TextWriter to)
    {
        var (site, house, rules, roll) = await database.Read(async connection =>
        {
            var time = await connection.HouseTime();
            return (
                (await connection.Sites(new Sight.Everything())).FirstOrDefault(site =>
                    site.Address.Has(out var own) && own == address
                ),
                await connection.House(),
                await connection.Rules(time.DayOf(database.Now)),
                await connection.Roll(database.Now, time)
            );
        });
        if (site is null)
        {
            await Console.Error.WriteLineAsync(
                $"No site of the register has the address \"{address}\". Write it whole, as in slipway.example/pilot-boarding."
            );
            return 1;
        }

        var line = new SiteLine(site, house, roll);
        var passages = Powers.Limited.Where(power => !line.Inside(power).IsNone).Select(line.Passage).ToList();
        static string Words(Passage passage, AccessBounds bounds)
        {
            var inside = passage.LevelsOf(bounds);
            var (least, most) = (
                One((InsideLevel)inside.AtLeast, bounds.AtLeast),
                One((InsideLevel)inside.AtMost, bounds.AtMost)
            );
            return least == most ? least : $"at least {least}, at most {most}";

            static string One(InsideLevel level, Access access) => $"{level.Word()} / {access.Doors.Widest.Word()}";
        }

        var findings = rules
            .Judge(line)
            .Select(finding => (finding.Rule, finding.Verdict, Said: Explanation.Of(finding, line, roll)))
            .ToList();
        if (asJson)
        {
            await to.WriteLineAsync(
                new JsonObject
                {
                    ["site"] = site.Title,
                    ["address"] = address,
                    ["powers"] = new JsonArray([
                        .. passages.Select(passage =>
                            (JsonNode)
                                new JsonObject
                                {
                                    ["power"] = passage.Power.Word(),
                                    ["asked"] = Words(passage, passage.Asked),
                                    ["layers"] = new JsonArray([
                                        .. passage.Steps.Select(step =>
                                            (JsonNode)
                                                new JsonObject
                                                {
                                                    ["layer"] = step.Layer.Kind.ToString(),
                                                    ["name"] = step.Layer.Name,
                                                    ["enforcer"] = step.Layer.Enforcer.ToString(),
                                                    ["allows"] = Allows(step),
                                                    ["binds"] = new JsonArray([
                                                        .. step.Bindings.Select(binding =>
                                                            (JsonNode)
                                                                $"{(binding.IsCertain ? "" : "possibly ")}{binding.Axis}".ToLowerInvariant()
                                                        ),
                                                    ]),
                                                }
                                        ),
                                    ]),
                                    ["actual"] = Words(passage, passage.Actual),
                                    ["allowed"] = Words(passage, passage.Allowed),
                                    ["beyond"] = line.BeyondOf(passage.Power).ToString().ToLowerInvariant(),
                                }
                        ),
                    ]),
                    ["findings"] = new JsonArray([
                        .. findings.Select(finding =>
                            (JsonNode)
                                new JsonObject
                                {
                                    ["rule"] = finding.Rule.Id.Value,
                                    ["verdict"] = finding.Verdict.ToString(),
                                    ["headline"] = finding.Said.Headline,
                                }
                        ),
                    ]),
                }.ToJsonString(new JsonSerializerOptions { WriteIndented = true })
            );
            return 0;
        }

        await to.WriteLineAsync($"{site.Title}  {address}");
        foreach (var passage in passages)
        {
            await to.WriteLineAsync();
            await to.WriteLineAsync($"{passage.Power.Word()}: inside / outside");
            await to.WriteLineAsync($"  {"the site asks for", -44}{Words(passage, passage.Asked)}");
            foreach (var step in passage.Steps)
            {
                var binds =
                    step.Bindings.Count == 0 ? ""
                    : step.Bindings.Any(binding => binding.IsCertain) ? "  binds"
                    : "  may bind";
                var layer =
                    $"{step.Layer.Kind} {step.Layer.Name}, kept by the {step.Layer.Enforcer.ToString().ToLowerInvariant()}";
                await to.WriteLineAsync($"  {layer, -44}{Allows(step)}{binds}");
            }

            await to.WriteLineAsync($"  {"so in fact", -44}{Words(passage, passage.Actual)}");
            await to.WriteLineAsync($"  {"of which the house allows", -44}{Words(passage, passage.Allowed)}");
        }

        await to.WriteLineAsync();
        foreach (var finding in findings)
        {
            await to.WriteLineAsync(
                $"{finding.Rule.Id} ({finding.Rule.Level.ToString().ToLowerInvariant()}): {finding.Said.Headline}. {finding.Said.Detail}"
            );
        }

        return 0;
    }

    private static string Allows(Step step) =>
        step.Limit.Has(out var limit) ? $"{limit.Inside.Word()} / {limit.Widest.Word()}" : "unknown";
}
