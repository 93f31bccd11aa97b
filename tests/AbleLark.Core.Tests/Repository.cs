using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests;

/// <summary>Files of the repository that tests read.</summary>
internal static class Repository
{
    public static string Root { get; } = Find();

    public static NetworkBook Networks { get; } =
        new([.. Directory.GetFiles(Path.Combine(Root, "networks"), "*.json").Select(f => NetworkRules.Parse(File.ReadAllText(f)))]);

    private static string Find()
    {
        DirectoryInfo? folder = new(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "AbleLark.slnx")))
            folder = folder.Parent;
        return folder?.FullName ?? throw new InvalidOperationException("The repository's root was not found above the test's folder.");
    }

    public static AbleLark.Core.Media.MediaFile Picture(string name) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<AbleLark.Core.Media.MediaFile>.New(),
            Hash = name,
            FileName = name,
            Kind = "image/png",
            Bytes = 1,
            Width = 800,
            Height = 600,
        };
}
