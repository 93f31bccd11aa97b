using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Calendars;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Calendars;

/// <param name="Date">The first day that it holds for.</param>
/// <param name="Last">The last day that it holds for.</param>
public sealed record NoteView(Id<CalendarNote> Id, LocalDate Date, LocalDate Last, NoteSpan Span, string Text);

/// <param name="Date">Any day of the day, week or month that is meant.</param>
/// <param name="Text">Empty takes the note away.</param>
public sealed record NoteEdit(
    LocalDate Date,
    NoteSpan Span,
    [StringLength(CalendarNote.Longest, ErrorMessage = "A note has at most 2,000 characters. Shorten it.")] string Text
);

/// <param name="Note">Null: it was taken away.</param>
/// <param name="ChangeSetId">Null: nothing was changed.</param>
public sealed record NoteSaved(NoteView? Note, Guid? ChangeSetId);

/// <summary>Notes on days, weeks and months.</summary>
public static class NoteEndpoints
{
    private const int Most = 5_000;
    private const int MostDays = 400;

    public static void MapNotes(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/calendar/notes", ListAsync).Needs(Right.View);
        workspace.MapPut("/calendar/notes", WriteAsync).Needs(Right.Schedule);
    }

    private static async Task<List<NoteView>> ListAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Inputs.Days(from.Value, to.Value, MostDays);
        // A month's note begins at most that many days before its last day.
        LocalDate earliest = from.Value.PlusDays(-31);
        List<CalendarNote> notes = await db
            .CalendarNotes.AsNoTracking()
            .Where(n => n.WorkspaceId == workspaceId && n.Date >= earliest && n.Date <= to.Value)
            .OrderBy(n => n.Date)
            .ThenBy(n => n.Span)
            .ToListAsync(cancellation);
        return [.. notes.Where(n => n.Last >= from.Value).Select(View)];
    }

    /// <summary>Each day, week and month has one note.</summary>
    private static async Task<NoteSaved> WriteAsync(
        Id<Workspace> workspaceId,
        NoteEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        LocalDate first = CalendarNote.FirstOf(edit.Date, edit.Span);
        string text = edit.Text.Trim();
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Two who write on the same day are one after the other.
        await db.LockWorkspaceAsync(workspaceId, cancellation);
        CalendarNote? note = await db.CalendarNotes.SingleOrDefaultAsync(
            n => n.WorkspaceId == workspaceId && n.Date == first && n.Span == edit.Span,
            cancellation
        );
        if (text == (note?.Text ?? ""))
            return new(note is null ? null : View(note), null);
        var act = db.BeginAct(
            workspaceId,
            http.Actor(),
            await clock.NowAsync(cancellation),
            new(text.Length == 0 ? ActCode.NoteTaken : ActCode.NoteWritten)
        );
        if (text.Length == 0)
            db.CalendarNotes.Remove(note!);
        else if (note is not null)
            note.Text = text;
        else
        {
            Inputs.Room(await db.CalendarNotes.CountAsync(n => n.WorkspaceId == workspaceId, cancellation), 1, Most, "notes");
            db.CalendarNotes.Add(
                note = new()
                {
                    WorkspaceId = workspaceId,
                    Id = Id<CalendarNote>.New(),
                    Date = first,
                    Span = edit.Span,
                    Text = text,
                }
            );
        }
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(text.Length == 0 ? null : View(note!), act.Id.Value);
    }

    private static NoteView View(CalendarNote note) => new(note.Id, note.Date, note.Last, note.Span, note.Text);
}
