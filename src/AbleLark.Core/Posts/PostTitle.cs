namespace AbleLark.Core.Posts;

/// <summary>Titles of posts that nobody has named.</summary>
public static class PostTitle
{
    private const int Longest = 120;

    /// <summary>The first line of what it says, cut where that is long; empty where it says nothing.</summary>
    public static string Of(string text)
    {
        string title = text.Trim().Split('\n')[0].Trim();
        if (title.Length <= Longest)
            return title;
        int cut = Longest - 1;
        // Never half of a pair of surrogates.
        return title[..(char.IsHighSurrogate(title[cut - 1]) ? cut - 1 : cut)].TrimEnd() + "…";
    }
}
