using System.Globalization;
using System.Text;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Mvc;

namespace AbleLark.Server.Media;

/// <summary>
/// Files that come in pieces, by the open protocol for resumable uploads “tus”, version 1.0.0 (core, creation, termination): an upload
/// can be paused, broken off and gone on with, also after a restart and at another process. What has come whole becomes a file of the
/// workspace by an address of our own, which says what was wrong with it.
/// </summary>
public static class UploadEndpoints
{
    private const string Version = "1.0.0";

    /// <summary>Folder of all of them among the kept files.</summary>
    public const string Folder = "uploads";

    /// <summary>Most uploads that a workspace has begun and not ended.</summary>
    private const int MostUnfinished = 200;

    private const string PieceType = "application/offset+octet-stream";

    /// <summary>Beside the bytes of an upload.</summary>
    public sealed record Announced(string Name, long Length);

    /// <summary>What is coming in, each upload as long as something of it came within a day.</summary>
    public static IEnumerable<Announced> Announcements(Id<Workspace> workspace, IFileStore files)
    {
        DateTime fresh = DateTime.UtcNow - Reserved;
        List<KeptFile> kept = [.. files.List($"{Folder}/{workspace}")];
        HashSet<string> alive = [.. kept.Where(f => f.UsedAt > fresh).Select(f => Path.GetFileNameWithoutExtension(f.Key))];
        return
        [
            .. kept.Where(f => f.Key.EndsWith(About, StringComparison.Ordinal))
                .Where(f => alive.Contains(Path.GetFileNameWithoutExtension(f.Key)))
                .Select(f => files.Find(f.Key))
                .OfType<string>()
                .Select(Read)
                .OfType<Announced>(),
        ];
    }

    private static readonly TimeSpan Reserved = TimeSpan.FromDays(1);

    private const string About = ".json";

    /// <summary>Held by whoever ends the upload.</summary>
    private const string Ending = ".ending";

    /// <returns>Null: it was ended or dropped meanwhile.</returns>
    private static Announced? Read(string path)
    {
        try
        {
            return JsonSerializer.Deserialize<Announced>(File.ReadAllText(path));
        }
        catch (IOException)
        {
            return null;
        }
    }

    public static void MapUploads(this RouteGroupBuilder workspace)
    {
        RouteGroupBuilder uploads = workspace.MapGroup("/uploads");
        uploads.MapPost("", BeginAsync).Needs(Right.Write);
        uploads.MapMethods("/{id}", ["HEAD"], OffsetAsync).Needs(Right.Write);
        uploads.MapPatch("/{id}", AppendAsync).Needs(Right.Write).WithMetadata(new RequestSizeLimitAttribute(MediaLimits.MostBytes));
        uploads.MapDelete("/{id}", Drop).Needs(Right.Write);
        uploads.MapPost("/{id}/media", EndAsync).Needs(Right.Write);
    }

    private static async Task<IResult> BeginAsync(
        Id<Workspace> workspaceId,
        HttpContext http,
        LarkDb db,
        IFileStore files,
        MediaStore media,
        CancellationToken cancellation
    )
    {
        DemandVersion(http);
        if (!long.TryParse(http.Request.Headers["Upload-Length"], NumberStyles.None, CultureInfo.InvariantCulture, out long length))
            throw ProblemException.BadInput("An upload says how many bytes it has, in the header Upload-Length.");
        string name = MediaStore.NameOf(NameIn(http.Request.Headers["Upload-Metadata"].ToString()));
        if (length == 0)
            throw ProblemException.BadInput($"“{name}” is empty. Choose another file.");
        if (length > MediaLimits.MostBytes)
            throw new ProblemException(
                StatusCodes.Status413PayloadTooLarge,
                $"“{name}” is larger than {MediaLimits.MostBytes / 1024 / 1024} MB. Make it smaller and try again."
            );
        Guid id = Guid.CreateVersion7();
        await using (AloneInWorkspace alone = await db.BeginAloneAsync(workspaceId, cancellation))
        {
            await media.CheckRoomAsync(workspaceId, length, cancellation);
            if (files.List($"{Folder}/{workspaceId}").Count(f => f.Key.EndsWith(About, StringComparison.Ordinal)) >= MostUnfinished)
                throw ProblemException.BadInput($"{MostUnfinished} uploads are begun and not ended. End or cancel some first.");
            KeepText(files, KeyOf(workspaceId, id) + About, JsonSerializer.Serialize(new Announced(name, length)));
            KeepText(files, KeyOf(workspaceId, id), "");
        }
        Answer(http, 0);
        http.Response.Headers.Location = $"/api/workspaces/{workspaceId}/uploads/{id}";
        return Answers.StatusCode(StatusCodes.Status201Created);
    }

    private static IResult OffsetAsync(Id<Workspace> workspaceId, Guid id, HttpContext http, IFileStore files)
    {
        (string path, Announced announced) = Find(workspaceId, id, files);
        Answer(http, new FileInfo(path).Length);
        http.Response.Headers["Upload-Length"] = announced.Length.ToString(CultureInfo.InvariantCulture);
        http.Response.Headers.CacheControl = "no-store";
        return Answers.Ok();
    }

