using System.Text.Json;

namespace AbleLark.Browser.Tests;

/// <summary>Looks for what breaks a rule of WCAG 2.0 to 2.2, levels A and AA. Source: axe-core 4.14 (npm).</summary>
public static class Axe
{
    private static readonly Lazy<string> Script = new(() =>
        File.ReadAllText(Path.Combine(Root(), "src/web/node_modules/axe-core/axe.min.js"))
    );

    /// <summary>What is broken on the page as it stands, in both themes; colours must be at rest, so reduced motion is asked for
    /// first.</summary>
    /// <param name="except">A rule that the library of an open piece breaks in form alone.</param>
    public static IReadOnlyList<string> Broken(Page page, string view, string? except = null)
    {
        List<string> broken = [];
        page.Run(Script.Value);
        foreach (string theme in new[] { "light", "dark" })
        {
            page.Run("document.documentElement.dataset.theme = arguments[0]", theme);
            string? found =
                page.RunAsync(
                    """
                    const done = arguments[arguments.length - 1];
                    axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }).then((r) => done(JSON.stringify(
                      r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.target.join(' ') + ' ' + (n.any[0]?.message ??
                          '')).slice(0, 4).join(' | ')))));
                    """
                ) as string;
            broken.AddRange(
                JsonSerializer
                    .Deserialize<string[]>(found!)!
                    .Where(v => except is null || !v.StartsWith(except, StringComparison.Ordinal))
                    .Select(violation => $"{view} ({theme}): {violation}")
            );
        }
        return broken;
    }

    private static string Root()
    {
        DirectoryInfo? folder = new(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "AbleLark.slnx")))
            folder = folder.Parent;
        return folder!.FullName;
    }
}
