using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using AbleLark.Server.Tokens;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Workspaces;

/// <param name="Now">Business time.</param>
/// <param name="Today">Local date in the workspace's zone.</param>
public sealed record WorkspaceView(
    Id<Workspace> Id, string Slug, string Name, string Zone, int SettleHours, int LateMinutes, int StaleAbovePercent, Instant Now, LocalDate Today, LocalTime LocalTime);

/// <param name="StaleAbovePercent">Share of repeats above which a channel looks stale, 1 to 100.</param>
public sealed record WorkspaceEdit(string Name, string Zone, int SettleHours, int LateMinutes, int StaleAbovePercent = 60);

/// <summary>One workspace's settings; and the gate that all workspace addresses pass.</summary>
public static class WorkspaceEndpoints
{
    private sealed record Gate;

    /// <summary>The group of all addresses of a workspace; <see cref="UseWorkspaceGate"/> guards it.</summary>
    public static RouteGroupBuilder MapWorkspaceGroup(this IEndpointRouteBuilder api) =>
        api.MapGroup("/workspaces/{workspaceId}").RequireAuthorization().WithMetadata(new Gate());

    /// <summary>Who isn't a member of a workspace finds nothing at its addresses; asked before anything of the request is read.</summary>
    public static void UseWorkspaceGate(this IApplicationBuilder app) => app.Use(async (context, next) =>
    {
        if (context.GetEndpoint()?.Metadata.GetMetadata<Gate>() is not null)
        {
            LarkDb db = context.RequestServices.GetRequiredService<LarkDb>();
            Guid person = context.PersonId();
            bool member = Id<Workspace>.TryParse((string?)context.Request.RouteValues["workspaceId"], null, out Id<Workspace> workspace)
                && (TokenScheme.WorkspaceOf(context.User) ?? workspace.ToString()) == workspace.ToString()
                && await db.Memberships.AnyAsync(m => m.WorkspaceId == workspace && m.PersonId == person, context.RequestAborted);
            if (!member) throw ProblemException.NotFound("This workspace");
        }
        await next(context);
    });

    public static void MapWorkspaces(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/", ShowAsync);
        workspace.MapPut("/", EditAsync);
    }

    private static async Task<WorkspaceView> ShowAsync(Id<Workspace> workspaceId, LarkDb db, BusinessClock clock, CancellationToken cancellation) =>
        View(await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation), await clock.NowAsync(cancellation));

    private static async Task<WorkspaceView> EditAsync(
        Id<Workspace> workspaceId, WorkspaceEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        string name = Inputs.Name(edit.Name, "the workspace");
        DateTimeZone zone = Zones.Find(edit.Zone) ?? throw ProblemException.BadInput($"There is no time zone “{edit.Zone}”. Choose one such as Europe/Dublin.");
        if (edit.SettleHours is < 1 or > 336) throw ProblemException.BadInput("The settle time lies between 1 hour and 14 days (336 hours).");
        if (edit.LateMinutes is < 1 or > 1440) throw ProblemException.BadInput("A delivery may be late by 1 minute to 24 hours (1440 minutes).");
        if (edit.StaleAbovePercent is < 1 or > 100) throw ProblemException.BadInput("A channel looks stale above a share of repeats between 1 and 100 %.");
        db.BeginAct(workspaceId, http.PersonId(), now, $"Changed the settings of {name}");
        bool moved = workspace.Zone.Id != zone.Id;
        (workspace.Name, workspace.Zone) = (name, zone);
        workspace.SettleTime = Duration.FromHours(edit.SettleHours);
        workspace.LateAfter = Duration.FromMinutes(edit.LateMinutes);
        workspace.StaleAbove = edit.StaleAbovePercent / 100.0;
        if (moved)
        {
            // The standing rota is read in the workspace's zone and goes with it.
            foreach (var rota in await db.Rotas.Where(r => r.WorkspaceId == workspaceId).ToListAsync(cancellation)) rota.Zone = zone;
        }
        await db.SaveChangesAsync(cancellation);
        return View(workspace, now);
    }

    private static WorkspaceView View(Workspace w, Instant now)
    {
        LocalDateTime local = now.InZone(w.Zone).LocalDateTime;
        return new(w.Id, w.Slug, w.Name, w.Zone.Id, (int)w.SettleTime.TotalHours, (int)w.LateAfter.TotalMinutes, (int)Math.Round(w.StaleAbove * 100), now, local.Date, local.TimeOfDay);
    }
}
