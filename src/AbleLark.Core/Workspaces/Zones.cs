using NodaTime;

namespace AbleLark.Core.Workspaces;

/// <summary>Time zones named by people.</summary>
public static class Zones
{
    /// <summary>The IANA zone with this name, such as Europe/Dublin; null when there is none.</summary>
    public static DateTimeZone? Find(string name) => DateTimeZoneProviders.Tzdb.GetZoneOrNull(name);
}
