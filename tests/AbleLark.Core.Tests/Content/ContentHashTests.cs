using AbleLark.Core.Content;
using AbleLark.Core.Media;
using CsCheck;

namespace AbleLark.Core.Tests.Content;

/// <summary>The form that approvals are kept in: what is approved once stays so, however content is stored later.</summary>
public sealed class ContentHashTests
{
    private static readonly Id<MediaFile> Picture = new(Guid.Parse("00000000-0000-0000-0000-000000000001"));

    // Worked out beside the product with Python's hashlib: sha256 of "4:text12:Tide at nine" as UTF-16, big-endian.
    [Theory]
    [InlineData("Tide at nine", null, null, "1:fa566ab7b519e45013ed682d541c8add9c7faa9eb3330263ade91a2f127369d3")]
    [InlineData("Tide at nine", "https://example.org", "ab12", "1:3c236cd5c97edece80997742be47a4126066e792c5a91fb740bf51215faba7c2")]
    public void The_form_never_changes(string text, string? link, string? picture, string hash) =>
        Assert.Equal(hash, ContentHash.Of(Sent(text, link, picture is not null), new(_ => File(picture!))));

    private static ResolvedContent Sent(string text, string? link, bool hasPicture)
    {
        FieldValues fields = FieldValues.Empty.With(ContentFields.Text, text);
        if (link is not null)
            fields = fields.With(ContentFields.Link, link);
        return new(hasPicture ? fields.With(ContentFields.Pictures, Pictures.Of(Picture)) : fields);
    }

    private static MediaFile File(string hash) =>
        new()
        {
            WorkspaceId = default,
            Id = Picture,
            Hash = hash,
            FileName = "p",
            Kind = "image/png",
            Bytes = 1,
            Width = 1,
            Height = 1,
        };

    [Fact]
    public void A_field_that_comes_to_be_later_changes_nothing_for_content_that_has_not_got_it()
    {
        string before = ContentHash.Of([new("text", "Tide at nine"), new("link", "https://example.org")]);
        Assert.Equal(
            before,
            ContentHash.Of([new("altText", null), new("link", "https://example.org"), new("text", "Tide at nine"), new("title", "")])
        );
        Assert.NotEqual(
            before,
            ContentHash.Of([new("altText", "A boat"), new("link", "https://example.org"), new("text", "Tide at nine")])
        );
    }

    [Fact]
    public void Content_that_differs_in_any_field_has_another_hash()
    {
        string[] keys = ["text", "link", "picture", "tex", "t"];
        var field = Gen.Select(Gen.Int[0, keys.Length - 1], Gen.String[0, 4]).Select((k, v) => KeyValuePair.Create(keys[k], (string?)v));
        var fields = field.Array[0, 4].Select(f => f.DistinctBy(x => x.Key).ToArray());
        Gen.Select(fields, fields)
            .Sample(
                (a, b) =>
                {
                    static string Plain(KeyValuePair<string, string?>[] of) =>
                        string.Join(
                            '\n',
                            of.Where(f => f.Value!.Length > 0)
                                .OrderBy(f => f.Key, StringComparer.Ordinal)
                                .Select(f => $"{f.Key}={string.Join(' ', f.Value!.Select(c => (int)c))}")
                        );
                    return ContentHash.Of(a) == ContentHash.Of(b) == (Plain(a) == Plain(b));
                }
            );
    }

    [Fact]
    public void A_picture_whose_file_is_not_there_stands_for_no_other()
    {
        string missing = ContentHash.Of(Sent("x", null, hasPicture: true), ContentSources.None);
        Assert.NotEqual(ContentHash.Of(Sent("x", null, hasPicture: false), ContentSources.None), missing);
        Assert.NotEqual(ContentHash.Of(Sent("x", null, hasPicture: true), new(_ => File("ab12"))), missing);
    }
}
