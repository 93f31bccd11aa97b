using System.Buffers.Binary;
using System.Net;
using System.Net.Sockets;

namespace AbleLark.Core.Links;

/// <summary>Tells addresses of the open internet from those of machines that are nobody else's business. Source: the IANA registries of
/// special-purpose addresses for IPv4 and IPv6 (RFC 6890).</summary>
public static class PublicAddress
{
    /// <summary>Networks of IPv4 that are not the open internet: first address and bits.</summary>
    private static readonly (uint First, int Bits)[] Special =
    [
        (0x00000000, 8),
        (0x0A000000, 8),
        (0x64400000, 10),
        (0x7F000000, 8),
        (0xA9FE0000, 16),
        (0xAC100000, 12),
        (0xC0000000, 24),
        (0xC0000200, 24),
        (0xC0586300, 24),
        (0xC0A80000, 16),
        (0xC6120000, 15),
        (0xC6336400, 24),
        (0xCB007100, 24),
        (0xE0000000, 4),
        (0xF0000000, 4),
    ];

    public static bool Is(IPAddress address)
    {
        if (address.AddressFamily == AddressFamily.InterNetwork)
            return IsPublic(BinaryPrimitives.ReadUInt32BigEndian(address.GetAddressBytes()));
        if (address.AddressFamily != AddressFamily.InterNetworkV6)
            return false;
        byte[] bytes = address.GetAddressBytes();
        if (address.IsIPv4MappedToIPv6)
            return IsPublic(BinaryPrimitives.ReadUInt32BigEndian(bytes.AsSpan(12)));
        // Translated from IPv4 by 64:ff9b::/96: as public as what it stands for.
        if (bytes.AsSpan(0, 12).SequenceEqual<byte>([0, 0x64, 0xFF, 0x9B, 0, 0, 0, 0, 0, 0, 0, 0]))
            return IsPublic(BinaryPrimitives.ReadUInt32BigEndian(bytes.AsSpan(12)));
        // 2000::/3 is what is given out; of it 2001::/23 (tunnels and others), 2001:db8::/32 (examples), 2002::/16 (6to4) and 3fff::/20
        // (examples) lead elsewhere or nowhere.
        bool isGivenOut = (bytes[0] & 0xE0) == 0x20;
        bool isReserved =
            (bytes[0] == 0x20 && bytes[1] == 0x01 && bytes[2] < 0x02)
            || (bytes[0] == 0x20 && bytes[1] == 0x01 && bytes[2] == 0x0D && bytes[3] == 0xB8)
            || (bytes[0] == 0x20 && bytes[1] == 0x02)
            || (bytes[0] == 0x3F && bytes[1] == 0xFF && bytes[2] < 0x10);
        return isGivenOut && !isReserved;
    }

    private static bool IsPublic(uint address) => !Array.Exists(Special, s => address >> (32 - s.Bits) == s.First >> (32 - s.Bits));
}
