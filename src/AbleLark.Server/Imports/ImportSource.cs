using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Sheets;

namespace AbleLark.Server.Imports;

/// <summary>Files that an import begins with: the sheet, and the media that it names.</summary>
public static class ImportSource
{
    /// <summary>Folder of sheets among the kept files.</summary>
    public const string Folder = "imports";

    /// <summary>Most bytes of one request: a sheet with its media.</summary>
    public const long MostBytes = 100L * 1024 * 1024;

    /// <summary>Most bytes that a packed file may unpack to.</summary>
    private const long MostUnpacked = 500L * 1024 * 1024;

    private const int MostFiles = 1_000;

    private static readonly string[] SheetEnds = [".csv", ".tsv", ".txt", ".tab", ".xlsx"];

    public static string KeyOf(byte[] bytes)
    {
        string hash = Convert.ToHexStringLower(SHA256.HashData(bytes));
        return $"{Folder}/{hash[..2]}/{hash}";
    }

    public static bool IsSheet(string name) => Array.Exists(SheetEnds, e => name.EndsWith(e, StringComparison.OrdinalIgnoreCase));

    /// <exception cref="SheetException">It can't be read as a sheet.</exception>
    public static SheetReading Read(byte[] bytes, SheetChoice choice, CancellationToken ended)
    {
        if (bytes.Length == 0)
            throw new SheetException("The file is empty. Choose the one that holds the posts.");
        if (Workbooks.IsOld(bytes))
            throw new SheetException("This is a workbook of the old kind (.xls). Save it as .xlsx or CSV, and choose that file.");
        if (!Workbooks.IsPacked(bytes))
            return TextSheets.Read(bytes, choice, ended);
        using MemoryStream stream = new(bytes, writable: false);
        return Workbooks.Read(stream, choice, ended);
    }

    /// <summary>Keeps the bytes of a sheet.</summary>
    public static async Task KeepAsync(IFileStore files, byte[] bytes, CancellationToken cancellation)
    {
        string key = KeyOf(bytes);
        if (files.Find(key) is not null)
            return;
        string draft = files.Draft();
        await File.WriteAllBytesAsync(draft, bytes, cancellation);
        files.Keep(draft, key);
    }

    /// <summary>Unpacks a .zip bit by bit: its one sheet, and every other file that might be media.</summary>
    /// <param name="media">Is given each other file by its name, without folders.</param>
    /// <exception cref="ProblemException">It holds no sheet, several, or more than is taken in.</exception>
    public static async Task<(string Name, byte[] Sheet)> UnpackAsync(
        Stream packed,
        string fileName,
        Func<string, Stream, Task> media,
        CancellationToken cancellation
    )
    {
        ZipArchive archive;
        try
        {
            archive = new(packed, ZipArchiveMode.Read, leaveOpen: true);
        }
        catch (InvalidDataException)
        {
            throw ProblemException.BadInput($"“{fileName}” is damaged and can't be unpacked. Pack it once more.");
        }
        using (archive)
            return await UnpackAsync(archive, fileName, media, cancellation);
    }

    private static async Task<(string Name, byte[] Sheet)> UnpackAsync(
        ZipArchive archive,
        string fileName,
        Func<string, Stream, Task> media,
        CancellationToken cancellation
    )
    {
        try
        {
            ZipArchiveEntry[] entries = [.. archive.Entries.Where(e => e.Name.Length > 0 && !IsHidden(e.FullName))];
            if (entries.Length > MostFiles)
                throw ProblemException.BadInput($"“{fileName}” holds {entries.Length:N0} files; {MostFiles:N0} is the most. Split it.");
            if (Array.Find(entries, e => IsOutside(e.FullName)) is { } outside)
                throw ProblemException.BadInput(
                    $"“{fileName}” holds a file with the path “{outside.FullName}”, which leads out of it. Pack it once more."
                );
            ZipArchiveEntry[] sheets = [.. entries.Where(e => IsSheet(e.Name))];
            if (sheets.Length != 1)
                throw ProblemException.BadInput(
                    sheets.Length == 0
                        ? $"“{fileName}” holds no sheet: no .csv, .tsv or .xlsx. Put one in beside the media."
                        : $"“{fileName}” holds {sheets.Length} sheets: {string.Join(", ", sheets.Take(4).Select(e => e.Name))}. Leave one."
                );
            long left = MostUnpacked;
            byte[] sheet = [];
            foreach (ZipArchiveEntry entry in entries)
            {
                await using Stream stream = new Bounded(entry.Open(), left);
                if (entry == sheets[0])
                {
                    if (entry.Length > SheetLimits.MostBytes)
                        throw ProblemException.BadInput(SheetLimits.TooManyBytes(entry.Length).Message);
                    using MemoryStream bytes = new();
                    await stream.CopyToAsync(bytes, cancellation);
                    sheet = bytes.ToArray();
                }
                else
                    await media(entry.Name, stream);
                left -= ((Bounded)stream).Taken;
            }
            return (sheets[0].Name, sheet);
        }
        catch (TooMuchException)
        {
            throw ProblemException.BadInput(
                $"“{fileName}” unpacks to more than {MostUnpacked / (1024 * 1024)} MB, which is the most. Split it."
            );
        }
        catch (InvalidDataException)
        {
            throw ProblemException.BadInput($"“{fileName}” is damaged and can't be unpacked. Pack it once more.");
        }
    }

    private static bool IsOutside(string path) =>
        path.StartsWith('/') || path.Contains('\\') || path.Contains(':') || path.Split('/').Contains("..");

    /// <summary>What systems put beside files.</summary>
    private static bool IsHidden(string path) =>
        path.Split('/').Any(p => p.StartsWith('.') && p != "..") || path.StartsWith("__MACOSX/", StringComparison.Ordinal);

    /// <summary>A pasted text as the bytes of a file.</summary>
    public static byte[] Pasted(string text) => Encoding.UTF8.GetBytes(text);

    /// <summary>No fault of one file among others, which would be passed over.</summary>
    private sealed class TooMuchException : Exception;

    /// <summary>Stops what unpacks to more than is taken in, whatever its head says.</summary>
    private sealed class Bounded(Stream inner, long most) : PassingStream(inner)
    {
        public long Taken { get; private set; }

        protected override void Passes(ReadOnlySpan<byte> read)
        {
            Taken += read.Length;
            if (Taken > most)
                throw new TooMuchException();
        }
    }
}
