using System.Security.Cryptography;
using System.Text;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>What a post has earned so far.</summary>
public sealed record Reactions(
    int Impressions,
    int Reach,
    int Likes,
    int? Comments,
    int Shares,
    int Saves,
    int LinkClicks,
    int Followers,
    int VideoViews
);

/// <summary>People who react: more with age along a saturating curve, and by what, when and where was posted, and chance.</summary>
internal static class Audience
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"];

    public static Reactions React(StandInNetwork network, Account account, RemotePost post, Instant now)
    {
        double hours = Math.Max(0, (now - post.CreatedAt).TotalHours);
        double ripe = 1 - Math.Exp(-hours / network.HoursToMost);
        double interest = Interest(account, post.Text);
        double mood = Math.Exp(0.35 * Bell(post.Id, "mood"));
        double reach =
            account.Followers
            * network.ReachShare
            * Daypart(post.CreatedAt)
            * Math.Sqrt(interest)
            * mood
            * (post.Media.Length > 0 ? 1.25 : 1)
            * ripe;
        double liking = 0.045 * interest * Math.Exp(0.2 * Bell(post.Id, "liking"));
        bool hasLink = post.Link is not null || post.Text.Contains("://", StringComparison.Ordinal);
        return new(
            (int)(reach * (1.25 + (0.2 * Chance(post.Id, "again")))),
            (int)reach,
            (int)(reach * liking),
            TellsAll(account, post) ? (int)(reach * liking * 0.14 * (0.5 + Chance(post.Id, "talk"))) : null,
            (int)(reach * liking * 0.2 * (0.4 + Chance(post.Id, "share"))),
            (int)(reach * liking * 0.5 * (0.4 + Chance(post.Id, "save"))),
            hasLink ? (int)(reach * 0.018 * interest * (0.5 + Chance(post.Id, "click"))) : 0,
            account.Followers,
            post.Media.Any(m => m.Kind == "video/mp4") ? (int)(reach * (1.4 + (0.4 * Chance(post.Id, "watch")))) : 0
        );
    }

    /// <summary>Networks leave a figure out now and then. Accounts whose followers care for nothing in particular are told all.</summary>
    private static bool TellsAll(Account account, RemotePost post) => account.Interests.Count == 0 || Chance(post.Id, "untold") > 0.03;

    /// <summary>Followers online in each hour of a usual week, by UTC, from Monday 00:00 on.</summary>
    public static int[] Online(Account account)
    {
        Instant monday = Instant.FromUtc(2026, 6, 1, 0, 0);
        // Each account has its early birds and its owls, always the same ones.
        double owls = Chance(account.Id, "owls");
        return
        [
            .. Enumerable
                .Range(0, 168)
                .Select(hour => (int)(account.Followers * Awake((monday + Duration.FromHours(hour)).InZone(Zone).LocalDateTime, owls))),
        ];
    }

    private static double Awake(LocalDateTime at, double owls)
    {
        double morning = Math.Exp(-Math.Pow(at.Hour - 8, 2) / 6);
        double noon = 0.7 * Math.Exp(-Math.Pow(at.Hour - 12.5, 2) / 5);
        double evening = (0.8 + (0.6 * owls)) * Math.Exp(-Math.Pow(at.Hour - 19 - owls, 2) / 9);
        double weekend = at.DayOfWeek is IsoDayOfWeek.Saturday or IsoDayOfWeek.Sunday ? 1.15 : 1;
        return (0.02 + (0.16 * (morning + noon + evening))) * weekend;
    }

    private static double Interest(Account account, string text)
    {
        double interest = 1;
        foreach ((string word, double factor) in account.Interests)
        {
            if (text.Contains(word, StringComparison.OrdinalIgnoreCase))
                interest *= factor;
        }
        return interest;
    }

    private static double Daypart(Instant at)
    {
        LocalDateTime local = at.InZone(Zone).LocalDateTime;
        double hour = local.Hour switch
        {
            < 6 => 0.35,
            < 9 => 1.15,
            < 12 => 0.95,
            < 14 => 1.0,
            < 17 => 0.8,
            < 21 => 1.3,
            _ => 0.9,
        };
        return hour * (local.DayOfWeek is IsoDayOfWeek.Saturday or IsoDayOfWeek.Sunday ? 1.12 : 1);
    }

    /// <summary>A number from 0 to 1 that hangs on the post and the word alone.</summary>
    private static double Chance(string id, string word) =>
        BitConverter.ToUInt32(SHA256.HashData(Encoding.UTF8.GetBytes(id + ":" + word)), 0) / (double)uint.MaxValue;

    /// <summary>Roughly normal: mean 0, deviation 1.</summary>
    private static double Bell(string id, string word) => Enumerable.Range(0, 6).Sum(i => Chance(id, word + i) - 0.5) * Math.Sqrt(2);
}
