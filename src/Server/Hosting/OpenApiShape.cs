using System.Text.Json;
using System.Text.Json.Nodes;
using AtticLedger.Core.Remarks;
using AtticLedger.Server.Execution;
using AtticLedger.Server.Sentences;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace AtticLedger.Server.Hosting;

/// <summary>Adds to the API document what the code cannot express: required properties, and a stable address.</summary>
internal static class OpenApiShape
{
    private const string Ending = "Response";

    public static void Configure(OpenApiOptions options)
    {
        options.OpenApiVersion = OpenApiSpecVersion.OpenApi3_1;
        // In the document a schema has the plain name: the suffix only distinguishes it from the core's type.
        options.CreateSchemaReferenceId = type =>
            OpenApiOptions.CreateDefaultSchemaReferenceId(type) is { } name && name.EndsWith(Ending, StringComparison.Ordinal)
                ? name[..^Ending.Length]
                : OpenApiOptions.CreateDefaultSchemaReferenceId(type);
        // Every action is done once: its key is a header that each of these endpoints requires.
        options.AddOperationTransformer(
            (operation, context, _) =>
            {
                if (
                    context
                        .Description.ActionDescriptor.EndpointMetadata.OfType<Writes>()
                        .Any(writes => writes.Action is not null)
                )
                {
                    (operation.Parameters ??= []).Add(
                        new OpenApiParameter
                        {
                            Name = ActionEndpoint.KeyHeader,
                            In = ParameterLocation.Header,
                            Required = true,
                            Description =
                                "A key of this request: pressing again with the same key is the same, and gets the same answer.",
                            Schema = new OpenApiSchema { Type = JsonSchemaType.String, MaxLength = ActionEndpoint.LongestKey },
                        }
                    );
                }

                return Task.CompletedTask;
            }
        );
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                if (context.JsonTypeInfo.Type == typeof(RemarkResponse) && schema.Properties?["code"] is OpenApiSchema code)
                {
                    code.Enum = [.. Remark.All.Select(Remark.CodeOf).Select(one => JsonValue.Create(one)!)];
                }

                return Task.CompletedTask;
            }
        );
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                if (Labels.All(context.JsonTypeInfo.Type) is { } labels)
                {
                    var names = new JsonObject();
                    foreach (var (value, label) in labels)
                    {
                        names.Add(JsonNamingPolicy.KebabCaseLower.ConvertName(value.ToString()!), label);
                    }

                    schema.AddExtension("x-labels", new JsonNodeExtension(names));
                }

                return Task.CompletedTask;
            }
        );
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info = new OpenApiInfo
                {
                    Title = "Attic Ledger",
                    Version = "1",
                    Description =
                        "The API of Attic Ledger. Every request that changes something needs the header X-Attic-Ledger.",
                };
                document.Servers = [];

                // A nullable enum has no null in its list of values.
                foreach (var schema in document.Components?.Schemas?.Values.OfType<OpenApiSchema>() ?? [])
                {
                    schema.Enum = schema
                        .Enum?.Where(word => word is not null && word.GetValueKind() != JsonValueKind.Null)
                        .ToList();
                }

                return Task.CompletedTask;
            }
        );
    }
}
