using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Imports;

/// <summary>What a cell names that holds channels.</summary>
/// <param name="Networks">Named as a whole.</param>
internal sealed record NamedChannels(
    IReadOnlyList<Channel> Found,
    IReadOnlyList<string> Networks,
    IReadOnlyList<string> Unknown,
    IReadOnlyList<string> Unclear
);

/// <summary>Reads names of what a workspace has.</summary>
internal sealed class Reading
{
    private static readonly string[] Between = [",", ";", "|", "\n"];

    /// <summary>What stands between names only where it isn't part of one.</summary>
    private static readonly string[] PerhapsBetween = ["/", " + ", " & ", " and "];

    private readonly ImportContext _context;
    private readonly Dictionary<string, Category> _categories = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, string> _networks = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, Channel[]> _groups = new(StringComparer.OrdinalIgnoreCase);
    private readonly ILookup<string, Channel> _channels;

    public Reading(ImportContext context)
    {
        _context = context;
        foreach (Category category in context.Categories)
            _categories.TryAdd(category.Name, category);
        foreach (NetworkRules network in context.Networks.All)
        {
            _networks.TryAdd(network.Name, network.Key);
            _networks.TryAdd(network.Key, network.Key);
        }
        foreach (ChannelGroup group in context.Groups)
            _groups.TryAdd(group.Name, [.. context.Channels.Where(c => group.Channels.Contains(c.Id))]);
        _channels = context
            .Channels.SelectMany(c =>
                new[] { c.Name, c.Handle, "@" + c.Handle.TrimStart('@'), context.Targets.NameOf(c), c.Id.ToString() }
                    .Distinct(StringComparer.OrdinalIgnoreCase)
                    .Select(n => (Name: n, Channel: c))
            )
            .ToLookup(c => c.Name, c => c.Channel, StringComparer.OrdinalIgnoreCase);
    }

    public Category? CategoryNamed(string name) => _categories.GetValueOrDefault(name.Trim());

    /// <summary>The category whose name is nearest to a mistyped one; null: none is near.</summary>
    public Category? CategoryLike(string name)
    {
        int most = Math.Max(1, name.Length / 4);
        return _context
            .Categories.Select(c => (Category: c, Apart: Apart(c.Name.ToUpperInvariant(), name.Trim().ToUpperInvariant())))
            .Where(c => c.Apart <= most)
            .OrderBy(c => c.Apart)
            .Select(c => c.Category)
            .FirstOrDefault();
    }

    /// <summary>Networks by name or key, with commas or the like between.</summary>
    public (IReadOnlyList<string> Found, IReadOnlyList<string> Unknown) NetworksNamed(string cell)
    {
        List<string> found = [],
            unknown = [];
        foreach (string name in Parts(cell, _networks.ContainsKey))
        {
            if (_networks.TryGetValue(name, out string? key))
                found.Add(key);
            else
                unknown.Add(name);
        }
        return ([.. found.Distinct()], unknown);
    }

    /// <summary>Channels by name, handle or identity, several by the name of their group, and whole networks by theirs.</summary>
    /// <param name="networks">The networks that the row names, which tell channels of one name apart; empty: none.</param>
    public NamedChannels ChannelsNamed(string cell, IReadOnlyList<string> networks)
    {
        List<Channel> found = [];
        List<string> ofNetworks = [],
            unknown = [],
            unclear = [];
        foreach (string name in Parts(cell, n => _channels.Contains(n) || _groups.ContainsKey(n) || _networks.ContainsKey(n)))
        {
            Channel[] named = [.. _channels[name].Where(c => networks.Count == 0 || networks.Contains(c.Network))];
            if (!_channels.Contains(name) && _groups.TryGetValue(name, out Channel[]? of))
                found.AddRange(of.Where(c => networks.Count == 0 || networks.Contains(c.Network)));
            else if (!_channels.Contains(name) && _networks.TryGetValue(name, out string? network))
                ofNetworks.Add(network);
            else if (named.Length == 0)
                unknown.Add(name);
            else if (named.GroupBy(c => c.Network).Any(g => g.Count() > 1) || (named.Length > 1 && networks.Count == 0))
                unclear.Add(name);
            else
                found.AddRange(named);
        }
        return new([.. found.Distinct()], [.. ofNetworks.Distinct()], unknown, unclear);
    }

    public IReadOnlyList<string> CategoryNames(string cell) => Parts(cell, _categories.ContainsKey);

    /// <summary>A cell in its parts; whatever is a name as it stands isn't parted.</summary>
    private static string[] Parts(string cell, Func<string, bool> isName)
    {
        if (cell.Length == 0)
            return [];
        const StringSplitOptions plain = StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries;
        return isName(cell.Trim())
            ? [cell.Trim()]
            : [.. cell.Split(Between, plain).SelectMany(p => isName(p) ? [p] : p.Split(PerhapsBetween, plain))];
    }

    /// <summary>Letters to be put in, taken out or changed (Levenshtein 1965).</summary>
    private static int Apart(string a, string b)
    {
        int[] row = [.. Enumerable.Range(0, b.Length + 1)];
        for (int i = 1; i <= a.Length; i++)
        {
            (int corner, row[0]) = (row[0], i);
            for (int j = 1; j <= b.Length; j++)
            {
                int above = row[j];
                row[j] = Math.Min(Math.Min(row[j] + 1, row[j - 1] + 1), corner + (a[i - 1] == b[j - 1] ? 0 : 1));
                corner = above;
            }
        }
        return row[b.Length];
    }
}
