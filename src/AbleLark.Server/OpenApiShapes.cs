using System.ComponentModel.DataAnnotations;
using System.Globalization;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization.Metadata;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Core.Workspaces;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using NodaTime;

namespace AbleLark.Server;

/// <summary>Tells the OpenAPI document how our value types are written.</summary>
internal static class OpenApiShapes
{
    private static readonly Dictionary<Type, string> Formats = new()
    {
        [typeof(Instant)] = "date-time",
        [typeof(LocalDate)] = "date",
        [typeof(QueryDate)] = "date",
        [typeof(QueryIdOrNone)] = "uuid-or-none",
        [typeof(LocalTime)] = "time",
        [typeof(LocalDateTime)] = "local-date-time",
    };

    public static void Configure(OpenApiOptions options)
    {
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info = new()
                {
                    Title = "Able Lark",
                    Version = "1",
                    Description = $"Plan, send and compare posts by category. {WorkspaceLimits.Words}",
                };
                document.Servers?.Clear();
                return Task.CompletedTask;
            }
        );
        options.AddOperationTransformer(
            (operation, context, _) =>
            {
                foreach (OpenApiParameter list in (operation.Parameters ?? []).OfType<OpenApiParameter>())
                {
                    // A list in an address may always be left out.
                    if (list is { In: ParameterLocation.Query, Schema.Type: JsonSchemaType.Array })
                        list.Required = false;
                }
                NameFormValues(operation, context);
                return Task.CompletedTask;
            }
        );
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                Type type = Nullable.GetUnderlyingType(context.JsonTypeInfo.Type) ?? context.JsonTypeInfo.Type;
                foreach (
                    ValidationAttribute limit in context
                        .JsonPropertyInfo?.AssociatedParameter?.AttributeProvider?.GetCustomAttributes(typeof(ValidationAttribute), false)
                        .Cast<ValidationAttribute>()
                        ?? []
                )
                    Limit(schema, limit);
                if (type == typeof(string))
                {
                    // Our converter hides from the generator that a string is one.
                    bool mayBeNull = context.JsonPropertyInfo is { } property && (property.IsGetNullable || property.IsSetNullable);
                    schema.Type = mayBeNull ? JsonSchemaType.String | JsonSchemaType.Null : JsonSchemaType.String;
                }
                else if (FormatOf(type) is { } format)
                {
                    bool mayBeNull = type != context.JsonTypeInfo.Type;
                    schema.Type = mayBeNull ? JsonSchemaType.String | JsonSchemaType.Null : JsonSchemaType.String;
                    schema.Format = format;
                    schema.Description = null;
                    schema.Properties = null;
                    schema.Required = null;
                }
                else if (WordsOf(type) is { } words)
                {
                    schema.Type = JsonSchemaType.String;
                    schema.Properties = null;
                    schema.Required = null;
                    schema.Enum = [.. words.Select(w => JsonValue.Create(w))];
                }
                else if (type.IsEnum && schema.Enum is { } values)
                {
                    // One schema stands for the type wherever it is met, and whether it may be missing is said there.
                    schema.Enum = [.. values.Where(v => v?.GetValueKind() == JsonValueKind.String)];
                }
                else if (type == typeof(FigureSet))
                {
                    schema.Type = JsonSchemaType.Object;
                    schema.Properties = FigureKind.All.ToDictionary(
                        k => k.Key,
                        IOpenApiSchema (_) => new OpenApiSchema { Type = JsonSchemaType.Number, Format = "double" }
                    );
                    schema.Required = null;
                }
                else if (type == typeof(FieldValues))
                {
                    Describe(schema);
                }
                else if (type.IsAssignableTo(typeof(IReadOnlyDictionary<string, FieldValues>)) || type.IsAssignableTo(ByChannel))
                {
                    OpenApiSchema fields = new();
                    Describe(fields);
                    (schema.Type, schema.AdditionalProperties) = (JsonSchemaType.Object, fields);
                }
                else if (type.IsAssignableTo(typeof(IReadOnlyDictionary<string, string>)))
                {
                    schema.AdditionalProperties = new OpenApiSchema { Type = JsonSchemaType.String };
                }
                else if (type.IsAssignableTo(typeof(ContentLayers)))
                {
                    // Answers hold all of it; a request may leave out what it says nothing in.
                    schema.Required = schema.Properties?.Keys.ToHashSet();
                    if (schema.Properties?.TryGetValue("wordings", out IOpenApiSchema? all) == true && all is OpenApiSchema wordings)
                        wordings.Type = JsonSchemaType.Array;
                }
                else if (context.JsonTypeInfo.ElementType is { } element && context.JsonTypeInfo.Kind == JsonTypeInfoKind.Enumerable)
                {
                    if (element == typeof(string))
                        schema.Items = new OpenApiSchema { Type = JsonSchemaType.String };
                    else if (FormatOf(element) is { } itemFormat)
                        schema.Items = new OpenApiSchema { Type = JsonSchemaType.String, Format = itemFormat };
                }
                return Task.CompletedTask;
            }
        );
        options.CreateSchemaReferenceId = info =>
        {
            Type type = Nullable.GetUnderlyingType(info.Type) ?? info.Type;
            return FormatOf(type) is not null || (WordsOf(type) is not null && type != typeof(FigureKind))
                ? null
                : OpenApiOptions.CreateDefaultSchemaReferenceId(info);
        };
    }

    /// <summary>A single value beside files is said under its name.</summary>
    private static void NameFormValues(OpenApiOperation operation, OpenApiOperationTransformerContext context)
    {
        if (
            operation.RequestBody?.Content is not { } content
            || !content.TryGetValue("multipart/form-data", out var form)
            || form.Schema is not OpenApiSchema { AllOf: { } parts }
        )
            return;
        Queue<string> names = new(
            context
                .Description.ActionDescriptor.EndpointMetadata.OfType<MethodInfo>()
                .SelectMany(m => m.GetParameters())
                .Where(p => p.GetCustomAttribute<FromFormAttribute>() is not null && p.ParameterType == typeof(string))
                .Select(p => p.Name!)
        );
        for (int i = 0; i < parts.Count; i++)
        {
            // Files are objects with their names already.
            if (parts[i].Type is { } type && type.HasFlag(JsonSchemaType.String) && names.TryDequeue(out string? name))
                parts[i] = new OpenApiSchema
                {
                    Type = JsonSchemaType.Object,
                    Properties = new Dictionary<string, IOpenApiSchema> { [name] = parts[i] },
                };
        }
    }

    /// <summary>Says a limit of input; the generator overlooks those of records' parameters.</summary>
    private static void Limit(OpenApiSchema schema, ValidationAttribute limit)
    {
        switch (limit)
        {
            case RangeAttribute range:
                (schema.Minimum, schema.Maximum) = (Written(range.Minimum), Written(range.Maximum));
                break;
            case NamedAttribute named:
                (schema.MinLength, schema.MaxLength) = (1, named.MaximumLength);
                break;
            case StringLengthAttribute text:
                schema.MaxLength = text.MaximumLength;
                break;
            case MaxLengthAttribute list:
                schema.MaxItems = list.Length;
                break;
        }

        static string? Written(object value) => Convert.ToString(value, CultureInfo.InvariantCulture);
    }

    private static readonly Type ByChannel = typeof(IReadOnlyDictionary<Id<Core.Channels.Channel>, FieldValues>);

    private static void Describe(OpenApiSchema schema)
    {
        schema.Type = JsonSchemaType.Object;
        schema.Properties = ContentFields.All.ToDictionary(f => f.Key, IOpenApiSchema (f) => SchemaOf(f));
        schema.Required = null;
        schema.AdditionalPropertiesAllowed = false;
    }

    /// <summary>A field's value; null: nothing on purpose.</summary>
    private static OpenApiSchema SchemaOf(Field field)
    {
        OpenApiSchema schema = field.Kind switch
        {
            FieldKind.Pictures => ContentShapes.Pictures(),
            FieldKind.Thread => ContentShapes.Thread(),
            _ => new()
            {
                Type = JsonSchemaType.String,
                Format = field.Kind switch
                {
                    FieldKind.File => "uuid",
                    FieldKind.Link => "uri",
                    _ => null,
                },
                MaxLength = field.Most,
            },
        };
        (schema.Type, schema.Description) = (schema.Type | JsonSchemaType.Null, field.Name);
        return schema;
    }

    /// <summary>The format of a value that is written as text; null for other types.</summary>
    private static string? FormatOf(Type type) =>
        type.IsGenericType && type.GetGenericTypeDefinition() == typeof(Id<>) ? "uuid" : Formats.GetValueOrDefault(type);

    /// <summary>The words that a declared kind or a <see cref="QueryWord{T}"/> may be; null for other types.</summary>
    private static string[]? WordsOf(Type type)
    {
        if (type == typeof(FigureKind))
            return [.. FigureKind.All.Select(k => k.Key)];
        return type.IsGenericType && type.GetGenericTypeDefinition() == typeof(QueryWord<>)
            ? [.. Enum.GetNames(type.GetGenericArguments()[0]).Select(JsonNamingPolicy.CamelCase.ConvertName)]
            : null;
    }
}
