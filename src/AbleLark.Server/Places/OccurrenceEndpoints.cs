using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.LineUps;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Places;

/// <summary>What a person decides about one occurrence; what isn't named stays as it is.</summary>
/// <param name="IsFreed">True: back to the rotation first, with only its note kept.</param>
/// <param name="MovedTo">Local date and time in the rota's zone. What its channels would send is fixed to it.</param>
/// <param name="Note">Empty takes it away.</param>
/// <param name="Picks">Posts that these channels shall send; nothing but a person changes them.</param>
public sealed record OccurrenceEdit(
    bool IsFreed = false,
    bool? IsSkipped = null,
    LocalDateTime? MovedTo = null,
    [MostCharacters(500, "The note")] string? Note = null,
    IReadOnlyList<PickedPost>? Picks = null
);

public sealed record PickedPost(Id<Channel> ChannelId, Id<Post> PostId);

/// <param name="Why">What keeps it out; null: it can go.</param>
public sealed record CandidateView(Id<Post> PostId, string Title, bool CanGo, string? Why);

/// <param name="Side">Null: back into the order.</param>
public sealed record LineMoveRequest(Id<Post> PostId, IReadOnlyList<Id<Channel>> Channels, Side? Side);

/// <summary>What was decided about one occurrence.</summary>
/// <param name="Revision">Give it back in If-Match when you decide. Nought: nothing was decided.</param>
public sealed record OccurrenceView(int Revision, bool IsSkipped, LocalDateTime? MovedTo, string? Note);

/// <summary>Decisions about single occurrences, and about a post's place in its lines.</summary>
public static class OccurrenceEndpoints
{
    public static void MapOccurrences(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/line-up/occurrences/{slotId}/{date}", ShowAsync).Needs(Right.Schedule);
        workspace.MapPatch("/line-up/occurrences/{slotId}/{date}", DecideAsync).Needs(Right.Schedule);
        workspace.MapGet("/line-up/occurrences/{slotId}/{date}/candidates", CandidatesAsync).Needs(Right.Schedule);
        workspace.MapPost("/line-up/moves", MoveAsync).Needs(Right.Schedule);
    }

    private static async Task<OccurrenceView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        await FindAsync(workspaceId, slotId, date.Value, db, cancellation);
        Decision? decision = await db.Decisions.SingleOrDefaultAsync(
            d =>
                d.WorkspaceId == workspaceId
                && d.OriginKind == OriginKind.Place
                && d.OriginId == slotId.Value
                && d.OriginDate == date.Value,
            cancellation
        );
        return new(decision?.Revision ?? 0, decision?.IsSkipped == true, decision?.MovedTo, decision?.Note);
    }

    /// <param name="ifMatch">The revision that the person looked at.</param>
    private static async Task<ActDone> DecideAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        OccurrenceEdit edit,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        IReadOnlyList<PickedPost> picks = edit.Picks ?? [];
        if (picks.DistinctBy(f => f.ChannelId).Count() < picks.Count)
            throw ProblemException.BadInput("A channel is named twice. Name one post for each.");
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                Slot slot = await FindAsync(workspaceId, slotId, date.Value, db, cancellation);
                if (!int.TryParse(ifMatch?.Trim('"'), out int revision))
                    throw ProblemException.BadInput(
                        "Say in If-Match which revision of the place you looked at; nought, where nothing is decided."
                    );
                PlaceWish wish = new(
                    new(Origin.Place(slotId, date.Value), revision),
                    edit.IsFreed,
                    edit.IsSkipped,
                    edit.MovedTo,
                    edit.Note,
                    [.. picks.Select(p => (p.ChannelId, p.PostId))]
                );
                return new(new PlanAct.Decide([wish]), new(CodeOf(edit), date.Value, slot.Time));
            },
            cancellation
        );
        return new(act);
    }

    private static async Task<List<CandidateView>> CandidatesAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        var ranked =
            LineUp.CandidatesFor(input, await clock.NowAsync(cancellation), Origin.Place(slotId, date.Value))
            ?? throw ProblemException.NotFound("This occurrence");
        return
        [
            .. ranked.Select(c => new CandidateView(
                c.Post.Id,
                c.Post.Title,
                c.ExcludedBy is null,
                c.ExcludedBy is { } rule ? ReasonWords.Why(rule) : null
            )),
        ];
    }

    /// <summary>Moves a post to the front or the back of its lines on some channels.</summary>
    private static async Task<ActDone> MoveAsync(
        Id<Workspace> workspaceId,
        LineMoveRequest request,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                Post post = await PostEndpoints.FindAsync(workspaceId, request.PostId, db, cancellation);
                List<Id<Channel>> channels = await db.KnownChannelsAsync(workspaceId, request.Channels, cancellation);
                if (channels.Count == 0)
                    throw ProblemException.BadInput("Say on which channels the post is moved.");
                return new(
                    new PlanAct.MoveInLines(post.Id, channels, request.Side),
                    new(
                        request.Side switch
                        {
                            Side.Front => ActCode.PostMovedToFront,
                            Side.Back => ActCode.PostMovedToBack,
                            _ => ActCode.PostPutBackIntoOrder,
                        },
                        post.Title
                    )
                );
            },
            cancellation
        );
        return new(act);
    }

    /// <summary>A slot of which nothing is scheduled yet on a date on which it comes round.</summary>
    private static async Task<Slot> FindAsync(
        Id<Workspace> workspace,
        Id<Slot> id,
        LocalDate date,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Slot slot =
            await db
                .Slots.AsNoTracking()
                .SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation)
            ?? throw ProblemException.NotFound("This slot");
        Rota rota = await db.Rotas.AsNoTracking().SingleAsync(r => r.WorkspaceId == workspace && r.Id == slot.RotaId, cancellation);
        if (Occurrences.Of(rota, slot, date, null) is null)
            throw ProblemException.NotFound("This occurrence");
        if (
            await db.Deliveries.AnyAsync(
                d => d.WorkspaceId == workspace && d.OriginKind == OriginKind.Place && d.OriginId == id.Value && d.OriginDate == date,
                cancellation
            )
        )
            throw ProblemException.Conflict("This occurrence is scheduled: change its deliveries instead.");
        return slot;
    }

    private static ActCode CodeOf(OccurrenceEdit edit) =>
        edit.IsFreed ? ActCode.PlaceFreed
        : edit.IsSkipped == true ? ActCode.PlaceSkipped
        : edit.MovedTo is not null ? ActCode.PlaceMoved
        : edit.Picks is { Count: > 0 } ? ActCode.PlaceFixed
        : edit.Note is not null ? ActCode.PlaceNoted
        : ActCode.PlaceChanged;
}
