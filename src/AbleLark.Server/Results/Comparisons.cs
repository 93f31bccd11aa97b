using System.Buffers.Binary;
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

    private static string KeyOf(IReadOnlyCollection<MeasuredDelivery> deliveries)
    {
        using IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Span<byte> row = stackalloc byte[96];
        foreach (MeasuredDelivery d in deliveries.OrderBy(d => d.Id))
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
            hash.AppendData(row);
        }
        return Convert.ToHexString(hash.GetHashAndReset());
    }
}
