namespace AbleLark.StandIns;

/// <summary>What the networks mind about files: their own check, written apart from the application's.</summary>
internal static class MediaChecker
{
    /// <summary>Why the network won't have those files; null when it will.</summary>
    /// <param name="facts">Of the files, in their order.</param>
    public static string? Refusal(StandInNetwork network, IReadOnlyList<MediaFacts> facts)
    {
        int pictures = facts.Count(f => f.Kind.StartsWith("image/", StringComparison.Ordinal));
        int videos = facts.Count(f => f.Kind.StartsWith("video/", StringComparison.Ordinal));
        int documents = facts.Count - pictures - videos;
        if ((pictures > 0 ? 1 : 0) + videos + documents > 1)
            return "Pictures, or one video, or one document.";
        if (pictures > network.MostPictures)
            return $"{pictures} pictures, {network.MostPictures} is the most.";
        if (videos > 0 && network.Video is null)
            return "No videos here.";
        if (documents > 0 && network.Document is null)
            return "No documents here.";
        for (int i = 0; i < facts.Count; i++)
        {
            if (OfOne(network, facts[i]) is { } refusal)
                return refusal;
        }
        return null;
    }

    private static string? OfOne(StandInNetwork network, MediaFacts file)
    {
        if (file.Kind.StartsWith("image/", StringComparison.Ordinal))
            return network.Picture is { } terms ? OfPicture(terms, file) : null;
        if (network.Video is { } video && file.Kind.StartsWith("video/", StringComparison.Ordinal))
            return OfVideo(video, file);
        if (network.Document is not { } document)
            return null;
        if (file.Kind != "application/pdf" || file.Bytes > document.MostBytes)
            return "Not such a document.";
        return file.Pages > document.MostPages ? $"{file.Pages} pages, {document.MostPages} is the most." : null;
    }

    private static string? OfPicture(PictureTerms terms, MediaFacts file)
    {
        if (!terms.Kinds.Contains(file.Kind["image/".Length..]))
            return "Not such a picture.";
        if (file.Bytes > terms.MostBytes)
            return "The picture is too heavy.";
        if (file.Width < terms.LeastWidth || file.Height < terms.LeastHeight)
            return "The picture is too small.";
        decimal shape = (decimal)file.Width / file.Height;
        return shape < (decimal)terms.Narrowest || shape > (decimal)Math.Min(terms.Widest, 1e9) ? "The picture has not the shape." : null;
    }

    private static string? OfVideo(VideoTerms terms, MediaFacts file)
    {
        if (file.Kind != "video/mp4" || file.Bytes > terms.MostBytes)
            return "Not such a video.";
        if (file.Seconds < terms.Shortest || file.Seconds > terms.Longest)
            return $"From {terms.Shortest} to {terms.Longest} seconds.";
        double shape = (double)file.Width / file.Height;
        return terms.IsUpright && (shape < 0.55 || shape > 0.575) ? "Upright videos only." : null;
    }
}
