using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Checks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Workspaces;

/// <param name="Now">Business time.</param>
/// <param name="Today">Local date in the workspace's zone.</param>
/// <param name="Colour">One of the palette, by name.</param>
/// <param name="LogoId">A picture among its media; null: none.</param>
public sealed record WorkspaceView(
    Id<Workspace> Id,
    string Slug,
    string Name,
    string Zone,
    int ScheduleAheadHours,
    int LateMinutes,
    int WarnAboveRepeatsPercent,
    bool AllowsOwnApproval,
    IReadOnlyList<string> ButtonVerbs,
    Instant Now,
    LocalDate Today,
    LocalTime LocalTime,
    string Colour,
    Id<MediaFile>? LogoId
);

/// <param name="WarnAboveRepeatsPercent">Share of repeats above which a channel has too many repeats, 1 to 100.</param>
/// <param name="AllowsOwnApproval">True: whoever changed a post last may approve it as well. Null: as it is.</param>
/// <param name="ButtonVerbs">What buttons say, in the order in which they are offered; empty: anything. Null: as they are.</param>
/// <param name="Colour">One of the palette, by name. Null: as it is.</param>
public sealed record WorkspaceEdit(
    [Named("the workspace")] string Name,
    string Zone,
    [Range(1, 336, ErrorMessage = "The schedule time lies between 1 hour and 14 days (336 hours).")] int ScheduleAheadHours,
    [Range(1, 1440, ErrorMessage = "A delivery may be late by 1 minute to 24 hours (1440 minutes).")] int LateMinutes,
    [Range(1, 100, ErrorMessage = "A channel has too many repeats above a share of repeats between 1 and 100 %.")]
        int WarnAboveRepeatsPercent = 60,
    bool? AllowsOwnApproval = null,
    [MaxLength(40, ErrorMessage = "A workspace has 40 verbs for buttons at most.")] IReadOnlyList<string>? ButtonVerbs = null,
    string? Colour = null
);

/// <param name="FileId">A picture among the workspace's media; null takes the logo away.</param>
public sealed record LogoEdit(Id<MediaFile>? FileId);

/// <summary>One workspace's settings.</summary>
public static class WorkspaceEndpoints
{
    private const int LongestVerb = 100;

    public static void MapWorkspaces(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/", ShowAsync).Needs(Right.View);
        workspace.MapPut("/", EditAsync).Needs(Right.SetUp);
        workspace.MapPut("/logo", LogoAsync).Needs(Right.SetUp);
    }

    private static async Task<WorkspaceView> ShowAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    ) => View(await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation), await clock.NowAsync(cancellation));

    private static async Task<WorkspaceView> EditAsync(
        Id<Workspace> workspaceId,
        WorkspaceEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        string name = edit.Name.Trim();
        DateTimeZone zone = LocalTimes.ZoneOf(edit.Zone);
        if (edit.Colour is { } colour && !CategoryEndpoints.Palette.Contains(colour))
            throw ProblemException.BadInput(
                $"There is no colour “{colour}”. Choose one of: {string.Join(", ", CategoryEndpoints.Palette)}."
            );
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.SettingsChanged, name));
        workspace.Colour = edit.Colour ?? workspace.Colour;
        bool moved = workspace.Zone.Id != zone.Id;
        (workspace.Name, workspace.Zone) = (name, zone);
        workspace.ScheduleAhead = Duration.FromHours(edit.ScheduleAheadHours);
        workspace.LateAfter = Duration.FromMinutes(edit.LateMinutes);
        workspace.AllowsOwnApproval = edit.AllowsOwnApproval ?? workspace.AllowsOwnApproval;
        workspace.WarnAboveRepeats = edit.WarnAboveRepeatsPercent / 100.0;
        if (edit.ButtonVerbs is { } verbs)
        {
            workspace.ButtonVerbs = Tidied(verbs);
            await StalePosts.CheckUsingAsync(workspaceId, SaysOnAButton, db, networks, now, cancellation);
        }
        if (moved)
        {
            // The standing rota is read in the workspace's zone and goes with it.
            foreach (var rota in await db.Rotas.Where(r => r.WorkspaceId == workspaceId).ToListAsync(cancellation))
                rota.Zone = zone;
        }
        await db.SaveChangesAsync(cancellation);
        return View(workspace, now);
    }

    private static async Task<WorkspaceView> LogoAsync(
        Id<Workspace> workspaceId,
        LogoEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == workspaceId, cancellation);
        if (
            edit.FileId is { } file
            && !await db.Media.AnyAsync(
                m => m.WorkspaceId == workspaceId && m.Id == file && m.RemovedAt == null && m.Kind.StartsWith("image/"),
                cancellation
            )
        )
            throw ProblemException.BadInput("This picture isn't among the media. Choose another.");
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.LogoChanged));
        workspace.LogoId = edit.FileId?.Value;
        await db.SaveChangesAsync(cancellation);
        return View(workspace, now);
    }

    private static bool SaysOnAButton(Post post) => post.Content.AllLayers().Any(l => l.Has(ContentFields.ButtonVerb));

    private static string[] Tidied(IReadOnlyList<string> verbs)
    {
        string[] tidy = [.. verbs.Select(v => v?.Trim() ?? "").Where(v => v.Length > 0).Distinct()];
        return Array.TrueForAll(tidy, v => v.Length <= LongestVerb)
            ? tidy
            : throw ProblemException.BadInput($"A button says {LongestVerb} characters at most. Shorten the verb.");
    }

    private static WorkspaceView View(Workspace w, Instant now)
    {
        LocalDateTime local = now.InZone(w.Zone).LocalDateTime;
        return new(
            w.Id,
            w.Slug,
            w.Name,
            w.Zone.Id,
            (int)w.ScheduleAhead.TotalHours,
            (int)w.LateAfter.TotalMinutes,
            (int)Math.Round(w.WarnAboveRepeats * 100),
            w.AllowsOwnApproval,
            w.ButtonVerbs,
            now,
            local.Date,
            local.TimeOfDay,
            w.Colour,
            w.LogoId is { } logo ? new(logo) : null
        );
    }
}
