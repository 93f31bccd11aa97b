using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Calendars;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Contacts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.LineUps;
using AbleLark.Core.Links;
using AbleLark.Core.Media;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using NodaTime;

namespace AbleLark.Data;

/// <summary>The database, as whoever reads and writes it knows it (<see cref="LarkDatabase"/> is what there is). Everything but people and
/// workspaces belongs to one workspace, by the first part of its key.</summary>
public abstract class LarkDb(DbContextOptions options) : IdentityUserContext<Person, Guid>(options)
{
    public DbSet<Workspace> Workspaces => Set<Workspace>();
    public DbSet<Session> Sessions => Set<Session>();
    public DbSet<TryCount> TryCounts => Set<TryCount>();
    public DbSet<Membership> Memberships => Set<Membership>();
    public DbSet<Channel> Channels => Set<Channel>();
    public DbSet<Contact> Contacts => Set<Contact>();
    public DbSet<ChannelGroup> ChannelGroups => Set<ChannelGroup>();
    public DbSet<SavedFilter> SavedFilters => Set<SavedFilter>();
    public DbSet<CalendarNote> CalendarNotes => Set<CalendarNote>();
    public DbSet<KeyDateKind> KeyDateKinds => Set<KeyDateKind>();
    public DbSet<KeyDate> KeyDates => Set<KeyDate>();
    public DbSet<KeyDateTie> KeyDateTies => Set<KeyDateTie>();
    public DbSet<CalendarSource> CalendarSources => Set<CalendarSource>();
    public DbSet<CalendarFeed> CalendarFeeds => Set<CalendarFeed>();
    public DbSet<ChannelSecret> ChannelSecrets => Set<ChannelSecret>();
    public DbSet<Category> Categories => Set<Category>();
    public DbSet<Rota> Rotas => Set<Rota>();
    public DbSet<Slot> Slots => Set<Slot>();
    public DbSet<Decision> Decisions => Set<Decision>();
    public DbSet<Pause> Pauses => Set<Pause>();
    public DbSet<LineMove> LineMoves => Set<LineMove>();
    public DbSet<PassedPlace> PassedPlaces => Set<PassedPlace>();
    public DbSet<ChannelAudience> ChannelAudiences => Set<ChannelAudience>();
    public DbSet<ApiToken> ApiTokens => Set<ApiToken>();
    public DbSet<Post> Posts => Set<Post>();
    public DbSet<PostVersion> PostVersions => Set<PostVersion>();
    public DbSet<DeskVisit> DeskVisits => Set<DeskVisit>();
    public DbSet<Approval> Approvals => Set<Approval>();
    public DbSet<MediaFile> Media => Set<MediaFile>();
    public DbSet<LinkCard> LinkCards => Set<LinkCard>();
    public DbSet<Delivery> Deliveries => Set<Delivery>();
    public DbSet<DeliveryAttempt> DeliveryAttempts => Set<DeliveryAttempt>();
    public DbSet<OutsidePost> OutsidePosts => Set<OutsidePost>();
    public DbSet<Reading> Readings => Set<Reading>();
    public DbSet<AgeFigures> AgeFigures => Set<AgeFigures>();
    public DbSet<ChangeSet> ChangeSets => Set<ChangeSet>();
    public DbSet<Change> Changes => Set<Change>();
    public DbSet<ImportRun> ImportRuns => Set<ImportRun>();
    public DbSet<ImportEdit> ImportEdits => Set<ImportEdit>();
    public DbSet<ImportedRow> ImportedRows => Set<ImportedRow>();
    public DbSet<Restore> Restores => Set<Restore>();
    public DbSet<DamagedRow> DamagedRows => Set<DamagedRow>();
    public DbSet<WorkFailure> WorkFailures => Set<WorkFailure>();
    public DbSet<BusinessTime> BusinessTimes => Set<BusinessTime>();

