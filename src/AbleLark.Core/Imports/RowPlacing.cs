using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Findings;

namespace AbleLark.Core.Imports;

/// <summary>Where a row goes, as its networks, its channels and its ticks say.</summary>
/// <param name="ticks">Columns of ticks.</param>
/// <param name="cell">What the row holds for a target.</param>
/// <param name="findings">Is given what can't be told.</param>
internal sealed class RowPlacing(
    ImportContext context,
    Reading reading,
    IReadOnlyList<ImportTarget> ticks,
    Func<string, string> cell,
    List<Finding> findings
)
{
    private static readonly string NetworksKey = ImportTargets.KeyOf(RowField.Networks);
    private static readonly string ChannelsKey = ImportTargets.KeyOf(RowField.Channels);

    /// <returns>No channels: as its category says.</returns>
    public (IReadOnlyList<string> Networks, IReadOnlyList<Id<Channel>>? Channels) Read(Category? category)
    {
        (IReadOnlyList<string> networks, IReadOnlyList<string> unknown) = reading.NetworksNamed(cell(NetworksKey));
        foreach (string name in unknown)
            Found(FindingCode.RowNetworkUnknown, NetworksKey, name, string.Join(", ", context.Networks.All.Select(n => n.Name)));
        NamedChannels named = reading.ChannelsNamed(cell(ChannelsKey), networks);
        foreach (string name in named.Unknown)
            Found(FindingCode.RowChannelUnknown, ChannelsKey, name, string.Join(", ", context.Channels.Select(context.Targets.NameOf)));
        foreach (string name in named.Unclear)
            Found(FindingCode.RowChannelUnclear, ChannelsKey, name);
        (List<ImportTarget> ticked, bool isUnclear) = Ticked();
        string[] further = [.. named.Networks.Concat(ticked.Select(t => t.Network).OfType<string>()).Distinct()];
        bool isByNetwork = cell(ChannelsKey).Length == 0 && ticked.Count == 0;
        if (isByNetwork && networks.Count == 0)
        {
            if (ticks.Count > 0 && !isUnclear)
                Found(FindingCode.RowNothingTicked, ticks[0].Key);
            return (networks, null);
        }
        List<Id<Channel>> channels =
        [
            .. named.Found.Select(c => c.Id),
            .. ticked.Select(t => t.Channel).OfType<Id<Channel>>(),
            // A network beside channels only tells which of one name are meant.
            .. (isByNetwork ? networks : further).SelectMany(n => On(n, category)),
        ];
        return ([.. networks.Union(further)], [.. channels.Distinct()]);
    }

    /// <summary>The targets whose ticks are set, and whether some are neither set nor not.</summary>
    private (List<ImportTarget> Ticked, bool IsUnclear) Ticked()
    {
        (List<ImportTarget> ticked, bool isUnclear) = ([], false);
        foreach (ImportTarget target in ticks)
        {
            string text = cell(target.Key);
            if (TickCell.Read(text) is not { } isTicked)
            {
                Found(FindingCode.RowTickUnclear, target.Key, text);
                isUnclear = true;
            }
            else if (isTicked)
                ticked.Add(target);
        }
        return (ticked, isUnclear);
    }

    /// <summary>A network's channels that a category usually goes to, or its only one.</summary>
    private IEnumerable<Id<Channel>> On(string network, Category? category)
    {
        Channel[] on = [.. context.Channels.Where(c => c.Network == network)];
        Channel[] usual = [.. on.Where(c => category?.UsualChannels.Contains(c.Id) == true)];
        if (usual.Length > 0)
            return usual.Select(c => c.Id);
        if (on.Length == 1)
            return [on[0].Id];
        if (category is not null && on.Length == 0)
            Found(FindingCode.RowNetworkNoChannel, NetworksKey, context.Networks[network].Name);
        else if (category is not null)
            Found(FindingCode.RowChannelUnclear, ChannelsKey, context.Networks[network].Name);
        return [];
    }

    private void Found(FindingCode code, string target, params string[] values) => findings.Add(new(code, Severity.Blocks, target, values));
}
