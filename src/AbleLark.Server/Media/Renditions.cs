using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Server.Problems;
using NetVips;

namespace AbleLark.Server.Media;

/// <summary>How a picture is made from a file. The same recipe of the same file always gives the same picture.</summary>
/// <param name="Crop">The part of it, in pixels as shown; null: all.</param>
/// <param name="MostSide">Longest side in pixels; it is never made larger. Null: as it is.</param>
/// <param name="MostBytes">It is made lighter until it has no more; null: any.</param>
/// <param name="IsStill">True: one picture of those that move.</param>
public sealed record Recipe(Crop? Crop = null, int? MostSide = null, long? MostBytes = null, bool IsStill = false)
{
    /// <summary>Counted up when pictures come out otherwise by the same recipe.</summary>
    private const int Version = 1;

    /// <summary>Key of what it gives among the kept files.</summary>
    public string KeyFor(string hash)
    {
        string form = string.Create(
            CultureInfo.InvariantCulture,
            $"{Version} {Crop?.X},{Crop?.Y},{Crop?.Width},{Crop?.Height} {MostSide} {MostBytes} {IsStill}"
        );
        return $"{Renditions.FolderOf(hash)}/{Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(form)).AsSpan(0, 16))}";
    }
}

/// <summary>A picture that was made.</summary>
/// <param name="Kind">Media type: that of the file it was made from.</param>
public sealed record Rendition(string Path, string Kind);

/// <summary>
/// Pictures made from the files of workspaces: turned as they are to be seen, cut, smaller; without anything that says where, when and by
/// whom they were taken. Kept by content and recipe, made again when they are lost.
/// </summary>
public sealed class Renditions(IFileStore files) : IDisposable
{
    /// <summary>Folder of all of them among the kept files.</summary>
    public const string Folder = "renditions";

    /// <summary>Pictures are opened by so many at once: each may take some hundred megabytes.</summary>
    private const int AtOnce = 2;

    /// <summary>How well pictures are written, of 100; the lesser where the better are too heavy.</summary>
    private static readonly int[] Qualities = [88, 76, 62, 48];

    /// <summary>So much smaller is each try after that.</summary>
    private const double Smaller = 0.75;

    private const int MostTries = 12;

    private readonly SemaphoreSlim _room = new(AtOnce);
    private readonly ConcurrentDictionary<string, SemaphoreSlim> _makers = new();

    /// <summary>Folder of those of one file.</summary>
    public static string FolderOf(string hash) => $"{Folder}/{hash[..2]}/{hash}";

    /// <summary>Path of the picture; null: the file that it is made from is gone, or can no longer be read.</summary>
    /// <param name="hash">Of the file's bytes.</param>
    public async Task<Rendition?> GetAsync(string hash, Recipe recipe, CancellationToken cancellation) =>
        (await GetAllAsync(hash, [recipe], cancellation))?[0];

    /// <summary>Several pictures of the same file, which is opened once for all of them.</summary>
    public async Task<IReadOnlyList<Rendition>?> GetAllAsync(string hash, IReadOnlyList<Recipe> recipes, CancellationToken cancellation)
    {
        if (Kept(hash, recipes) is { } there)
            return there;
        SemaphoreSlim maker = _makers.GetOrAdd(hash, _ => new(1));
        await maker.WaitAsync(cancellation);
        try
        {
            if (Kept(hash, recipes) is { } made)
                return made;
            if (files.Find(MediaStore.KeyOf(hash)) is not { } source)
                return null;
            await _room.WaitAsync(cancellation);
            try
            {
                await Task.Run(() => Make(hash, source, recipes), cancellation);
            }
            finally
            {
                _room.Release();
            }
            return Kept(hash, recipes);
        }
        finally
        {
            maker.Release();
            _makers.TryRemove(hash, out _);
        }
    }

    public void Dispose() => _room.Dispose();

    private List<Rendition>? Kept(string hash, IReadOnlyList<Recipe> recipes)
    {
        List<Rendition> kept = [];
        foreach (Recipe recipe in recipes)
        {
            if (files.Find(recipe.KeyFor(hash)) is not { } path || KindOf(path) is not { } kind)
                return null;
            // A day's use is noted once.
            if (File.GetLastWriteTimeUtc(path) < DateTime.UtcNow.AddDays(-1))
                files.MarkUsed(recipe.KeyFor(hash));
            kept.Add(new(path, kind));
        }
        return kept;
    }

    private static string? KindOf(string path)
    {
        using FileStream file = File.OpenRead(path);
        Span<byte> head = stackalloc byte[16];
        return FileKinds.Of(head[..file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false)]);
    }

    private void Make(string hash, string source, IReadOnlyList<Recipe> recipes)
    {
        if (KindOf(source) is not { } kind || !FileKinds.IsPicture(kind))
            return;
        try
        {
            using Film film = Film.Open(source, kind, recipes);
            foreach (Recipe recipe in recipes.Where(r => files.Find(r.KeyFor(hash)) is null))
            {
                using Film picture = film.By(recipe);
                string draft = files.Draft();
                try
                {
                    Write(picture, draft, kind, recipe.MostBytes);
                    files.Keep(draft, recipe.KeyFor(hash));
                }
                finally
                {
                    File.Delete(draft);
                }
            }
        }
        catch (VipsException) when (files.HasRoom())
        {
            // It can no longer be read: whoever asked for it hears that it isn't there.
        }
        catch (VipsException e)
        {
            throw new IOException(e.Message, ProblemHandler.NoRoomOnDisk);
        }
    }

    /// <summary>Writes it, lighter and lighter until it is light enough.</summary>
    private static void Write(Film film, string draft, string kind, long? mostBytes)
    {
        double scale = 1;
        for (int i = 0; i < MostTries; i++)
        {
            bool hasQuality = kind is FileKinds.Jpeg or FileKinds.WebP;
            int quality = Qualities[hasQuality ? Math.Min(i, Qualities.Length - 1) : 0];
            if (i > 0 && (!hasQuality || i >= Qualities.Length))
                scale *= Smaller;
            using Film smaller = film.Scaled(scale);
            smaller.Save(draft, kind, quality, effort: i > 0);
            if (mostBytes is null || new FileInfo(draft).Length <= mostBytes)
                return;
        }
    }
}
