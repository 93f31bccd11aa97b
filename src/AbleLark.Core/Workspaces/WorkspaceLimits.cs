namespace AbleLark.Core.Workspaces;

/// <summary>How much one workspace may hold, and be asked for at once: far above any real plan, and low enough that no answer takes
/// long.</summary>
public static class WorkspaceLimits
{
    public const int Slots = 600;
    public const int Categories = 200;
    public const int Channels = 100;
    public const int Posts = 100_000;

    /// <summary>Most days of the line-up in one answer.</summary>
    public const int LineUpDays = 92;

    /// <summary>Bounds in words, for the API's document.</summary>
    public static string Words =>
        $"A workspace holds at most {Slots} slots, {Categories} categories, {Channels} channels and {Posts:N0} posts, and as many "
        + "gigabytes of media as the server's settings say (20 unless set). "
        + $"Dates in bodies lie between {DateBounds.Earliest:uuuu-MM-dd} and {DateBounds.YearsAhead} years ahead; "
        + $"the line-up is given for up to {LineUpDays} days at once.";
}
