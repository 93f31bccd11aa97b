using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Calendars;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Contacts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.LineUps;
using AbleLark.Core.Media;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using NodaTime;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Every kind of row that the change log knows: one is added, changed and removed, and each of these is taken back.</summary>
public sealed class UndoWalkTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly string[] Counted = ["Version", "Revision", "RemovedAt", "State", "SearchText", "Fits", "CheckedBy", "Hashes"];
    private static int _number;
    private readonly Id<Workspace> _workspace = new(own.Installation.Ada.Workspace);
    private readonly Instant _now = SystemClock.Instance.GetCurrentInstant();

    /// <summary>One kind of row, as this test makes and changes it.</summary>
    /// <param name="Kept">What is said where one that was added stays; null: it goes.</param>
    /// <param name="IsRemoved">False: rows of the kind are never deleted by an act.</param>
    private sealed record Sample(Func<Rows, object> Make, Action<object> Change, string? Kept = null, bool IsRemoved = true);

    /// <summary>What samples refer to.</summary>
    private sealed record Rows(Workspace Workspace, Channel Channel, Category Category, Post Post, Rota Rota, Slot Slot, KeyDateKind Kind);

    private static readonly Dictionary<Type, Sample> Samples = new()
    {
        [typeof(Workspace)] = new(
            _ => NewWorkspace(),
            w => ((Workspace)w).Name += " changed",
            "A workspace stays once it is made.",
            IsRemoved: false
        ),
        [typeof(Channel)] = new(
            r => NewChannel(r.Workspace.Id),
            c => ((Channel)c).Name += " changed",
            "A channel that was connected stays; disconnect it in Set-up, if it is to go.",
            IsRemoved: false
        ),
        [typeof(Contact)] = new(
            r => new Contact
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<Contact>.New(),
                Key = Name("contact"),
                Name = "Somebody",
                Kind = ContactKind.Person,
            },
            c => ((Contact)c).Name = "Somebody else"
        ),
        [typeof(ChannelGroup)] = new(
            r => new ChannelGroup
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<ChannelGroup>.New(),
                Name = Name("group"),
            },
            g => ((ChannelGroup)g).Name += "s"
        ),
        [typeof(Category)] = new(r => NewCategory(r.Workspace.Id), c => ((Category)c).GapDays = 9),
        [typeof(Rota)] = new(r => NewRota(r.Workspace.Id), x => ((Rota)x).Name += "s", IsRemoved: false),
        [typeof(Slot)] = new(r => NewSlot(r.Rota), s => ((Slot)s).Time = new(8, 15), IsRemoved: false),
        [typeof(Decision)] = new(
            r => new Decision
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<Decision>.New(),
                Origin = Origin.Place(r.Slot.Id, new LocalDate(2027, 1, 1).PlusDays(Interlocked.Increment(ref _number))),
                Note = "Ask",
            },
            _ => { }
        ),
        [typeof(Pause)] = new(
            r => new Pause
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<Pause>.New(),
                What = Paused.Channel,
                Target = r.Channel.Id.Value,
                From = new(2030, 1, 1),
            },
            p => ((Pause)p).To = new(2030, 1, 5)
        ),
        [typeof(LineMove)] = new(
            r => new LineMove
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<LineMove>.New(),
                PostId = r.Post.Id,
                ChannelId = r.Channel.Id,
                Side = Side.Front,
                At = Instant.FromUtc(2026, 1, 1, 0, 0),
            },
            m => ((LineMove)m).Side = Side.Back
        ),
        [typeof(PassedPlace)] = new(
            r => new PassedPlace
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<PassedPlace>.New(),
                Origin = Origin.Place(r.Slot.Id, new LocalDate(2025, 1, 1).PlusDays(Interlocked.Increment(ref _number))),
                At = Instant.FromUtc(2025, 1, 1, 0, 0),
                Local = new(2025, 1, 1, 0, 0),
                Channels = [r.Channel.Id],
                Why = new(ReasonCode.NoCandidate),
            },
            p => ((PassedPlace)p).DealtWith = true
        ),
        [typeof(SavedFilter)] = new(
            r => new SavedFilter
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<SavedFilter>.New(),
                Name = Name("filter"),
                Query = "a=b",
            },
            f => ((SavedFilter)f).Query = "c=d"
        ),
        [typeof(CalendarNote)] = new(
            r => new CalendarNote
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<CalendarNote>.New(),
                Date = new LocalDate(2028, 1, 1).PlusDays(Interlocked.Increment(ref _number)),
                Span = NoteSpan.Day,
                Text = "A note",
            },
            n => ((CalendarNote)n).Text = "Another"
        ),
        [typeof(KeyDateKind)] = new(r => NewKind(r.Workspace.Id), k => ((KeyDateKind)k).Mark = "★"),
        [typeof(CalendarSource)] = new(
            r => new CalendarSource
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<CalendarSource>.New(),
                Name = Name("source"),
                KindId = r.Kind.Id,
            },
            s => ((CalendarSource)s).Name += "s"
        ),
        [typeof(KeyDate)] = new(r => NewKeyDate(r), d => ((KeyDate)d).Title = "Another day"),
        [typeof(KeyDateTie)] = new(
            r => throw new NotSupportedException($"made with {r.Kind.Name}"),
            t => ((KeyDateTie)t).Stood = new(2031, 5, 5)
        ),
        [typeof(Post)] = new(r => NewPost(r.Workspace.Id, r.Category), p => ((Post)p).Title = "Other words", IsRemoved: false),
        [typeof(Approval)] = new(
            r => new Approval
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<Approval>.New(),
                PostId = r.Post.Id,
                Version = 1,
                At = Instant.FromUtc(2026, 1, 1, 0, 0),
                Hashes = new Dictionary<string, IReadOnlyList<string>>(),
            },
            _ => { }
        ),
        [typeof(MediaFile)] = new(
            r => new MediaFile
            {
                WorkspaceId = r.Workspace.Id,
                Id = Id<MediaFile>.New(),
                Hash = Name("hash"),
                FileName = "a.png",
                Kind = "image/png",
                Bytes = 1,
                Width = 1,
                Height = 1,
            },
            m => ((MediaFile)m).AltText = "A boat",
            IsRemoved: false
        ),
        [typeof(Delivery)] = new(
            r =>
                Delivery.AtExactTime(
                    r.Workspace,
                    r.Post.Id,
                    r.Channel.Id,
                    Instant.FromUtc(2031, 1, 1, 0, 0) + Duration.FromHours(Interlocked.Increment(ref _number))
                ),
            d => ((Delivery)d).Why = new(ReasonCode.Picked),
            IsRemoved: false
        ),
    };

    [Fact]
    public async Task What_is_added_changed_or_removed_is_as_before()
    {
        Type[] logged = [.. StoredKinds.All.Where(k => k.Log.Name is not null).Select(k => k.Type)];
        Assert.Equal(logged.OrderBy(t => t.Name), Samples.Keys.OrderBy(t => t.Name));
        foreach (Type type in logged)
        {
            try
            {
                await WalkAsync(type, Samples[type]);
            }
            catch (Exception e) when (e is not Xunit.Sdk.XunitException)
            {
                throw new InvalidOperationException($"{type.Name}: {e.Message}", e);
            }
        }
    }

    private async Task WalkAsync(Type type, Sample sample)
    {
        object row = await MakeAsync();
        (UndoOutcome added, _) = await ActAndUndoAsync(row, EntityState.Added, _ => { });
        if (sample.Kept is { } words)
            Assert.Equal((type.Name, words), (type.Name, Assert.Single(added.Kept)));
        else
            Assert.True(added.Kept.Count == 0, $"{type.Name}: {string.Join(" ", added.Kept)}");
        object kept = await MakeAsync();
        await SaveAsync(db => db.Add(kept));
        string before = Written(type, kept);
        (UndoOutcome changed, string? after) = await ActAndUndoAsync(kept, EntityState.Modified, sample.Change);
        Assert.True(changed.Kept.Count == 0, $"{type.Name}: {string.Join(" ", changed.Kept)}");
        Assert.Equal(before, after);
        if (!sample.IsRemoved)
            return;
        object gone = await MakeAsync();
        await SaveAsync(db => db.Add(gone));
        before = Written(type, gone);
        (UndoOutcome removed, string? back) = await ActAndUndoAsync(gone, EntityState.Deleted, _ => { });
        if (StoredKinds.Of(type)!.Log.Undo!.StaysRemoved is { } stays)
            Assert.Equal(stays, Assert.Single(removed.Kept));
        else
            Assert.Equal(before, back);

        async Task<object> MakeAsync()
        {
            Rows rows = await own.Installation.ReadAsync(RowsAsync);
            return type == typeof(KeyDateTie) ? await own.Installation.ReadAsync(db => TieAsync(db, rows)) : sample.Make(rows);
        }
    }

    /// <summary>Does something with a row as an act, and takes that back.</summary>
    /// <returns>What is said, and the row as it is then; null: it is gone.</returns>
    private async Task<(UndoOutcome Outcome, string? Row)> ActAndUndoAsync(object row, EntityState state, Action<object> change)
    {
        Id<ChangeSet> act = default;
        await SaveAsync(db =>
        {
            act = db.BeginAct(_workspace, null, _now, new(ActCode.Told, $"Walked over {row.GetType().Name}")).Id;
            EntityEntry entry = db.Attach(row);
            entry.State = state == EntityState.Modified ? EntityState.Unchanged : state;
            change(row);
        });
        UndoOutcome outcome = new(0, []);
        await own.Installation.ReadAsync(async db =>
        {
            ChangeSet done = await db.ChangeSets.SingleAsync(c => c.WorkspaceId == _workspace && c.Id == act);
            outcome = await new Undo(db, _now, needsOthers: false, (_, _) => Task.CompletedTask).TakeBackAsync(done, null, default);
            await db.SaveChangesAsync();
            return 0;
        });
        return (
            outcome,
            await own.Installation.ReadAsync(async db =>
            {
                object[] key = [.. db.Entry(row).Metadata.FindPrimaryKey()!.Properties.Select(p => p.PropertyInfo!.GetValue(row)!)];
                db.ChangeTracker.Clear();
                return await db.FindAsync(row.GetType(), key) is { } found ? Written(row.GetType(), found) : null;
            })
        );
    }

    private static string Written(Type type, object row)
    {
        using LarkDb db = Databases.Open("Host=127.0.0.1;Database=none");
        EntityEntry entry = db.Entry(row);
        string written = JsonSerializer.Serialize(
            entry
                .Properties.Where(p => !Counted.Contains(p.Metadata.Name))
                .ToDictionary(p => p.Metadata.Name, p => JsonSerializer.Serialize(p.CurrentValue, p.Metadata.ClrType, LarkJson.Options)),
            LarkJson.Options
        );
        return $"{type.Name} {written}";
    }

    private Task SaveAsync(Action<LarkDb> what) =>
        own.Installation.ReadAsync(async db =>
        {
            what(db);
            await db.SaveChangesAsync();
            return 0;
        });

    private async Task<Rows> RowsAsync(LarkDb db)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == _workspace);
        (Channel channel, Category category, Rota rota) = (NewChannel(_workspace), NewCategory(_workspace), NewRota(_workspace));
        (Post post, Slot slot, KeyDateKind kind) = (NewPost(_workspace, category), NewSlot(rota), NewKind(_workspace));
        db.AddRange(channel, category, rota, post, slot, kind);
        await db.SaveChangesAsync();
        return new(workspace, channel, category, post, rota, slot, kind);
    }

    /// <summary>One of a delivery and a key date of its own.</summary>
    private static async Task<object> TieAsync(LarkDb db, Rows rows)
    {
        Delivery delivery = (Delivery)Samples[typeof(Delivery)].Make(rows);
        KeyDate keyDate = NewKeyDate(rows);
        db.AddRange(delivery, keyDate);
        await db.SaveChangesAsync();
        return new KeyDateTie
        {
            WorkspaceId = rows.Workspace.Id,
            Id = Id<KeyDateTie>.New(),
            DeliveryId = delivery.Id,
            KeyDateId = keyDate.Id,
            Occurrence = keyDate.Date,
            Stood = keyDate.Date,
        };
    }

    private static string Name(string of) => $"{of}-{Interlocked.Increment(ref _number)}";

    private static Workspace NewWorkspace() =>
        new()
        {
            Id = Id<Workspace>.New(),
            Slug = Name("walk"),
            Name = "Walk",
            Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        };

    private static Channel NewChannel(Id<Workspace> workspace) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<Channel>.New(),
            Network = "jot",
            Account = Name("account"),
            Name = "Walked",
            Handle = "walked",
        };

    private static Category NewCategory(Id<Workspace> workspace) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<Category>.New(),
            Name = Name("Category"),
            Colour = "tide",
            Monogram = "Wa",
        };

    private static Rota NewRota(Id<Workspace> workspace) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<Rota>.New(),
            Name = Name("Rota"),
            Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        };

    private static Slot NewSlot(Rota rota) =>
        new()
        {
            WorkspaceId = rota.WorkspaceId,
            Id = Id<Slot>.New(),
            RotaId = rota.Id,
            Days = [IsoDayOfWeek.Monday],
            Time = new(9, 0),
            Source = SlotSource.None,
            Channels = [],
        };

    private static Post NewPost(Id<Workspace> workspace, Category category) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<Post>.New(),
            Title = "Words",
            CategoryId = category.Id,
        };

    private static KeyDateKind NewKind(Id<Workspace> workspace) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<KeyDateKind>.New(),
            Name = Name("Kind"),
            Mark = "●",
            Colour = "tide",
        };

    private static KeyDate NewKeyDate(Rows rows) =>
        new()
        {
            WorkspaceId = rows.Workspace.Id,
            Id = Id<KeyDate>.New(),
            KindId = rows.Kind.Id,
            Title = "A day",
            Date = new(2031, 4, 4),
        };
}
