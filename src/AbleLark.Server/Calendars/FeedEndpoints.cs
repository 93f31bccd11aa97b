using System.ComponentModel.DataAnnotations;
using System.Security.Cryptography;
using System.Text;
using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Calendars;

/// <param name="Query">What of the calendar it gives: the query of its address.</param>
/// <param name="UsedAt">When it was last read, by machine time.</param>
public sealed record FeedView(Id<CalendarFeed> Id, string Name, string MadeBy, string Query, Instant MadeAt, Instant? UsedAt);

/// <param name="Query">Of the calendar's address, without the date; empty: all of it.</param>
public sealed record FeedRequest(
    [Named("the address")] string Name,
    [StringLength(SavedFilter.Longest, ErrorMessage = "That is more than an address holds. Choose less.")] string Query
);

/// <param name="Path">Its address on this server, shown this once; only a digest of it is kept.</param>
public sealed record FeedMade(Id<CalendarFeed> Id, string Name, string Path);

/// <summary>What the calendar shows, for other calendars: as a file, and at secret addresses.</summary>
public static class FeedEndpoints
{
    private const int Most = 30;

    /// <summary>What an address gives: so many days back and ahead.</summary>
    private const int DaysBack = 31;

    private const int DaysAhead = 120;

    public static void MapFeeds(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/calendar.ics", FileAsync).Needs(Right.View);
        workspace.MapGet("/calendar-feeds", ListAsync).Needs(Right.Schedule);
        workspace.MapPost("/calendar-feeds", MakeAsync).Needs(Right.Schedule).InTurn();
        workspace.MapDelete("/calendar-feeds/{id}", RevokeAsync).Needs(Right.Schedule);
    }

    /// <summary>The addresses themselves: whoever has one reads, signed in or not.</summary>
    public static void MapFeed(this IEndpointRouteBuilder app) => app.MapGet("/calendar/{secret}.ics", ReadAsync);

    /// <summary>The calendar between two dates, narrowed as its page's address says it.</summary>
    private static async Task<IResult> FileAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        HttpContext http,
        CalendarWriting writing,
        CancellationToken cancellation
    )
    {
        Inputs.Days(from.Value, to.Value, WorkspaceLimits.LineUpDays);
        string file = await writing.WriteAsync(
            workspaceId,
            from.Value,
            to.Value,
            CalendarSelection.Parse(http.Request.QueryString.Value ?? ""),
            http.Caller(),
            cancellation
        );
        return TypedResults.File(
            Encoding.UTF8.GetBytes(file),
            $"{CalendarFile.Kind}; charset=utf-8",
            $"calendar-{from.Value:uuuu-MM-dd}.ics"
        );
    }

    private static async Task<IResult> ReadAsync(
        string secret,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        IClock machine,
        CalendarWriting writing,
        CancellationToken cancellation
    )
    {
        string digest = TokenScheme.DigestOf(secret);
        CalendarFeed? feed = await db.CalendarFeeds.SingleOrDefaultAsync(f => f.Digest == digest && f.RevokedAt == null, cancellation);
        Role? role = feed is null ? null : await db.RoleAsync(feed.WorkspaceId, feed.PersonId, cancellation);
        Caller? caller = role is { } known ? Caller.Looking(feed!.PersonId, known) : null;
        if (feed is null || caller?.May(Right.View) != true)
            throw ProblemException.NotFound("This calendar");
        Instant now = machine.Now();
        if (!(now - feed.UsedAt < Duration.FromMinutes(1)))
        {
            feed.UsedAt = now;
            await db.SaveChangesAsync(cancellation);
        }
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == feed.WorkspaceId, cancellation);
        LocalDate today = workspace.DateOf(await clock.NowAsync(cancellation));
        string file = await writing.WriteAsync(
            workspace.Id,
            today.PlusDays(-DaysBack),
            today.PlusDays(DaysAhead),
            CalendarSelection.Parse(feed.Query),
            caller,
            cancellation
        );
        http.Response.Headers.CacheControl = "private, max-age=300";
        return TypedResults.Text(file, CalendarFile.Kind, Encoding.UTF8);
    }

    private static Task<List<FeedView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .CalendarFeeds.Where(f => f.WorkspaceId == workspaceId && f.RevokedAt == null)
            .OrderBy(f => f.MadeAt)
            .Select(f => new FeedView(
                f.Id,
                f.Name,
                db.Users.Where(u => u.Id == f.PersonId).Select(u => u.Name).First(),
                f.Query,
                f.MadeAt,
                f.UsedAt
            ))
            .ToListAsync(cancellation);

    private static async Task<FeedMade> MakeAsync(
        Id<Workspace> workspaceId,
        FeedRequest request,
        HttpContext http,
        LarkDb db,
        IClock machine,
        CancellationToken cancellation
    )
    {
        Inputs.Room(
            await db.CalendarFeeds.CountAsync(f => f.WorkspaceId == workspaceId && f.RevokedAt == null, cancellation),
            1,
            Most,
            "addresses of its calendar"
        );
        string secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        CalendarFeed feed = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<CalendarFeed>.New(),
            Name = request.Name.Trim(),
            Digest = TokenScheme.DigestOf(secret),
            PersonId = http.PersonId(),
            Query = request.Query.TrimStart('?'),
            MadeAt = machine.Now(),
        };
        db.CalendarFeeds.Add(feed);
        await db.SaveChangesAsync(cancellation);
        return new(feed.Id, feed.Name, $"/calendar/{secret}.ics");
    }

    private static async Task RevokeAsync(
        Id<Workspace> workspaceId,
        Id<CalendarFeed> id,
        LarkDb db,
        IClock machine,
        CancellationToken cancellation
    )
    {
        CalendarFeed feed =
            await db.CalendarFeeds.SingleOrDefaultAsync(
                f => f.WorkspaceId == workspaceId && f.Id == id && f.RevokedAt == null,
                cancellation
            ) ?? throw ProblemException.NotFound("This address");
        feed.RevokedAt = machine.Now();
        await db.SaveChangesAsync(cancellation);
    }
}
