using AbleLark.Core.Networks;
using AbleLark.Core.Text;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;

namespace AbleLark.Server.Deliveries;

/// <summary>The address of a post that a person names.</summary>
internal static class PostAddress
{
    /// <exception cref="ProblemException">It is none, or none of that network.</exception>
    /// <returns>Null: it has none, as what goes out on a channel kept by hand may.</returns>
    public static string? Checked(string? given, NetworkRules rules, NetworkConnector connector)
    {
        string address = (given ?? "").Trim();
        if (rules.KeptByHand && address.Length == 0)
            return null;
        if (!WebAddress.IsValid(address))
            throw ProblemException.BadInput("Give the post's own address on the network, beginning with http:// or https://.");
        return rules.KeptByHand || connector.IsAddressOn(rules.Key, address)
            ? address
            : throw ProblemException.BadInput($"That is not an address on {rules.Name}. Open the post there and copy its address.");
    }
}
