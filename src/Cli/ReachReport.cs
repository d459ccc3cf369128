using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Access;
using AtticLedger.Core.Register;
using AtticLedger.Core.Rules;
using AtticLedger.Core.Sites;
using AtticLedger.Core.Terms;
using AtticLedger.Store;

namespace AtticLedger.Cli;

/// <summary>The access paths of one site, as text and as JSON: the same computation as on the screens.</summary>
internal static class ReachReport
{
    public static async Task<int> Write(Database database, string address, bool asJson, TextWriter to)
    {
        var (site, organisation, rules, directory) = await database.Read(async connection =>
        {
            var time = await connection.OrganisationTime();
            return (
                (await connection.Sites(new Scope.Everything())).FirstOrDefault(site =>
                    site.Address.Has(out var own) && own == address
                ),
                await connection.Organisation(),
                await connection.Rules(Today.At(database.Now, time)),
                await connection.PeopleDirectory(database.Now, time)
            );
        });
        if (site is null)
        {
            await Console.Error.WriteLineAsync(
                $"No site in the register has the address \"{address}\". Write it whole, as in slipway.example/pilot-boarding."
            );
            return 1;
        }

        var line = new ComputedSite(site, organisation, directory);
        var accessPaths = Powers.Limited.Where(power => !line.Inside(power).IsNone).Select(line.AccessPath).ToList();
        static string Words(AccessPath accessPath, AccessBounds bounds)
        {
            var inside = accessPath.LevelsOf(bounds);
            var (least, most) = (
                One((InsideLevel)inside.AtLeast, bounds.AtLeast),
                One((InsideLevel)inside.AtMost, bounds.AtMost)
            );
            return least == most ? least : $"at least {least}, at most {most}";

            static string One(InsideLevel level, AccessSet access) => $"{level.Word()} / {access.Doors.Widest.Word()}";
        }

        var findings = rules
            .Judge(line)
            .Select(finding => (finding.Rule, finding.Verdict, Explanation: Explanation.Of(finding, line, directory)))
            .ToList();
        if (asJson)
        {
            await to.WriteLineAsync(
                new JsonObject
                {
                    ["site"] = site.Title,
                    ["address"] = address,
                    ["powers"] = new JsonArray([
                        .. accessPaths.Select(accessPath =>
                            (JsonNode)
                                new JsonObject
                                {
                                    ["power"] = accessPath.Power.Word(),
                                    ["set"] = Words(accessPath, accessPath.SetAccess),
                                    ["layers"] = new JsonArray([
                                        .. accessPath.Steps.Select(step =>
                                            (JsonNode)
                                                new JsonObject
                                                {
                                                    ["layer"] = step.Layer.Kind.ToString(),
                                                    ["name"] = step.Layer.Name,
                                                    ["enforcer"] = step.Layer.Enforcer.ToString(),
                                                    ["allows"] = Allows(step),
                                                    ["limitedBy"] = new JsonArray([
                                                        .. step.Bindings.Select(binding =>
                                                            (JsonNode)
                                                                $"{(binding.IsCertain ? "" : "possibly ")}{binding.Axis}".ToLowerInvariant()
                                                        ),
                                                    ]),
                                                }
                                        ),
                                    ]),
                                    ["effective"] = Words(accessPath, accessPath.Effective),
                                    ["allowed"] = Words(accessPath, accessPath.Allowed),
                                    ["exceeds"] = line.ExcessOf(accessPath.Power).ToString().ToLowerInvariant(),
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
                                    ["headline"] = finding.Explanation.Headline,
                                }
                        ),
                    ]),
                }.ToJsonString(new JsonSerializerOptions { WriteIndented = true })
            );
            return 0;
        }

        await to.WriteLineAsync($"{site.Title}  {address}");
        foreach (var accessPath in accessPaths)
        {
            await to.WriteLineAsync();
            await to.WriteLineAsync($"{accessPath.Power.Word()}: inside / outside");
            await to.WriteLineAsync($"  {"set on the site", -44}{Words(accessPath, accessPath.SetAccess)}");
            foreach (var step in accessPath.Steps)
            {
                var binds =
                    step.Bindings.Count == 0 ? ""
                    : step.Bindings.Any(binding => binding.IsCertain) ? "  limits it"
                    : "  may limit it";
                var layer =
                    $"{step.Layer.Kind} {step.Layer.Name}, {(step.Layer.Enforcer == Enforcer.Host ? "enforced by the host" : "policy only")}";
                await to.WriteLineAsync($"  {layer, -44}{Allows(step)}{binds}");
            }

            await to.WriteLineAsync($"  {"effective", -44}{Words(accessPath, accessPath.Effective)}");
            await to.WriteLineAsync($"  {"allowed by policy", -44}{Words(accessPath, accessPath.Allowed)}");
        }

        await to.WriteLineAsync();
        foreach (var finding in findings)
        {
            await to.WriteLineAsync(
                $"{finding.Rule.Id} ({finding.Rule.Level.ToString().ToLowerInvariant()}): {finding.Explanation.Headline}. {finding.Explanation.Detail}"
            );
        }

        return 0;
    }

    private static string Allows(Step step) =>
        step.Limit.Has(out var limit) ? $"{limit.Inside.Word()} / {limit.Widest.Word()}" : "unknown";
}
