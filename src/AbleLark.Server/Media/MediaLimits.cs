namespace AbleLark.Server.Media;

/// <summary>How much may be sent to us at once.</summary>
public static class MediaLimits
{
    public const int MostMegabytes = 20;
    public const long MostBytes = MostMegabytes * 1024L * 1024L;

    /// <summary>Most pixels of a picture that is opened: more would fill the memory of the server.</summary>
    public const long MostPixels = 60_000_000;
}
