using System.Net;
using AbleLark.Core.Links;

namespace AbleLark.Core.Tests.Links;

/// <summary>Source: examples from the IANA registries of special-purpose addresses, from memory; and the runtime's own notions.</summary>
public sealed class PublicAddressTests
{
    [Theory]
    [InlineData("8.8.4.4", true)]
    [InlineData("172.15.255.255", true)]
    [InlineData("172.32.0.1", true)]
    [InlineData("100.63.255.255", true)]
    [InlineData("2606:2800:220::1", true)]
    [InlineData("64:ff9b::808:404", true)]
    [InlineData("127.0.0.1", false)]
    [InlineData("127.255.0.3", false)]
    [InlineData("0.0.0.0", false)]
    [InlineData("10.1.2.3", false)]
    [InlineData("172.16.0.1", false)]
    [InlineData("172.31.255.255", false)]
    [InlineData("192.168.1.1", false)]
    [InlineData("169.254.169.254", false)]
    [InlineData("100.64.0.1", false)]
    [InlineData("198.18.0.1", false)]
    [InlineData("224.0.0.251", false)]
    [InlineData("255.255.255.255", false)]
    [InlineData("::", false)]
    [InlineData("::1", false)]
    [InlineData("::ffff:127.0.0.1", false)]
    [InlineData("::ffff:8.8.8.8", true)]
    [InlineData("::127.0.0.1", false)]
    [InlineData("fe80::1", false)]
    [InlineData("fc00::1", false)]
    [InlineData("fd12:3456::1", false)]
    [InlineData("ff02::1", false)]
    [InlineData("2001:db8::1", false)]
    [InlineData("2001::1", false)]
    [InlineData("2002:7f00:1::", false)]
    [InlineData("64:ff9b::7f00:1", false)]
    [InlineData("3fff:0:1::", false)]
    public void Only_the_open_internet_is_public(string address, bool isPublic) =>
        Assert.Equal(isPublic, PublicAddress.Is(IPAddress.Parse(address)));

    [Fact]
    public void Nothing_that_leads_back_to_this_machine_is_public() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Byte, CsCheck.Gen.Byte, CsCheck.Gen.Byte),
            (a, b, c) =>
            {
                IPAddress own = new([127, a, b, c]);
                Assert.False(PublicAddress.Is(own) || PublicAddress.Is(own.MapToIPv6()));
            }
        );
}
