using AbleLark.Core.Content;
using AbleLark.Core.Media;
using NetVips;

namespace AbleLark.Server.Media;

/// <summary>A picture that is being worked on, or several of the same size that are shown one after the other, one below the other in
/// <paramref name="image"/>.</summary>
/// <param name="image">Turned as it is to be seen, in sRGB.</param>
/// <param name="frames">How many there are.</param>
internal sealed class Film(Image image, int frames) : IDisposable
{
    /// <summary>What of a moving picture's file says how it moves.</summary>
    private static readonly string[] Motion = ["delay", "loop", "gif-delay", "gif-loop"];

    private int Width => image.Width;

    private int Height => image.Height / frames;

    /// <summary>Opens a file so that all those recipes can be made of it.</summary>
    public static Film Open(string path, string kind, IReadOnlyList<Recipe> recipes)
    {
        // A small picture of the whole needs no more of a large file than the reader can give it small.
        if (recipes.All(r => r is { Crop: null, MostSide: not null, IsStill: true }))
        {
            int side = recipes.Max(r => r.MostSide!.Value);
            return new(Image.Thumbnail(path, side, height: side, size: Enums.Size.Down, failOn: Enums.FailOn.Truncated).CopyMemory(), 1);
        }
        bool movesOn = recipes.Any(r => !r.IsStill);
        using Image opened = VipsFiles.Open(path, kind);
        int frames = VipsFiles.SizeOf(opened).Frames;
        if (frames > 1 && !movesOn)
        {
            using Image first = opened.ExtractArea(0, 0, opened.Width, opened.Height / frames);
            return new(InUsualColours(first).CopyMemory(), 1);
        }
        // Read once and kept: turning goes through it in another order than the file has.
        using Image whole = opened.CopyMemory();
        using Image turned = frames == 1 ? whole.Autorot() : whole.Copy();
        return new(InUsualColours(turned), frames);
    }

    /// <summary>What a recipe gives of it.</summary>
    public Film By(Recipe recipe)
    {
        Film part = recipe.IsStill && frames > 1 ? new(image.ExtractArea(0, 0, Width, Height), 1) : new(image.Copy(), frames);
        if (recipe.Crop is { } crop)
            part = part.Then(f => f.Cut(crop));
        int longest = Math.Max(part.Width, part.Height);
        return recipe.MostSide is { } most && longest > most ? part.Then(f => f.Scaled((double)most / longest)) : part;
    }

    public Film Scaled(double scale) =>
        scale >= 1 ? new(image.Copy(), frames) : EachFrame(f => f.Resize(Math.Max(scale, 1.0 / Math.Min(Width, Height))));

    /// <summary>Writes it with nothing but the picture: no EXIF, no XMP, no place.</summary>
    /// <param name="quality">Of 100; for kinds that have one.</param>
    /// <param name="effort">Take more time to make it light.</param>
    public void Save(string path, string kind, int quality, bool effort)
    {
        using Image opaque = kind == FileKinds.Jpeg && image.HasAlpha() ? image.Flatten(background: [255]) : image.Copy();
        int? page = frames > 1 ? Height : null;
        switch (kind)
        {
            case FileKinds.Jpeg:
                opaque.Jpegsave(path, q: quality, optimizeCoding: effort, keep: Enums.ForeignKeep.None);
                break;
            case FileKinds.Png:
                opaque.Pngsave(path, compression: effort ? 9 : 6, keep: Enums.ForeignKeep.None);
                break;
            case FileKinds.WebP:
                opaque.Webpsave(path, q: quality, keep: Enums.ForeignKeep.None, pageHeight: page);
                break;
            default:
                opaque.Gifsave(path, keep: Enums.ForeignKeep.None, pageHeight: page);
                break;
        }
    }

    public void Dispose() => image.Dispose();

    private Film Cut(Crop crop)
    {
        (int left, int top) = (Math.Clamp(crop.X, 0, Width - 1), Math.Clamp(crop.Y, 0, Height - 1));
        (int across, int down) = (Math.Clamp(crop.Width, 1, Width - left), Math.Clamp(crop.Height, 1, Height - top));
        return EachFrame(f => f.ExtractArea(left, top, across, down));
    }

    private Film EachFrame(Func<Image, Image> change)
    {
        if (frames == 1)
            return new(change(image), 1);
        Image[] all = [.. Enumerable.Range(0, frames).Select(i => Frame(i))];
        Image joined = Image.Arrayjoin(all, across: 1);
        int page = joined.Height / frames;
        using Image bare = joined;
        Image whole = bare.Mutate(m =>
        {
            m.Set(GValue.GIntType, "page-height", page);
            foreach (string name in Motion.Where(n => image.Contains(n)))
                m.Set(name, image.Get(name));
        });
        foreach (Image frame in all)
            frame.Dispose();
        return new(whole, frames);

        Image Frame(int i)
        {
            using Image frame = image.ExtractArea(0, i * Height, Width, Height);
            return change(frame);
        }
    }

    private Film Then(Func<Film, Film> change)
    {
        using (this)
            return change(this);
    }

    /// <summary>Colours as screens take them that know no others: a picture keeps no profile of its own.</summary>
    private static Image InUsualColours(Image picture) =>
        picture.Contains("icc-profile-data") ? picture.IccTransform("srgb", embedded: true, depth: 8)
        : picture.Interpretation is Enums.Interpretation.Cmyk or Enums.Interpretation.Rgb16 or Enums.Interpretation.Grey16
            ? picture.Colourspace(Enums.Interpretation.Srgb)
        : picture.Copy();
}
