using System.Text.Json.Serialization;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Networks;

public enum AnswerKind
{
    Ok,

    /// <summary>The network said no and will say so again.</summary>
    Refused,
    TokenExpired,

    /// <summary>Nothing was done; try again after a while.</summary>
    Busy,

    /// <summary>No answer, or a broken one: it may have been done or not.</summary>
    Lost,
}

/// <summary>What a network answered.</summary>
/// <param name="Reason">Its words, or ours where it had none.</param>
/// <param name="Wait">How long it asks to be left alone.</param>
public sealed record NetworkAnswer<T>(AnswerKind Kind, T? Value = default, string Reason = "", TimeSpan? Wait = null)
{
    public bool IsOk => Kind == AnswerKind.Ok;
}

/// <param name="Kind">What it is, in the network's word; null: it doesn't say.</param>
public sealed record RemoteAccount(string Id, string Handle, string Name, int Followers, string? Kind = null)
{
    /// <summary>A kind that isn't known here says no more than none.</summary>
    [JsonIgnore]
    public AccountKind? Is => Enum.TryParse(Kind, ignoreCase: true, out AccountKind kind) && Enum.IsDefined(kind) ? kind : null;
}

/// <param name="More">Of the other accounts that were allowed in the same consent.</param>
public sealed record RemoteTokens(string AccessToken, string RefreshToken, int ExpiresIn, IReadOnlyList<RemoteTokens>? More = null);

/// <param name="Hours">Followers online in each of the 168 hours of a usual week, by UTC, from Monday 00:00 on.</param>
public sealed record RemoteOnline(List<double> Hours);

/// <summary>What a network made of a call: a picture that was taken in, or a post.</summary>
/// <param name="CreatedAt">When it says that it did, as it wrote it.</param>
/// <param name="Under">The post that it stands under.</param>
/// <param name="Address">Where it says that readers find it, as it wrote it.</param>
public sealed record RemoteThing(
    string Id,
    string? Text = null,
    string? CreatedAt = null,
    string? Address = null,
    string? Link = null,
    IReadOnlyList<string>? Media = null,
    string? Under = null
)
{
    private static readonly Duration Believable = Duration.FromDays(2);

    /// <summary>The address, if it is one that people may be sent to.</summary>
    public string? WebAddress => Core.Text.WebAddress.IsValid(Address ?? "") ? Address : null;

    /// <summary>When it was posted, by business time; null where the network says nothing that can be.</summary>
    /// <param name="since">It can't be much older than this.</param>
    public Instant? At(Instant since)
    {
        var read = InstantPattern.ExtendedIso.Parse(CreatedAt ?? "");
        return read.Success && read.Value > since - Believable && read.Value < since + MostAhead ? read.Value : null;
    }

    public ListedPost Listed(Instant since) => new(Id, Text ?? "", Link, Media, ListedAt(since), WebAddress, Under);

    private static readonly Duration MostAhead = Duration.FromDays(3650);

    /// <summary>As <see cref="At"/>, but older posts keep their dates: that is what tells them apart.</summary>
    private Instant? ListedAt(Instant since)
    {
        var read = InstantPattern.ExtendedIso.Parse(CreatedAt ?? "");
        return read.Success && read.Value < since + MostAhead ? read.Value : null;
    }
}

/// <param name="Posts">Newest first.</param>
/// <param name="ReachesBack">False when the network listed no further back, though there may be older ones that matter.</param>
public sealed record PostedList(IReadOnlyList<RemoteThing> Posts, bool ReachesBack);
