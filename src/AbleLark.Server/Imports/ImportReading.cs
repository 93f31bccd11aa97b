using System.Text;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Reads an uploaded sheet with what the workspace holds.</summary>
internal static class ImportReading
{
    public static async Task<(IReadOnlyList<ImportRow> Rows, ImportContext Context)> ReadAsync(
        Id<Workspace> workspaceId,
        IFormFile sheet,
        IFormFileCollection files,
        LarkDb db,
        BusinessClock clock,
        MediaStore media,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        string csv = await TextOfAsync(sheet, cancellation);
        Dictionary<string, MediaFile> pictures = new(StringComparer.OrdinalIgnoreCase);
        foreach (
            MediaFile kept in await db
                .Media.AsNoTracking()
                .Where(m => m.WorkspaceId == workspaceId && m.RemovedAt == null)
                .OrderBy(m => m.Id)
                .ToListAsync(cancellation)
        )
            pictures[kept.FileName] = kept;
        foreach (IFormFile file in files.Where(f => f.Name == "pictures"))
        {
            await using Stream bytes = file.OpenReadStream();
            MediaFile added = await media.AddAsync(workspaceId, file.FileName, bytes, cancellation);
            pictures[MediaStore.NameOf(file.FileName)] = added;
        }
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LocalDateTime now = (await clock.NowAsync(cancellation)).InZone(workspace.Zone).LocalDateTime;
        List<Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        if (categories.Count == 0)
            throw ProblemException.BadInput("There are no categories yet, and every row needs one. Make them in Set-up first.");
        List<Channel> channels = await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == workspaceId).ToListAsync(cancellation);
        ImportContext context = new(categories, channels, networks, pictures, now)
        {
            Sources = await db.SourcesAsync(workspaceId, pictures.Values.Select(p => p.Id), cancellation),
        };
        try
        {
            return (ImportSheet.Read(csv, context), context);
        }
        catch (ImportSheetException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
    }

    private static async Task<string> TextOfAsync(IFormFile sheet, CancellationToken cancellation)
    {
        using MemoryStream bytes = new();
        await using (Stream stream = sheet.OpenReadStream())
            await stream.CopyToAsync(bytes, cancellation);
        byte[] content = bytes.ToArray();
        const string wanted = "Save the sheet as CSV (UTF-8) and choose that file.";
        if (content.AsSpan().IndexOf((byte)0) >= 0)
            throw ProblemException.BadInput($"“{sheet.FileName}” is not a text file. {wanted}");
        try
        {
            return new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(content);
        }
        catch (DecoderFallbackException)
        {
            throw ProblemException.BadInput($"“{sheet.FileName}” is not UTF-8 text. {wanted}");
        }
    }
}
