using AbleLark.Core.Deliveries;

namespace AbleLark.Server.LineUps;

/// <summary>How far something has come, as it is drawn.</summary>
public enum EntryForm
{
    Open,
    Scheduled,
    Sending,
    Sent,
    Failed,
    Empty,
}

/// <summary>Which form an entry of the line-up has; the page draws by the same table.</summary>
public static class EntryForms
{
    public static EntryForm Of(LineUpEntry entry) =>
        entry.Kind == EntryKind.Empty ? EntryForm.Empty
        : entry.Kind == EntryKind.Projected || entry.State is not { } state ? OfProjected(entry.IsGiven)
        : Of(state, entry.DealtWith);

    /// <param name="isGiven">True: a person gave the post to its place.</param>
    public static EntryForm OfProjected(bool isGiven) => isGiven ? EntryForm.Scheduled : EntryForm.Open;

    public static EntryForm Of(DeliveryState state, bool dealtWith) =>
        state switch
        {
            DeliveryState.Planned => EntryForm.Scheduled,
            DeliveryState.WaitingForApproval or DeliveryState.Substitute => EntryForm.Open,
            DeliveryState.Sending or DeliveryState.PostItYourself => EntryForm.Sending,
            DeliveryState.Sent => EntryForm.Sent,
            DeliveryState.Cancelled => EntryForm.Empty,
            _ => dealtWith ? EntryForm.Empty : EntryForm.Failed,
        };
}
