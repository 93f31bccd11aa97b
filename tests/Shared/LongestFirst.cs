using Xunit.Sdk;
using Xunit.v3;

[assembly: TestCollectionOrderer(typeof(AbleLark.Tests.Shared.LongestFirst))]

namespace AbleLark.Tests.Shared;

/// <summary>Begins with the classes that take longest, so that none of them is left to run alone at the end. Not for the server's tests:
/// the longest of those wait for other processes, and the quick parts run beside their beginning.</summary>
internal sealed class LongestFirst : ITestCollectionOrderer
{
    private static readonly string[] Longest =
    [
        "StoryTests",
        "AccessibilityTests",
        "DeskTests",
        "CalendarTests",
        "RoughWeatherTests",
        "OracleTests",
    ];

    public IReadOnlyCollection<T> OrderTestCollections<T>(IReadOnlyCollection<T> testCollections)
        where T : ITestCollection => [.. testCollections.OrderBy(Place)];

    private static int Place<T>(T collection)
        where T : ITestCollection
    {
        int place = Array.FindIndex(Longest, name => collection.TestCollectionDisplayName.Contains($".{name} ", StringComparison.Ordinal));
        return place < 0 ? Longest.Length : place;
    }
}
