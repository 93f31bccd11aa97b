using System.Security.Cryptography;
using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Media;

/// <summary>Keeps files once by their content, and a row of each for the workspace it belongs to.</summary>
public sealed class MediaStore(LarkDb db, IFileStore files, HeavyReading heavy, BusinessClock clock, IOptions<LarkSettings> settings)
{
    /// <summary>Folder of all of them among the kept files.</summary>
    public const string Folder = "media";

    private const int LongestName = 200;

    /// <summary>Key of a file's bytes among the kept files.</summary>
    public static string KeyOf(string hash) => $"{Folder}/{hash[..2]}/{hash}";

    /// <summary>A name as it is kept: without folders, and no longer than it needs to be.</summary>
    public static string NameOf(string fileName)
    {
        string name = Path.GetFileName(fileName.Replace("\0", "", StringComparison.Ordinal).Replace('\\', '/')).Trim();
        return name.Length == 0 ? "unnamed"
            : name.Length > LongestName ? name[^LongestName..]
            : name;
    }

    /// <summary>Reads a file to its end, looks into it, keeps it and saves its row. The same file twice is kept once.</summary>
    /// <exception cref="ProblemException">It is too large, damaged, or nothing that networks take.</exception>
    public async Task<MediaFile> AddAsync(Id<Workspace> workspace, string fileName, Stream bytes, CancellationToken cancellation)
    {
        string draft = files.Draft();
        try
        {
            await using (FileStream to = File.Create(draft))
                await bytes.CopyToAsync(to, cancellation);
            return await AddDraftAsync(workspace, fileName, draft, cancellation);
        }
        finally
        {
            File.Delete(draft);
        }
    }

    /// <summary>The same of a file that lies in a draft, which is moved away.</summary>
    /// <param name="reserved">Bytes that were set aside for it when it began to come.</param>
    public async Task<MediaFile> AddDraftAsync(
        Id<Workspace> workspace,
        string fileName,
        string draft,
        CancellationToken cancellation,
        long reserved = 0
    )
    {
        string name = NameOf(fileName);
        string hash = await HashAsync(draft, cancellation);
        MediaFile? known = await KnownAsync(workspace, hash, name, cancellation);
        // Whatever was read from the same bytes once holds for any name and workspace. Nobody waits for the lock while it is read.
        FileFacts? facts =
            known is not null && files.Find(KeyOf(hash)) is not null ? null : await FactsAsync(workspace, draft, name, cancellation);
        await using AloneInWorkspace alone = await db.BeginAloneAsync(workspace, cancellation);
        MediaFile? file = await KnownAsync(workspace, hash, name, cancellation);
        // Sent once more is wanted once more.
        file?.RemovedAt = null;
        if (facts is not null)
        {
            long length = new FileInfo(draft).Length;
            if (file is null)
            {
                await CheckRoomAsync(workspace, length - reserved, cancellation);
                file = await NewAsync(workspace, hash, name, length, facts, cancellation);
                db.Media.Add(file);
            }
            files.Keep(draft, KeyOf(hash));
        }
        await db.SaveChangesAsync(cancellation);
        await alone.CommitAsync(cancellation);
        return file ?? throw ProblemException.Conflict($"“{name}” was taken out at the same moment. Send it once more.");
    }

    private Task<MediaFile?> KnownAsync(Id<Workspace> workspace, string hash, string name, CancellationToken cancellation) =>
        db
            .Media.Where(m => m.WorkspaceId == workspace && m.Hash == hash)
            .OrderByDescending(m => m.FileName == name)
            .FirstOrDefaultAsync(cancellation);

    private async Task<FileFacts> FactsAsync(Id<Workspace> workspace, string path, string name, CancellationToken cancellation)
    {
        try
        {
            return await heavy.RunAsync(workspace, ended => FileFactsReader.Read(path, name, ended), cancellation);
        }
        catch (TooSlowException e)
        {
            throw ProblemException.BadInput($"“{name}” {e.Message}.");
        }
    }

    private async Task<MediaFile> NewAsync(
        Id<Workspace> workspace,
        string hash,
        string name,
        long length,
        FileFacts facts,
        CancellationToken cancellation
    ) =>
        new()
        {
            WorkspaceId = workspace,
            Id = Id<MediaFile>.New(),
            Hash = hash,
            FileName = name,
            Kind = facts.Kind,
            Bytes = length,
            Width = facts.Width,
            Height = facts.Height,
            Turn = facts.Turn,
            Frames = facts.Frames,
            Seconds = facts.Seconds,
            Pages = facts.Pages,
            VideoCodec = facts.VideoCodec,
            AudioCodec = facts.AudioCodec,
            AddedAt = await clock.NowAsync(cancellation),
        };

    /// <summary>Keeps a picture that stands for a video.</summary>
    public async Task SetPosterAsync(MediaFile video, Stream bytes, CancellationToken cancellation)
    {
        string draft = files.Draft();
        try
        {
            await using (FileStream to = File.Create(draft))
                await bytes.CopyToAsync(to, cancellation);
            FileFacts facts = await FactsAsync(video.WorkspaceId, draft, video.FileName, cancellation);
            if (!FileKinds.IsPicture(facts.Kind))
                throw ProblemException.BadInput("What stands for a video is a picture: PNG, JPEG or WebP.");
            string hash = await HashAsync(draft, cancellation);
            files.Keep(draft, KeyOf(hash));
            video.PosterHash = hash;
        }
        finally
        {
            File.Delete(draft);
        }
    }

    /// <summary>Looks whether there is room beside what is kept and what is coming in; the caller holds the workspace's lock.</summary>
    /// <exception cref="ProblemException">The workspace would hold more than it may.</exception>
    public async Task CheckRoomAsync(Id<Workspace> workspace, long more, CancellationToken cancellation)
    {
        long there = await db
            .Media.Where(m => m.WorkspaceId == workspace)
            .Select(m => new { m.Hash, m.Bytes })
            .Distinct()
            .SumAsync(m => m.Bytes, cancellation);
        long coming = UploadEndpoints.Announcements(workspace, files).Sum(a => a.Length);
        if (there + coming + more > settings.Value.MediaGigabytes * 1024L * 1024 * 1024)
            throw ProblemException.BadInput(
                $"The workspace holds {settings.Value.MediaGigabytes} GB of files, which is the most. Take out what is no longer used"
                    + (coming > 0 ? ", or wait for the uploads that are coming in." : ".")
            );
    }

    private static async Task<string> HashAsync(string path, CancellationToken cancellation)
    {
        await using FileStream file = File.OpenRead(path);
        return Convert.ToHexStringLower(await SHA256.HashDataAsync(file, cancellation));
    }
}
