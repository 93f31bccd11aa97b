using System.Globalization;
using System.Text.RegularExpressions;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Links;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>A post for each picture, or each link, of a category.</summary>
/// <param name="Media">Pictures or films of the workspace, in their order; or</param>
/// <param name="Links">addresses of pages.</param>
/// <param name="Title">Pattern of the titles: {name}, {number} and {date} stand for the file's name, its place, the date on which it was
/// taken; for pages {title}, {description} and {link}.</param>
/// <param name="Text">Pattern of the texts, likewise.</param>
public sealed record MakingRequest(
    IReadOnlyList<Id<MediaFile>>? Media,
    IReadOnlyList<string>? Links,
    [property: System.ComponentModel.DataAnnotations.StringLength(120)] string Category,
    [property: System.ComponentModel.DataAnnotations.StringLength(300)] string Title,
    [property: System.ComponentModel.DataAnnotations.StringLength(2_000)] string Text
);

/// <summary>Makes sheets of what is no sheet yet: of pictures, and of links. From there on they are imports like any other.</summary>
public sealed partial class SheetMaking(LarkDb db, MediaStore media, IFileStore files, LinkReader pages, SafeReading reading)
{
    private const int MostFiles = 500;
    private const int MostLinks = 100;
    private const int PagesAtOnce = 4;
    private const int MostPictureBytes = 20 * 1024 * 1024;

    private static readonly string[] Headers =
    [
        ImportTargets.NameOf(RowField.Title),
        ImportTargets.NameOf(RowField.Category),
        "Text",
        "Link",
        "Pictures",
        "Video",
        ImportTargets.NameOf(RowField.Notes),
    ];

    private sealed record Read(string Link, string Title, string Text, ReadThing? Picture, string Trouble);

    public static void MapMaking(RouteGroupBuilder imports) => imports.MapPost("/made", MakeAsync).Needs(Right.Write);

    private static async Task<ImportStarted> MakeAsync(
        Id<Workspace> workspaceId,
        MakingRequest request,
        HttpContext http,
        SheetMaking making,
        ImportStart start,
        CancellationToken cancellation
    )
    {
        bool ofLinks = request.Links is { Count: > 0 };
        if (ofLinks == (request.Media is { Count: > 0 }))
            throw ProblemException.BadInput("Choose pictures, or write links: one kind at a time.");
        List<IReadOnlyList<string>> rows = ofLinks
            ? await making.OfLinksAsync(workspaceId, request, cancellation)
            : await making.OfMediaAsync(workspaceId, request, cancellation);
        (ImportRun run, _) = await start.BeginAsync(
            workspaceId,
            ofLinks ? $"{rows.Count} links" : $"{rows.Count} pictures",
            TextSheets.Write([Headers, .. rows]),
            http.Actor(),
            cancellation
        );
        return new(run.Id.Value, true, start.PassedOver);
    }

    private async Task<List<IReadOnlyList<string>>> OfMediaAsync(
        Id<Workspace> workspace,
        MakingRequest request,
        CancellationToken cancellation
    )
    {
        List<Id<MediaFile>> ids = [.. request.Media!.Distinct()];
        if (ids.Count > MostFiles)
            throw ProblemException.BadInput($"{ids.Count} files; {MostFiles} is the most at once. Choose fewer.");
        Dictionary<Id<MediaFile>, MediaFile> found = await db
            .Media.Where(m => m.WorkspaceId == workspace && ids.Contains(m.Id) && m.RemovedAt == null)
            .ToDictionaryAsync(m => m.Id, cancellation);
        if (found.Count < ids.Count)
            throw ProblemException.BadInput("One of the files isn't in this workspace, or no longer. Choose again.");
        List<IReadOnlyList<string>> rows = [];
        foreach (Id<MediaFile> id in ids)
        {
            MediaFile file = found[id];
            Dictionary<string, string> words = new()
            {
                ["name"] = NameOf(file.FileName),
                ["number"] = (rows.Count + 1).ToString(CultureInfo.InvariantCulture),
                ["date"] = TakenOn(file)?.ToString("d MMM yyyy", CultureInfo.InvariantCulture) ?? "",
            };
            bool isFilm = !FileKinds.IsPicture(file.Kind);
            rows.Add([
                Fill(request.Title, words),
                request.Category,
                Fill(request.Text, words),
                "",
                isFilm ? "" : file.FileName,
                isFilm ? file.FileName : "",
                "",
            ]);
        }
        return rows;
    }

