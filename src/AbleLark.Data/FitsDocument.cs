using System.Buffers;
using System.Collections.Concurrent;
using System.Text;
using System.Text.Json;
using AbleLark.Core.Findings;
using AbleLark.Core.Posts;

namespace AbleLark.Data;

/// <summary>Reads how a post stands with each network (<see cref="Post.Fits"/>). Of thousands of posts most have the same few findings
/// in the same words: each list of them is made once and shared.</summary>
public static class FitsDocument
{
    private const int Most = 10_000;
    private static readonly ConcurrentDictionary<string, IReadOnlyList<Finding>> Known = new(StringComparer.Ordinal);

    /// <param name="json">As <see cref="JsonSerializer"/> writes it with <see cref="LarkJson.Options"/>.</param>
    /// <exception cref="JsonException">It is not such a document.</exception>
    public static Dictionary<string, Fit> Read(string json)
    {
        byte[] bytes = ArrayPool<byte>.Shared.Rent(Encoding.UTF8.GetMaxByteCount(json.Length));
        try
        {
            return Read(bytes.AsSpan(0, Encoding.UTF8.GetBytes(json, bytes)));
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
        }
    }

    private static Dictionary<string, Fit> Read(ReadOnlySpan<byte> json)
    {
        Dictionary<string, Fit> fits = [];
        Utf8JsonReader reader = new(json);
        Expect(ref reader, JsonTokenType.StartObject);
        string last = "";
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            string network = reader.GetString()!;
            fits[network] = ReadFit(ref reader, json, ref last);
        }
        return fits;
    }

    /// <param name="last">The last fingerprint: a post that says the same on all networks has one.</param>
    private static Fit ReadFit(ref Utf8JsonReader reader, ReadOnlySpan<byte> json, ref string last)
    {
        IReadOnlyList<Finding> findings = [];
        string fingerprint = "";
        IReadOnlyList<WordingFit>? wordings = null;
        IReadOnlyList<int>? approved = null;
        Expect(ref reader, JsonTokenType.StartObject);
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            if (reader.ValueTextEquals("findings"u8))
                findings = Shared(Value(ref reader, json));
            else if (reader.ValueTextEquals("textFingerprint"u8))
            {
                reader.Read();
                fingerprint = last = reader.ValueTextEquals(last) ? last : reader.GetString()!;
            }
            else if (reader.ValueTextEquals("wordings"u8))
                wordings = JsonSerializer.Deserialize<List<WordingFit>>(Value(ref reader, json), LarkJson.Options);
            else if (reader.ValueTextEquals("approved"u8))
                approved = JsonSerializer.Deserialize<List<int>>(Value(ref reader, json), LarkJson.Options);
            else
                reader.Skip();
        }
        return new(findings, fingerprint, wordings) { Approved = approved };
    }

    /// <summary>The property's value as it is written.</summary>
    private static ReadOnlySpan<byte> Value(ref Utf8JsonReader reader, ReadOnlySpan<byte> json)
    {
        reader.Read();
        int start = (int)reader.TokenStartIndex;
        reader.Skip();
        return json[start..(int)reader.BytesConsumed];
    }

    private static IReadOnlyList<Finding> Shared(ReadOnlySpan<byte> json)
    {
        if (json.SequenceEqual("[]"u8))
            return [];
        char[] characters = ArrayPool<char>.Shared.Rent(json.Length);
        try
        {
            ReadOnlySpan<char> text = characters.AsSpan(0, Encoding.UTF8.GetChars(json, characters));
            if (Known.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(text, out IReadOnlyList<Finding>? known))
                return known;
            if (Known.Count >= Most)
                Known.Clear();
            return Known.GetOrAdd(text.ToString(), JsonSerializer.Deserialize<List<Finding>>(json, LarkJson.Options)!);
        }
        finally
        {
            ArrayPool<char>.Shared.Return(characters);
        }
    }

    private static void Expect(ref Utf8JsonReader reader, JsonTokenType token)
    {
        if (!reader.Read() || reader.TokenType != token)
            throw new JsonException($"{token} is missing where {reader.TokenType} stands.");
    }
}
