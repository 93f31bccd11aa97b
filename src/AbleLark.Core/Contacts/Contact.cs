using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Contacts;

public enum ContactKind
{
    Person,

    /// <summary>An organisation, a place, a group.</summary>
    Page,
}

/// <summary>What somebody is called on one network.</summary>
/// <param name="Handle">Without the @.</param>
/// <param name="GoneAt">When it was found to be no longer there; null: it is, as far as is known.</param>
public sealed record ContactHandle(
    string Handle,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Instant? GoneAt = null
);

/// <summary>A person or page in the workspace's address book, so that one mention becomes the right handle on each network.</summary>
public sealed partial class Contact
{
    public const int LongestKey = 40;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Contact> Id { get; init; }

    /// <summary>How texts mention it, as @{key}: letters, digits and hyphens; unique in the workspace.</summary>
    public required string Key { get; set; }

    /// <summary>Written where it can't be mentioned.</summary>
    public required string Name { get; set; }

    public required ContactKind Kind { get; set; }

    /// <summary>By the networks' keys.</summary>
    public IReadOnlyDictionary<string, ContactHandle> Handles { get; set; } = new Dictionary<string, ContactHandle>();

    public static bool IsKey(string key) => key.Length <= LongestKey && KeyPattern().IsMatch(key);

    /// <summary>True when a text mentions it.</summary>
    public bool IsIn(string text) => text.Contains($"@{{{Key}}}", StringComparison.OrdinalIgnoreCase);

    [GeneratedRegex(@"^[\p{L}\p{Nd}]+(?:-[\p{L}\p{Nd}]+)*$", RegexOptions.CultureInvariant)]
    private static partial Regex KeyPattern();
}
