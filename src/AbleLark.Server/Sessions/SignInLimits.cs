using System.Globalization;
using System.Net;
using System.Net.Sockets;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Sessions;

/// <summary>
/// How often passwords may be tried. Each try is counted before the password is looked at, under locks in the database, so that sixty at
/// once at three servers are sixty. No account is ever closed: what others try makes an unknown device wait, for half a minute at most,
/// and a device that its person has signed in with goes on by a count of its own.
/// </summary>
public sealed class SignInLimits(LarkDb db, IClock machine)
{
    /// <summary>A count by which so many may be tried at once, and one more after each pause (a leaky bucket).</summary>
    public sealed record Count(string Key, int AtOnce, Duration Pause);

    private static readonly Duration Wait = Duration.FromSeconds(30);

    /// <summary>A turn that isn't taken for so long is given up.</summary>
    private static readonly Duration TurnKept = Duration.FromMinutes(10);

    private static Count OfAccount(string account) => new($"account:{account}", 10, Wait);

    private static Count OfAddress(string address) => new($"address:{address}", 20, Duration.FromSeconds(3));

    private static Count OfDevice(string device) => new($"device:{device}", 10, Wait);

    /// <summary>Takes a try, or refuses it.</summary>
    /// <param name="email">As it was given; whether there is such an account makes no difference.</param>
    /// <param name="device">One that this account has signed in with before; null: none that is known.</param>
    /// <returns>What it was counted by.</returns>
    /// <exception cref="ProblemException">It comes too soon; says when to try again.</exception>
    public async Task<IReadOnlyList<Count>> TakeAsync(string email, IPAddress? from, string? device, CancellationToken cancellation)
    {
        (string account, string address) = (AccountOf(email), AddressOf(from));
        Instant now = machine.Now();
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        List<Count> taken = [];
        Duration wait = device is null
            ? await StrangerAsync(account, address, taken, now, cancellation)
            : await TakeAsync(OfDevice(device), taken, now, cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        if (wait <= Duration.Zero)
            return taken;
        int seconds = Math.Max(1, (int)Math.Ceiling(wait.TotalSeconds));
        throw new ProblemException(
            StatusCodes.Status429TooManyRequests,
            string.Create(
                CultureInfo.InvariantCulture,
                $"Too many tries. Try again in {seconds} {(seconds == 1 ? "second" : "seconds")}; nobody is locked out."
            )
        )
        {
            RetryAfterSeconds = seconds,
        };
    }

    /// <summary>The right password was given: the try wasn't a guess.</summary>
    public async Task GiveBackAsync(IReadOnlyList<Count> taken, CancellationToken cancellation)
    {
        foreach (Count count in taken)
        {
            await db
                .TryCounts.Where(t => t.Key == count.Key)
                .ExecuteUpdateAsync(t => t.SetProperty(x => x.UsedUntil, x => x.UsedUntil - count.Pause), cancellation);
        }
    }

    /// <summary>A device that nobody knows has a try of its own as long as the account and the place it comes from have some; after that
    /// it waits for a turn of its own, which nobody else can take.</summary>
    private async Task<Duration> StrangerAsync(
        string account,
        string address,
        List<Count> taken,
        Instant now,
        CancellationToken cancellation
    )
    {
        Duration ofAddress = await TakeAsync(OfAddress(address), taken, now, cancellation);
        if (ofAddress > Duration.Zero || await TakeAsync(OfAccount(account), taken, now, cancellation) <= Duration.Zero)
            return ofAddress;
        TryCount turn = await LockAsync($"turn:{account}:{address}", now - TurnKept - Duration.Epsilon, cancellation);
        if (turn.UsedUntil > now)
            return turn.UsedUntil - now;
        bool isItsTurn = turn.UsedUntil > now - TurnKept;
        turn.UsedUntil = now + Wait;
        return isItsTurn ? Duration.Zero : Wait;
    }

    /// <returns>How long it is until there is one; nought: taken.</returns>
    private async Task<Duration> TakeAsync(Count count, List<Count> taken, Instant now, CancellationToken cancellation)
    {
        TryCount row = await LockAsync(count.Key, now, cancellation);
        Instant used = Instant.Max(row.UsedUntil, now);
        Duration wait = used - now - (count.Pause * (count.AtOnce - 1));
        if (wait > Duration.Zero)
            return wait;
        row.UsedUntil = used + count.Pause;
        taken.Add(count);
        return Duration.Zero;
    }

    private async Task<TryCount> LockAsync(string key, Instant fresh, CancellationToken cancellation)
    {
        await db.Database.ExecuteSqlAsync(
            $"insert into try_counts (key, used_until) values ({key}, {fresh}) on conflict (key) do nothing",
            cancellation
        );
        TryCount row = await db.TryCounts.FromSql($"select * from try_counts where key = {key} for update").SingleAsync(cancellation);
        await db.Entry(row).ReloadAsync(cancellation);
        return row;
    }

    /// <summary>Who is meant, without keeping what was typed.</summary>
    internal static string AccountOf(string email) => TokenScheme.DigestOf(email.Trim().ToUpperInvariant());

    /// <summary>Where it comes from: of the newer addresses the part that one household has.</summary>
    private static string AddressOf(IPAddress? from)
    {
        if (from is null)
            return "unknown";
        if (from.IsIPv4MappedToIPv6)
            from = from.MapToIPv4();
        return from.AddressFamily == AddressFamily.InterNetworkV6
            ? Convert.ToHexStringLower(from.GetAddressBytes().AsSpan(0, 8))
            : from.ToString();
    }
}
