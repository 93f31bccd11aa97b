using AbleLark.Core.Content;
using AbleLark.Core.Media;
using NetVips;

namespace AbleLark.Server.Media;

/// <summary>A file as a network gets it.</summary>
/// <param name="Width">Pixels; 0 for a document.</param>
/// <param name="Height">Pixels; 0 for a document.</param>
/// <param name="Seconds">A video's length; null: it isn't one.</param>
/// <param name="Pages">A document's; null: it isn't one.</param>
public sealed record SentFile(string Path, string Kind, int Width, int Height, double? Seconds = null, int? Pages = null);

/// <summary>Makes of the workspace's files what goes out: pictures cut and turned, light enough, and without anything that says where they
/// were taken; videos without their notes.</summary>
public sealed class SentFiles(IFileStore files, Renditions renditions)
{
    /// <param name="crop">The part of a picture; null: all.</param>
    /// <param name="mostBytes">Most that the network takes of a picture; null: any.</param>
    /// <param name="along">Further parts that will be asked for soon: they are made while the picture is open.</param>
    /// <returns>Null: the file is gone, or can't be read here any more.</returns>
    public async Task<SentFile?> FindAsync(
        MediaFile file,
        Crop? crop,
        long? mostBytes,
        IEnumerable<Crop?> along,
        CancellationToken cancellation
    )
    {
        if (FileKinds.IsPicture(file.Kind))
            return await PictureAsync(file, crop, mostBytes, along, cancellation);
        if (files.Find(MediaStore.KeyOf(file.Hash)) is not { } path)
            return null;
        return file.Kind == FileKinds.Mp4
            ? new(await WithoutNotesAsync(file, path, cancellation), file.Kind, file.Width, file.Height, file.Seconds)
            : new(path, file.Kind, 0, 0, Pages: file.Pages);
    }

    private async Task<SentFile?> PictureAsync(
        MediaFile file,
        Crop? crop,
        long? mostBytes,
        IEnumerable<Crop?> along,
        CancellationToken cancellation
    )
    {
        Recipe[] recipes = [.. along.Prepend(crop).Distinct().Select(c => new Recipe(c))];
        Rendition? made = (await renditions.GetAllAsync(file.Hash, recipes, cancellation))?[0];
        // Most networks take it as it comes, and so share it.
        if (made is not null && new FileInfo(made.Path).Length > mostBytes)
            made = await renditions.GetAsync(file.Hash, new(crop, MostBytes: mostBytes), cancellation);
        return made is null ? null : Measured(made);
    }

    private static SentFile Measured(Rendition made)
    {
        using Image picture = VipsFiles.Open(made.Path, made.Kind);
        (int width, int height, _) = VipsFiles.SizeOf(picture);
        return new(made.Path, made.Kind, width, height);
    }

    private async Task<string> WithoutNotesAsync(MediaFile video, string path, CancellationToken cancellation)
    {
        string key = $"{Renditions.FolderOf(video.Hash)}/without-notes";
        if (files.Find(key) is { } kept)
            return kept;
        await using FileStream whole = File.OpenRead(path);
        if (Mp4Privacy.Ranges(whole).Count == 0)
            return path;
        whole.Position = 0;
        string draft = files.Draft();
        try
        {
            await using (FileStream copy = new(draft, FileMode.Create, FileAccess.ReadWrite))
            {
                await whole.CopyToAsync(copy, cancellation);
                Mp4Privacy.Clear(copy);
            }
            files.Keep(draft, key);
        }
        finally
        {
            File.Delete(draft);
        }
        return files.Find(key)!;
    }
}
