using AbleLark.Core.Content;
using Microsoft.OpenApi;

namespace AbleLark.Server;

/// <summary>Tells the OpenAPI document how content fields are written that are more than a text.</summary>
internal static class ContentShapes
{
    public static OpenApiSchema Pictures() =>
        new()
        {
            Type = JsonSchemaType.Array,
            MaxItems = Core.Content.Pictures.Most,
            Items = Object(
                required: ["media"],
                ("media", new() { Type = JsonSchemaType.String, Format = "uuid" }),
                ("altText", OrNull(new() { Type = JsonSchemaType.String, MaxLength = Picture.MostAltText })),
                ("focus", OrNull(Object(["x", "y"], ("x", Share()), ("y", Share())))),
                (
                    "crop",
                    OrNull(
                        Object(["x", "y", "width", "height"], ("x", Pixels()), ("y", Pixels()), ("width", Pixels()), ("height", Pixels()))
                    )
                )
            ),
        };

    public static OpenApiSchema Thread() =>
        Object(
            ["parts"],
            (
                "parts",
                new()
                {
                    Type = JsonSchemaType.Array,
                    MaxItems = PostThread.Most,
                    Items = Object(
                        ["text"],
                        ("text", new() { Type = JsonSchemaType.String, MaxLength = PostThread.MostText }),
                        ("pictures", OrNull(Pictures()))
                    ),
                }
            ),
            ("isNumbered", new() { Type = JsonSchemaType.Boolean })
        );

    private static OpenApiSchema Object(string[] required, params (string Name, OpenApiSchema Schema)[] properties) =>
        new()
        {
            Type = JsonSchemaType.Object,
            Required = required.ToHashSet(),
            Properties = properties.ToDictionary(p => p.Name, IOpenApiSchema (p) => p.Schema),
        };

    private static OpenApiSchema OrNull(OpenApiSchema schema)
    {
        schema.Type |= JsonSchemaType.Null;
        return schema;
    }

    private static OpenApiSchema Share() =>
        new()
        {
            Type = JsonSchemaType.Number,
            Format = "double",
            Minimum = "0",
            Maximum = "1",
        };

    private static OpenApiSchema Pixels() => new() { Type = JsonSchemaType.Integer, Format = "int32" };
}
