using Microsoft.Extensions.Options;

namespace AbleLark.Server.Media;

/// <summary>A file that is kept.</summary>
/// <param name="UsedAt">When it was kept, or last marked as used.</param>
public sealed record KeptFile(string Key, DateTime UsedAt);

/// <summary>Where files are kept, by keys: parts of names with slashes between. Nothing else knows where they lie.</summary>
public interface IFileStore
{
    /// <summary>A place for a file that is still being written; on the same disk as what is kept.</summary>
    string Draft();

    /// <summary>Keeps a draft under a key, at once and whole; what was there is replaced.</summary>
    void Keep(string draft, string key);

    /// <summary>Path under which the file can be read on this machine; null: it isn't there.</summary>
    string? Find(string key);

    void MarkUsed(string key);

    /// <summary>Takes a file away; one that isn't there is no fault.</summary>
    void Remove(string key);

    /// <summary>False when hardly anything can be written any more.</summary>
    bool HasRoom();

    /// <summary>All files whose key begins with that folder.</summary>
    IEnumerable<KeptFile> List(string folder);
}

/// <summary>Files in the data folder.</summary>
public sealed class FolderStore(IOptions<LarkSettings> settings) : IFileStore
{
    /// <summary>Folder of files that are being written; what a killed process left in it is cleared after a day.</summary>
    public const string Drafts = "drafts";

    private const long LeastRoom = 32L * 1024 * 1024;

    private string Root => settings.Value.DataFolder;

    public string Draft()
    {
        string folder = Path.Combine(Root, Drafts);
        Directory.CreateDirectory(folder);
        return Path.Combine(folder, Path.GetRandomFileName());
    }

    public void Keep(string draft, string key)
    {
        string path = PathOf(key);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        // On the disk before it has its name: a file that can be found is whole, also after the power went.
        using (FileStream file = new(draft, FileMode.Open, FileAccess.Write))
            file.Flush(flushToDisk: true);
        File.Move(draft, path, overwrite: true);
    }

    public string? Find(string key) => PathOf(key) is var path && File.Exists(path) ? path : null;

    public void MarkUsed(string key)
    {
        if (Find(key) is { } path)
            File.SetLastWriteTimeUtc(path, DateTime.UtcNow);
    }

    public void Remove(string key)
    {
        if (Find(key) is { } path)
            File.Delete(path);
    }

    public bool HasRoom() => new DriveInfo(Path.GetFullPath(Root)).AvailableFreeSpace > LeastRoom;

    public IEnumerable<KeptFile> List(string folder)
    {
        string path = PathOf(folder);
        return Directory.Exists(path)
            ? Directory
                .EnumerateFiles(path, "*", SearchOption.AllDirectories)
                .Select(f => new KeptFile(
                    Path.GetRelativePath(Root, f).Replace(Path.DirectorySeparatorChar, '/'),
                    File.GetLastWriteTimeUtc(f)
                ))
            : [];
    }

    private string PathOf(string key) => Path.Combine(Root, key.Replace('/', Path.DirectorySeparatorChar));
}