    /// <summary>Takes the next piece. What has come of it stays, however it ends.</summary>
    private static async Task<IResult> AppendAsync(
        Id<Workspace> workspaceId,
        Guid id,
        HttpContext http,
        IFileStore files,
        CancellationToken cancellation
    )
    {
        DemandVersion(http);
        if (http.Request.ContentType != PieceType)
            throw new ProblemException(StatusCodes.Status415UnsupportedMediaType, $"A piece of an upload is sent as {PieceType}.");
        (string path, Announced announced) = Find(workspaceId, id, files);
        await using FileStream file = Open(path);
        if (
            !long.TryParse(http.Request.Headers["Upload-Offset"], NumberStyles.None, CultureInfo.InvariantCulture, out long offset)
            || offset != file.Length
        )
            throw ProblemException.Conflict(
                $"{file.Length:N0} bytes of this upload have come. Go on from there, in the header Upload-Offset."
            );
        file.Position = offset;
        byte[] some = new byte[64 * 1024];
        int read;
        while ((read = await http.Request.Body.ReadAsync(some, cancellation)) > 0)
        {
            if (file.Position + read > announced.Length)
                throw ProblemException.BadInput($"“{announced.Name}” was to have {announced.Length:N0} bytes, and more have come.");
            // Not cancelled in the middle of a write: the length of the file is what has come.
            await file.WriteAsync(some.AsMemory(0, read), CancellationToken.None);
        }
        await file.FlushAsync(CancellationToken.None);
        Answer(http, file.Position);
        return Answers.NoContent();
    }

    private static IResult Drop(Id<Workspace> workspaceId, Guid id, HttpContext http, IFileStore files)
    {
        Find(workspaceId, id, files);
        Remove(workspaceId, id, files);
        http.Response.Headers["Tus-Resumable"] = Version;
        return Answers.NoContent();
    }

    /// <summary>Looks into an upload that has come whole and makes it a file of the workspace. One that isn't taken is gone after it was
    /// said why.</summary>
    private static async Task<MediaView> EndAsync(
        Id<Workspace> workspaceId,
        Guid id,
        IFileStore files,
        MediaStore media,
        CancellationToken cancellation
    )
    {
        // Whoever comes second waits for nothing: what the first makes of it is answered to the first.
        await using FileStream only = Open(Find(workspaceId, id, files).Path + Ending, FileMode.OpenOrCreate);
        (string path, Announced announced) = Find(workspaceId, id, files);
        MediaFile file;
        await using (FileStream whole = Open(path))
        {
            if (whole.Length < announced.Length)
                throw ProblemException.Conflict(
                    $"“{announced.Name}” is not here yet: {whole.Length:N0} of {announced.Length:N0} bytes have come. Send the rest first."
                );
        }
        try
        {
            file = await media.AddDraftAsync(workspaceId, announced.Name, path, cancellation, announced.Length);
        }
        catch (ProblemException e) when (e.Status != StatusCodes.Status503ServiceUnavailable)
        {
            Remove(workspaceId, id, files);
            throw;
        }
        Remove(workspaceId, id, files);
        return MediaView.Of(file);
    }

    private static FileStream Open(string path, FileMode mode = FileMode.Open)
    {
        try
        {
            return new(path, mode, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException) when (File.Exists(path))
        {
            throw new ProblemException(StatusCodes.Status423Locked, "This upload is busy with another request. Wait for its answer.");
        }
        catch (FileNotFoundException)
        {
            throw ProblemException.NotFound("This upload");
        }
    }

    private static (string Path, Announced Announced) Find(Id<Workspace> workspace, Guid id, IFileStore files)
    {
        return
            files.Find(KeyOf(workspace, id)) is { } path
            && files.Find(KeyOf(workspace, id) + About) is { } about
            && Read(about) is { } announced
            ? (path, announced)
            : throw ProblemException.NotFound("This upload");
    }

    private static void Remove(Id<Workspace> workspace, Guid id, IFileStore files)
    {
        files.Remove(KeyOf(workspace, id));
        files.Remove(KeyOf(workspace, id) + About);
        files.Remove(KeyOf(workspace, id) + Ending);
    }

    private static string KeyOf(Id<Workspace> workspace, Guid id) => $"{Folder}/{workspace}/{id}";

    private static void KeepText(IFileStore files, string key, string text)
    {
        string draft = files.Draft();
        File.WriteAllText(draft, text);
        files.Keep(draft, key);
    }

    /// <summary>The name among pairs of a key and a value in Base64, with commas between.</summary>
    private static string NameIn(string metadata)
    {
        foreach (string pair in metadata.Split(',', StringSplitOptions.TrimEntries))
        {
            string[] parts = pair.Split(' ', 2);
            Span<byte> bytes = new byte[parts[^1].Length];
            if (parts is ["filename", _] && Convert.TryFromBase64String(parts[1], bytes, out int length))
                return Encoding.UTF8.GetString(bytes[..length]);
        }
        return "";
    }

    private static void DemandVersion(HttpContext http)
    {
        if (http.Request.Headers["Tus-Resumable"] == Version)
            return;
        http.Response.Headers["Tus-Version"] = Version;
        throw new ProblemException(
            StatusCodes.Status412PreconditionFailed,
            $"Uploads in pieces follow tus {Version}: say so in Tus-Resumable."
        );
    }

    private static void Answer(HttpContext http, long offset)
    {
        http.Response.Headers["Tus-Resumable"] = Version;
        http.Response.Headers["Upload-Offset"] = offset.ToString(CultureInfo.InvariantCulture);
    }
}
