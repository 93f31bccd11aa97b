using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.KeyDates;
using AbleLark.Server.Posts;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>What happens at the observatory, a letter that is kept by hand, and what stands relative to both.</summary>
public sealed class DemoKeyDates(LarkDb db, CalendarSources sources)
{
    private static readonly (string Name, string Mark, string Colour, bool ToClients)[] Kinds =
    [
        ("Events", "E", "#1f7a8c", true),
        ("Harbour", "H", "#7a5c1f", true),
        ("Letters", "L", "#7d3c6d", true),
        ("Get in touch", "T", "#a8442a", false),
    ];

    private readonly record struct Sample(
        string Title,
        string Kind,
        LocalDate Date,
        int Days = 1,
        LocalTime? Time = null,
        string? Rule = null,
        bool IsLive = false
    );

    /// <param name="with">A channel on which the letter is announced.</param>
    public async Task AddAsync(Workspace workspace, Channel with, Instant now, CancellationToken cancellation)
    {
        LocalDate today = workspace.DateOf(now);
        Dictionary<string, KeyDateKind> kinds = Kinds
            .Select(k => new KeyDateKind
            {
                WorkspaceId = workspace.Id,
                Id = Id<KeyDateKind>.New(),
                Name = k.Name,
                Mark = k.Mark,
                Colour = k.Colour,
                IsShownToClients = k.ToClients,
            })
            .ToDictionary(k => k.Name);
        db.KeyDateKinds.AddRange(kinds.Values);
        LocalDate saturday = today.PlusDays(7).Next(IsoDayOfWeek.Saturday);
        KeyDate[] added =
        [
            .. new Sample[]
            {
                new("Ringers’ weekend", "Events", saturday, Days: 2),
                new("Open night at the hut", "Events", today.PlusDays(2), Time: new(19, 0), Rule: "FREQ=WEEKLY;INTERVAL=2", IsLive: true),
                new("The letter goes out", "Letters", saturday.PlusDays(4), Rule: "FREQ=MONTHLY;INTERVAL=2"),
                new("Ask the harbour office about the lamps", "Get in touch", today.PlusDays(1), Time: new(11, 0), IsLive: true),
                new("The observatory’s birthday", "Events", today.PlusDays(40), Rule: "FREQ=YEARLY"),
            }.Select(s => new KeyDate
            {
                WorkspaceId = workspace.Id,
                Id = Id<KeyDate>.New(),
                KindId = kinds[s.Kind].Id,
                Title = s.Title,
                Date = s.Date,
                Days = s.Days,
                Time = s.Time,
                Rule = s.Rule,
                IsLive = s.IsLive,
            }),
        ];
        db.KeyDates.AddRange(added);
        CalendarSource harbour = new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<CalendarSource>.New(),
            Name = "",
            KindId = kinds["Harbour"].Id,
            Address = "https://harbour.example.org/tides.ics",
        };
        db.CalendarSources.Add(harbour);
        ReadCalendar calendar = await sources.FetchAsync(new(harbour.Address), workspace.Id, now, cancellation);
        await sources.TakeAsync(harbour, calendar, workspace, now, cancellation);
        Id<Channel> letters = Id<Channel>.New();
        Channel letter = new()
        {
            WorkspaceId = workspace.Id,
            Id = letters,
            Network = "kept",
            Account = letters.ToString(),
            Name = "The letter",
            Handle = "newsletter",
            Position = await db.Channels.CountAsync(c => c.WorkspaceId == workspace.Id, cancellation),
            Connection = ConnectionState.KeptByHand,
        };
        db.Channels.Add(letter);
        await db.SaveChangesAsync(cancellation);
        await TieAsync(workspace, added[0], -3, [with], now, cancellation);
        await TieAsync(workspace, added[2], 0, [letter, with], now, cancellation);
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>A post that was never sent, so many days from a key date.</summary>
    private async Task TieAsync(
        Workspace workspace,
        KeyDate keyDate,
        int days,
        Channel[] channels,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Post> posts = await db
            .Posts.Where(p =>
                p.WorkspaceId == workspace.Id
                && p.RemovedAt == null
                && p.Stage == Stage.Ready
                && !db.Deliveries.Any(d => d.WorkspaceId == p.WorkspaceId && d.PostId == p.Id)
            )
            .OrderBy(p => p.AddedAt)
            .ThenBy(p => p.AddedOrder)
            .ToListAsync(cancellation);
        if (posts.Find(p => channels.All(c => p.FitOn(c)?.FirstWording is not null)) is not { } post)
            return;
        Instant at = workspace.ComingInstant(keyDate.Date.PlusDays(days), new(9, 30), now);
        foreach (Channel channel in channels)
        {
            Delivery delivery = Delivery.AtExactTime(workspace, post.Id, channel.Id, at, post.FitOn(channel)!.FirstWording!.Value);
            db.Deliveries.Add(delivery);
            db.Tie(delivery, keyDate.At(keyDate.Date, workspace.Zone)!);
        }
        await db.SaveChangesAsync(cancellation);
    }
}
