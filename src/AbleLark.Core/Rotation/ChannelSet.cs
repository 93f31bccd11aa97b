using System.Numerics;

namespace AbleLark.Core.Rotation;

/// <summary>Channels of one slot, by their places in it: at most 64, in one machine word, so that sets are compared and cut at no
/// cost.</summary>
internal readonly record struct ChannelSet
{
    private readonly ulong _places;

    private ChannelSet(ulong places) => _places = places;

    public static ChannelSet None => default;

    public static ChannelSet Of(int place) => new(1ul << place);

    /// <summary>All of a slot's channels.</summary>
    public static ChannelSet All(int channels) => new(channels == 64 ? ulong.MaxValue : (1ul << channels) - 1);

    /// <summary>The places of those for which something holds.</summary>
    public static ChannelSet Where<T>(T[] all, Func<T, bool> holds)
    {
        ChannelSet places = None;
        for (int place = 0; place < all.Length; place++)
        {
            if (holds(all[place]))
                places |= Of(place);
        }
        return places;
    }

    public bool IsEmpty => _places == 0;

    /// <summary>The first place in the slot's order; of an empty set 64.</summary>
    public int First => BitOperations.TrailingZeroCount(_places);

    public bool Contains(int place) => (_places >> place & 1) != 0;

    public static ChannelSet operator &(ChannelSet a, ChannelSet b) => new(a._places & b._places);

    public static ChannelSet operator |(ChannelSet a, ChannelSet b) => new(a._places | b._places);

    public static ChannelSet operator -(ChannelSet a, ChannelSet b) => new(a._places & ~b._places);

    /// <summary>The places in the slot's order.</summary>
    public Places GetEnumerator() => new(_places);

    internal struct Places(ulong rest)
    {
        private ulong _rest = rest;

        public int Current { get; private set; }

        public bool MoveNext()
        {
            if (_rest == 0)
                return false;
            Current = BitOperations.TrailingZeroCount(_rest);
            _rest &= _rest - 1;
            return true;
        }
    }
}
