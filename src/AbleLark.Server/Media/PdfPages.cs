using System.IO.Compression;
using AbleLark.Server.Problems;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Exceptions;
using UglyToad.PdfPig.Filters;
using UglyToad.PdfPig.Tokens;

namespace AbleLark.Server.Media;

/// <summary>Counts the pages of a PDF, and unpacks no more of it than is sensible for that.</summary>
internal static class PdfPages
{
    private const int MostPages = 5_000;

    /// <exception cref="ProblemException">It is locked, damaged or not to be read; in words.</exception>
    public static int Count(Stream file, string name)
    {
        try
        {
            file.Position = 0;
            using PdfDocument document = PdfDocument.Open(
                file,
                new ParsingOptions { FilterProvider = new BoundedFilters(), UseLenientParsing = false }
            );
            if (document.IsEncrypted)
                throw Locked(name);
            int pages = document.NumberOfPages;
            return pages is > 0 and <= MostPages
                ? pages
                : throw ProblemException.BadInput($"“{name}” has {pages:N0} pages. A document has between 1 and {MostPages:N0}.");
        }
        catch (PdfDocumentEncryptedException)
        {
            throw Locked(name);
        }
        // Its reader has no single kind of failure: whatever a damaged file makes it run into, the file is at fault.
        catch (Exception e) when (e is not (ProblemException or OutOfMemoryException or OperationCanceledException))
        {
            throw ProblemException.BadInput($"“{name}” is cut off or damaged. Take it from where it came from once more.");
        }
    }

    private static ProblemException Locked(string name) =>
        ProblemException.BadInput($"“{name}” is locked with a password. Save it without one and try again.");

    /// <summary>The usual filters, up to so many bytes in all.</summary>
    private sealed class BoundedFilters : IFilterProvider
    {
        /// <summary>Most bytes that one file unpacks to while its pages are counted.</summary>
        private const long Most = 64 * 1024 * 1024;

        /// <summary>Most packed bytes for other ways of packing than the usual one.</summary>
        private const int MostOfOthers = 256 * 1024;

        private long _unpacked;

        public IReadOnlyList<IFilter> GetFilters(DictionaryToken dictionary) =>
            Bound(DefaultFilterProvider.Instance.GetFilters(dictionary));

        public IReadOnlyList<IFilter> GetNamedFilters(IReadOnlyList<NameToken> names) =>
            Bound(DefaultFilterProvider.Instance.GetNamedFilters(names));

        public IReadOnlyList<IFilter> GetAllFilters() => Bound(DefaultFilterProvider.Instance.GetAllFilters());

        private List<IFilter> Bound(IReadOnlyList<IFilter> filters) => [.. filters.Select(f => new Bounded(f, this))];

        private sealed class Bounded(IFilter filter, BoundedFilters all) : IFilter
        {
            public bool IsSupported => filter.IsSupported;

            public Memory<byte> Decode(
                Memory<byte> input,
                DictionaryToken streamDictionary,
                IFilterProvider filterProvider,
                int filterIndex
            )
            {
                if (filter is FlateFilter)
                    all.CountUnpacked(input);
                else if (input.Length > MostOfOthers)
                    throw new InvalidDataException("A part is packed in a way that is not unpacked here.");
                return filter.Decode(input, streamDictionary, filterProvider, filterIndex);
            }
        }

        private void CountUnpacked(ReadOnlyMemory<byte> input)
        {
            using MemoryStream packed = new(input.ToArray());
            using ZLibStream stream = new(packed, CompressionMode.Decompress);
            byte[] some = new byte[64 * 1024];
            int read;
            while ((read = stream.Read(some)) > 0)
            {
                if ((_unpacked += read) > Most)
                    throw new InvalidDataException("It unpacks to more than any document's pages need.");
            }
        }
    }
}
