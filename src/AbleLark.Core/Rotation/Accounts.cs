namespace AbleLark.Core.Rotation;

/// <summary>Several accounts of one network in a slot, where that takes one post on one account only.</summary>
internal sealed class Accounts(BankIndex bank, TurnHistory turns)
{
    /// <summary>Where a network takes an occurrence on one account only: the one used longest ago, the slot's first of equals.</summary>
    public ChannelSet Each(ChannelSet passing, int[] channels)
    {
        ChannelSet taking = passing;
        foreach (int place in passing)
        {
            foreach (int other in Others(channels, place) & passing)
            {
                int order = turns.Diary(channels[other]).Last.CompareTo(turns.Diary(channels[place]).Last);
                if (order < 0 || (order == 0 && other < place))
                    taking -= ChannelSet.Of(place);
            }
        }
        return taking;
    }

    /// <summary>The slot's other accounts of a channel's network, where that takes one post on one account only.</summary>
    public ChannelSet Others(int[] channels, int place)
    {
        if (!bank.Networks[channels[place]].OneAccountPerOccurrence)
            return ChannelSet.None;
        ChannelSet others = ChannelSet.None;
        for (int other = 0; other < channels.Length; other++)
        {
            if (other != place && bank.Channels[channels[other]].Network == bank.Channels[channels[place]].Network)
                others |= ChannelSet.Of(other);
        }
        return others;
    }
}