    /// <summary>Rows of a kind that are put aside, by what they are (see <see cref="AsideKey{T}"/>).</summary>
    internal abstract List<Id<TOwner>> Aside<T, TOwner>()
        where T : class
        where TOwner : class;

    /// <summary>True: its own row can't be read, and it is left out of everything.</summary>
    public bool IsAside(Id<Workspace> workspace) => Aside<Workspace, Workspace>().Contains(workspace);

    /// <summary>The act that is under way; null: what is saved is recorded under none.</summary>
    private protected ChangeSet? Act { get; private set; }

    /// <summary>Number of its first change that isn't written yet.</summary>
    private protected int FirstChange { get; private set; }

    /// <summary>Nobody else is there yet who would wait: the demo's data is made in one transaction.</summary>
    public bool MayHoldLocks { get; set; }

    private readonly List<Right> _takes = [];

    /// <summary>What is done through this context takes a right: it stands with the act, since taking it back takes the same.</summary>
    public void Takes(Right right)
    {
        if (!_takes.Contains(right))
            _takes.Add(right);
        if (Act is not null && !Act.Rights.Contains(right))
            Act.Rights.Add(right);
    }

    /// <summary>
    /// Opens a change set: what is saved from here on is recorded under it, with before and after. The background work
    /// opens none; what it does is recorded with the deliveries.
    /// </summary>
    public ChangeSet BeginAct(Id<Workspace> workspace, Actor? by, Instant now, Act act)
    {
        Act = ActOf(workspace, by, now, act);
        FirstChange = 0;
        ChangeSets.Add(Act);
        return Act;
    }

    /// <summary>An act that is written by hand, with <see cref="BulkCopy"/>; see <see cref="GoOnWithAct"/>.</summary>
    public ChangeSet ActOf(Id<Workspace> workspace, Actor? by, Instant now, Act act) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<ChangeSet>.New(),
            By = by,
            At = now,
            Act = act,
            Rights = [.. _takes],
        };

    /// <summary>What is saved from here on is recorded under an act that is written already.</summary>
    /// <param name="written">How many of its changes are.</param>
    public void GoOnWithAct(ChangeSet act, int written)
    {
        ChangeSets.Attach(act);
        (Act, FirstChange) = (act, written);
    }

    /// <summary>What is being kept an eye on.</summary>
    public IReadOnlySet<object> Held() => ChangeTracker.Entries().Select(e => e.Entity).ToHashSet(ReferenceEqualityComparer.Instance);

    /// <summary>Lets go of all that was saved but these rows, so that thousands more can be gone through; the act goes on.</summary>
    public void LetGo(IReadOnlySet<object> but)
    {
        if (Act is not null)
        {
            FirstChange += Act.Changes.Count;
            Act.Changes.Clear();
        }
        foreach (EntityEntry entry in ChangeTracker.Entries().Where(e => e.Entity != Act && !but.Contains(e.Entity)).ToList())
            entry.State = EntityState.Detached;
    }

    /// <summary>After a saving that the database refused: lets go of new rows of this kind, and of what the act's log says of all that
    /// wasn't saved. What remains is recorded with the next saving.</summary>
    public void LetGoOfNew<T>()
        where T : class
    {
        foreach (EntityEntry<T> entry in ChangeTracker.Entries<T>().Where(e => e.State == EntityState.Added).ToList())
            entry.State = EntityState.Detached;
        foreach (EntityEntry<Change> entry in ChangeTracker.Entries<Change>().Where(e => e.State == EntityState.Added).ToList())
        {
            Act?.Changes.Remove(entry.Entity);
            entry.State = EntityState.Detached;
        }
    }

    /// <summary>True when any slot, ended ones too, draws from the category.</summary>
    public async Task<bool> HasSlotsAsync(Id<Workspace> workspace, Id<Category> category, CancellationToken cancellation) =>
        (await Slots.Where(s => s.WorkspaceId == workspace).Select(s => s.Categories).ToListAsync(cancellation)).Any(all =>
            all.Contains(category)
        );
}
