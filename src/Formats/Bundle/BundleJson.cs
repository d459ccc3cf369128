using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using AtticLedger.Core.Terms;

namespace AtticLedger.Formats.Bundle;

/// <summary>The JSON of rows: strict, because a bundle can come from anywhere.</summary>
internal static class BundleJson
{
    public static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        AllowDuplicateProperties = false,
        RespectRequiredConstructorParameters = true,
        RespectNullableAnnotations = true,
        IgnoreReadOnlyProperties = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        MaxDepth = 12,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, allowIntegerValues: false), new Facts() },
        TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { LeaveOutUnknown, AskForNoNulls } },
    };

    // An unknown fact is omitted; null means known to be none.
    private static void LeaveOutUnknown(JsonTypeInfo type)
    {
        foreach (
            var property in type.Properties.Where(property =>
                property.PropertyType.IsGenericType && property.PropertyType.GetGenericTypeDefinition() == typeof(Known<>)
            )
        )
        {
            var unknown = Activator.CreateInstance(property.PropertyType);
            property.ShouldSerialize = (_, value) => !Equals(value, unknown);
        }
    }

    // Null is omitted too.
    private static void AskForNoNulls(JsonTypeInfo type)
    {
        foreach (var property in type.Properties.Where(property => property.AssociatedParameter is { IsNullable: true }))
        {
            property.IsRequired = false;
        }
    }

    private sealed class Facts : JsonConverterFactory
    {
        public override bool CanConvert(Type typeToConvert) =>
            typeToConvert.IsGenericType && typeToConvert.GetGenericTypeDefinition() == typeof(Known<>);

        public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
            (JsonConverter)Activator.CreateInstance(typeof(Fact<>).MakeGenericType(typeToConvert.GetGenericArguments()))!;
    }

    private sealed class Fact<T> : JsonConverter<Known<T>>
        where T : notnull
    {
        public override bool HandleNull => true;

        public override Known<T> Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.Null
                ? Known<T>.None
                : Known.Of(JsonSerializer.Deserialize<T>(ref reader, options)!);

        public override void Write(Utf8JsonWriter writer, Known<T> value, JsonSerializerOptions options)
        {
            if (value.Has(out var known))
            {
                JsonSerializer.Serialize(writer, known, options);
            }
            else
            {
                writer.WriteNullValue();
            }
        }
    }
}
