using System.Buffers.Binary;

namespace AbleLark.Core.Rotation;

/// <summary>The draw of a round: the same for the same seed, line, round and post, on every machine. The mixing is SplitMix64's (public
/// domain, from memory).</summary>
public static class Shuffle
{
    /// <summary>A number that stands for an identity in <see cref="Mix"/>.</summary>
    public static ulong Of(Guid id)
    {
        Span<byte> bytes = stackalloc byte[16];
        id.TryWriteBytes(bytes);
        return Stir(BinaryPrimitives.ReadUInt64LittleEndian(bytes) ^ Stir(BinaryPrimitives.ReadUInt64LittleEndian(bytes[8..])));
    }

    /// <summary>A number of 63 bits, by which the posts of a round are put in order.</summary>
    public static long Mix(int seed, Guid line, int round, ulong post) =>
        (long)(Stir(Stir(Of(line) ^ ((ulong)(uint)seed << 32) ^ (uint)round) ^ post) >> 1);

    private static ulong Stir(ulong z)
    {
        z += 0x9E3779B97F4A7C15;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
        return z ^ (z >> 31);
    }
}
