using System.Security.Cryptography;
using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Media;

/// <summary>Keeps files once by their content, and a row of each for the workspace it belongs to.</summary>
public sealed class MediaStore(LarkDb db, IFileStore files, BusinessClock clock, IOptions<LarkSettings> settings)
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

    /// <summary>Reads a file to its end, looks into it and keeps it; the caller saves. The same file twice is kept once.</summary>
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
    public async Task<MediaFile> AddDraftAsync(Id<Workspace> workspace, string fileName, string draft, CancellationToken cancellation)
    {
        string name = NameOf(fileName);
        string hash = await HashAsync(draft, cancellation);
        // Whatever was read from the same bytes once holds for any name and workspace.
        MediaFile? known = await db
            .Media.Where(m => m.WorkspaceId == workspace && m.Hash == hash)
            .OrderByDescending(m => m.FileName == name)
            .FirstOrDefaultAsync(cancellation);
        if (known is not null && files.Find(KeyOf(hash)) is not null)
        {
            // Sent once more is wanted once more.
            known.RemovedAt = null;
            return known;
        }
        FileFacts facts = FileFactsReader.Read(draft, name);
        long length = new FileInfo(draft).Length;
        await CheckRoomAsync(workspace, length, cancellation);
        files.Keep(draft, KeyOf(hash));
        if (known is not null)
            return known;
        MediaFile file = new()
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
        db.Media.Add(file);
        return file;
    }

    /// <summary>Keeps a picture that stands for a video.</summary>
    public async Task SetPosterAsync(MediaFile video, Stream bytes, CancellationToken cancellation)
    {
        string draft = files.Draft();
        try
        {
            await using (FileStream to = File.Create(draft))
                await bytes.CopyToAsync(to, cancellation);
            if (!FileKinds.IsPicture(FileFactsReader.Read(draft, video.FileName).Kind))
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

    /// <exception cref="ProblemException">The workspace would hold more than it may.</exception>
    public async Task CheckRoomAsync(Id<Workspace> workspace, long more, CancellationToken cancellation)
    {
        long there = await db
            .Media.Where(m => m.WorkspaceId == workspace)
            .Select(m => new { m.Hash, m.Bytes })
            .Distinct()
            .SumAsync(m => m.Bytes, cancellation);
        if (there + more > settings.Value.MediaGigabytes * 1024L * 1024 * 1024)
            throw ProblemException.BadInput(
                $"The workspace holds {settings.Value.MediaGigabytes} GB of files, which is the most. Take out what is no longer used."
            );
    }

    private static async Task<string> HashAsync(string path, CancellationToken cancellation)
    {
        await using FileStream file = File.OpenRead(path);
        return Convert.ToHexStringLower(await SHA256.HashDataAsync(file, cancellation));
    }
}
