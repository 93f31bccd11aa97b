using System.Text.Json;
using AbleLark.Core.Findings;
using AbleLark.Core.Posts;
using AbleLark.Data;

namespace AbleLark.Server.Tests.Posts;

/// <summary>How posts stand with networks is read as System.Text.Json reads it, with equal findings shared.</summary>
public sealed class FitsDocumentTests
{
    [Fact]
    public void Whatever_was_written_is_read_as_any_json_is()
    {
        Random chance = new(5);
        string[] characters = ["a", "\"", "\\", "{", "}", "[", "]", ",", ":", "é", "😀", "\n"];
        for (int i = 0; i < 500; i++)
        {
            Dictionary<string, Fit> written = [];
            for (int n = chance.Next(6); n > 0; n--)
                written[Words()] = FitOf();
            string json = Write(written);
            Assert.Equal(
                Write(JsonSerializer.Deserialize<Dictionary<string, Fit>>(json, LarkJson.Options)),
                Write(FitsDocument.Read(json))
            );
            Assert.Equal(json, Write(FitsDocument.Read(json)));
        }

        Fit FitOf() =>
            new(
                Findings(),
                Words(),
                chance.Next(3) == 0 ? [.. Enumerable.Range(0, chance.Next(3)).Select(_ => new WordingFit(Findings(), Words()))] : null
            )
            {
                Approved = chance.Next(3) == 0 ? [.. Enumerable.Range(0, chance.Next(3))] : null,
            };

        List<Finding> Findings() =>
            [
                .. Enumerable
                    .Range(0, chance.Next(4))
                    .Select(_ => new Finding(
                        (FindingCode)chance.Next(40),
                        (Severity)chance.Next(2),
                        Words(),
                        [.. Enumerable.Range(0, chance.Next(3)).Select(_ => Words())]
                    )
                    {
                        Item = chance.Next(2) == 0 ? chance.Next(9) : null,
                        Spans = chance.Next(2) == 0 ? [new(chance.Next(99), chance.Next(9))] : null,
                    }),
            ];

        string Words() => string.Concat(chance.GetItems(characters, chance.Next(6)));
    }

    [Fact]
    public void Equal_findings_are_one_list_and_unknown_properties_are_passed_over()
    {
        const string findings = """[{"code": "videoMissing", "field": "video", "values": ["Jig"], "severity": "blocks"}]""";
        string jig = "{\"later\": {\"x\": [1]}, \"findings\": " + findings + ", \"textFingerprint\": \"a\"}";
        Dictionary<string, Fit> read = FitsDocument.Read("{\"jig\": " + jig + ", \"jot\": {\"findings\": " + findings + "}}");
        Assert.Same(read["jig"].Findings, read["jot"].Findings);
        Assert.Equal(("a", ""), (read["jig"].TextFingerprint, read["jot"].TextFingerprint));
        Assert.Equal(FindingCode.VideoMissing, read["jig"].Block?.Code);
    }

    [Theory]
    [InlineData("")]
    [InlineData("[]")]
    [InlineData("null")]
    [InlineData("{\"jig\": 3}")]
    [InlineData("{\"jig\": {\"findings\": [")]
    [InlineData("{\"jig\": {\"findings\": [{\"code\": \"unheardOf\"}]}}")]
    [InlineData("{\"jig\": {\"approved\": [\"x\"]}}")]
    public void What_is_no_such_document_is_refused(string json) => Assert.ThrowsAny<JsonException>(() => FitsDocument.Read(json));

    private static string Write(Dictionary<string, Fit>? fits) => JsonSerializer.Serialize(fits, LarkJson.Options);
}
