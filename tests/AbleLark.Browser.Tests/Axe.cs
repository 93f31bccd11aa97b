using System.Text.Json;

namespace AbleLark.Browser.Tests;

/// <summary>Looks for what breaks a rule of WCAG 2.0 to 2.2, levels A and AA. Source: axe-core 4.14 (npm).</summary>
public static class Axe
{
    private static readonly Lazy<string> Script = new(() =>
        File.ReadAllText(Path.Combine(Root(), "src/web/node_modules/axe-core/axe.min.js"))
    );

    private const string Levels = "{ runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }";
    private const string Colours = "{ runOnly: { type: 'rule', values: ['color-contrast', 'link-in-text-block'] } }";

    /// <summary>What is broken on the page as it stands: all rules in the light theme, and in the dark one those that colours can
    /// break. Colours must be at rest, so reduced motion is asked for first.</summary>
    /// <param name="except">A rule that the library of an open piece breaks in form alone.</param>
    public static IReadOnlyList<string> Broken(Page page, string view, string? except = null)
    {
        List<string> broken = [];
        if (page.Run("return typeof axe === 'undefined'") is true)
            page.Run(Script.Value);
        foreach ((string theme, string rules) in new[] { ("light", Levels), ("dark", Colours) })
        {
            page.Run("document.documentElement.dataset.theme = arguments[0]", theme);
            string? found =
                page.RunAsync(
                    $$"""
                    const done = arguments[arguments.length - 1];
                    axe.run({{rules}}).then((r) => done(JSON.stringify(
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