    private async Task<List<IReadOnlyList<string>>> OfLinksAsync(
        Id<Workspace> workspace,
        MakingRequest request,
        CancellationToken cancellation
    )
    {
        string[] links = [.. request.Links!.Select(l => l.Trim()).Where(l => l.Length > 0).Distinct()];
        if (links.Length > MostLinks)
            throw ProblemException.BadInput($"{links.Length} links; {MostLinks} is the most at once. Take some out.");
        if (Array.Find(links, l => !WebAddress.IsValid(l)) is { } wrong)
            throw ProblemException.BadInput(
                $"“{(wrong.Length > 80 ? wrong[..80] : wrong)}” is not a web address. It should start with https://."
            );
        Read[] read = new Read[links.Length];
        await Parallel.ForEachAsync(
            Enumerable.Range(0, links.Length),
            new ParallelOptions { MaxDegreeOfParallelism = PagesAtOnce, CancellationToken = cancellation },
            async (i, stop) => read[i] = await ReadAsync(workspace, links[i], stop)
        );
        List<IReadOnlyList<string>> rows = [];
        foreach (Read page in read)
        {
            string picture = page.Picture is null ? "" : await TakeAsync(workspace, page, cancellation);
            Dictionary<string, string> words = new()
            {
                ["title"] = page.Title,
                ["description"] = page.Text,
                ["link"] = page.Link,
                ["number"] = (rows.Count + 1).ToString(CultureInfo.InvariantCulture),
            };
            rows.Add([Fill(request.Title, words), request.Category, Fill(request.Text, words), page.Link, picture, "", page.Trouble]);
        }
        return rows;
    }

    private async Task<Read> ReadAsync(Id<Workspace> workspace, string link, CancellationToken cancellation)
    {
        try
        {
            PageSummary page = await pages.ReadAsync(workspace, new(link), cancellation);
            ReadThing? picture = page.Pictures.Count == 0 ? null : await PictureAsync(page.Pictures[0], cancellation);
            return new(link, page.Title, page.Text, picture, "");
        }
        catch (ReadingException e)
        {
            return new(link, "", "", null, $"The page {e.Message}.");
        }
    }

    private async Task<ReadThing?> PictureAsync(string address, CancellationToken cancellation)
    {
        try
        {
            ReadThing picture = await reading.ReadAsync(new(address), MostPictureBytes, "image/*", cancellation);
            return picture.IsWhole ? picture : null;
        }
        catch (ReadingException)
        {
            // A post without its picture is better than none: the row shows that it has none.
            return null;
        }
    }

    /// <summary>Keeps a page's picture under a name of the page's own.</summary>
    private async Task<string> TakeAsync(Id<Workspace> workspace, Read page, CancellationToken cancellation)
    {
        Uri address = new(page.Link);
        string name =
            PlainPattern().Replace($"{address.Host}{address.AbsolutePath}", "-").Trim('-')
            + Path.GetExtension(page.Picture!.Address.AbsolutePath);
        try
        {
            using MemoryStream bytes = new(page.Picture.Bytes);
            MediaFile file = await media.AddAsync(workspace, name, bytes, cancellation);
            return file.FileName;
        }
        catch (ProblemException)
        {
            return "";
        }
    }

    private DateOnly? TakenOn(MediaFile file) =>
        FileKinds.IsPicture(file.Kind) && files.Find(MediaStore.KeyOf(file.Hash)) is { } path ? VipsFiles.TakenOn(path, file.Kind) : null;

    /// <summary>A file's name as words: without its ending, and with spaces between.</summary>
    private static string NameOf(string file)
    {
        string name = DividersPattern().Replace(Path.GetFileNameWithoutExtension(file), " ").Trim();
        return name.Length == 0 ? file : char.ToUpperInvariant(name[0]) + name[1..];
    }

    private static string Fill(string pattern, Dictionary<string, string> words) =>
        HolePattern().Replace(pattern, m => words.GetValueOrDefault(m.Groups[1].Value.ToLowerInvariant(), m.Value)).Trim();

    [GeneratedRegex(@"\{(\w+)\}")]
    private static partial Regex HolePattern();

    [GeneratedRegex(@"[\s_\-.]+")]
    private static partial Regex DividersPattern();

    [GeneratedRegex(@"[^\p{L}\p{N}]+")]
    private static partial Regex PlainPattern();
}
