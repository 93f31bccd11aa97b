using System.Buffers.Binary;
using System.Globalization;
using System.Security.Cryptography;
using AbleLark.Core.Results;

namespace AbleLark.Server.Results;

/// <summary>
/// Comparisons that were worked out before, by what they are made of: whoever asks again while nothing has changed, in another order or for
/// another view, needn't wait for the model. What is read from the database decides, so that none is ever out of date.
/// </summary>
public sealed class Comparisons
{
    private const int Most = 24;

    private readonly Lock _lock = new();
    private readonly LinkedList<(string Key, Lazy<CategoryComparison> Answer)> _kept = [];

    public CategoryComparison Of(IReadOnlyCollection<MeasuredDelivery> deliveries, bool withLevels = false)
    {
        string key = KeyOf(deliveries) + (withLevels ? "+" : "");
        Lazy<CategoryComparison> answer;
        lock (_lock)
        {
            var node = _kept.First;
            while (node is not null && node.Value.Key != key)
                node = node.Next;
            if (node is not null)
                _kept.Remove(node);
            answer = node?.Value.Answer ?? new(() => ResultsByCategory.Of(deliveries, withLevels));
            _kept.AddFirst((key, answer));
            if (_kept.Count > Most)
                _kept.RemoveLast();
        }
        return answer.Value;
    }

    /// <summary>The same for the same deliveries in whatever order: the sum, modulo 2^128, of each one's hash.</summary>
    private static string KeyOf(IReadOnlyCollection<MeasuredDelivery> deliveries)
    {
        UInt128 sum = 0;
        Span<byte> row = stackalloc byte[96];
        Span<byte> hash = stackalloc byte[SHA256.HashSizeInBytes];
        foreach (MeasuredDelivery d in deliveries)
        {
            row.Clear();
            d.Id.Value.TryWriteBytes(row);
            d.PostId.Value.TryWriteBytes(row[16..]);
            d.CategoryId.Value.TryWriteBytes(row[32..]);
            d.ChannelId.Value.TryWriteBytes(row[48..]);
            BinaryPrimitives.WriteInt32LittleEndian(row[64..], (d.Date.Year * 10_000) + (d.Date.Month * 100) + d.Date.Day);
            BinaryPrimitives.WriteInt32LittleEndian(row[68..], d.Hour);
            BinaryPrimitives.WriteDoubleLittleEndian(row[72..], d.Measured?.Above ?? double.NaN);
            BinaryPrimitives.WriteDoubleLittleEndian(row[80..], d.Measured?.Below ?? double.NaN);
            SHA256.HashData(row, hash);
            unchecked
            {
                sum += BinaryPrimitives.ReadUInt128LittleEndian(hash);
            }
        }
        return string.Create(CultureInfo.InvariantCulture, $"{deliveries.Count} {sum:x}");
    }
}
