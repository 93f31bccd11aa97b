using System.Buffers.Binary;
using System.Text;

namespace AbleLark.Core.Media;

/// <param name="Seconds">Length.</param>
/// <param name="Width">Pixels as shown.</param>
/// <param name="Height">Pixels as shown.</param>
/// <param name="Turn">Degrees clockwise by which the pixels are turned to be shown: 0, 90, 180 or 270.</param>
/// <param name="VideoCodec">Four characters, such as avc1 (registered with the MP4 registration authority).</param>
/// <param name="AudioCodec">Four characters, such as mp4a; null: it is silent.</param>
public sealed record Mp4Facts(double Seconds, int Width, int Height, int Turn, string VideoCodec, string? AudioCodec);

/// <summary>
/// Reads what a video is like from the boxes of its file (ISO/IEC 14496-12). It reads no more than it needs, believes no length before it
/// has compared it with the file, and looks at so many boxes at most.
/// </summary>
public sealed class Mp4Reader
{
    /// <summary>Most boxes that are looked at in one file.</summary>
    private const int MostBoxes = 20_000;

    /// <summary>Most entries of a table that are looked at.</summary>
    private const int MostEntries = 4_000_000;

    private const int MostSide = 16_384;
    private const double LongestSeconds = 24 * 60 * 60;

    private readonly Stream _file;
    private readonly byte[] _buffer = new byte[96];
    private readonly List<Track> _tracks = [];
    private int _boxes;
    private long _mediaBytes;
    private double? _movieSeconds;
    private bool _hasMovie;
    private bool _isInPieces;

    private Mp4Reader(Stream file) => _file = file;

    /// <summary>What a track says of itself.</summary>
    private sealed class Track
    {
        public string Handler { get; set; } = "";
        public double Seconds { get; set; }
        public double ShownWidth { get; set; }
        public double ShownHeight { get; set; }
        public int CodedWidth { get; set; }
        public int CodedHeight { get; set; }
        public int Turn { get; set; }
        public string Codec { get; set; } = "";
        public long SampleBytes { get; set; }
        public long LastOffset { get; set; }
    }

    /// <summary>A box: what it is called, and where its content lies.</summary>
    private readonly record struct Box(uint Type, long Start, long End)
    {
        public bool Is(ReadOnlySpan<byte> type) => Type == BinaryPrimitives.ReadUInt32BigEndian(type);
    }

    /// <param name="file">A stream that can be sought; read from its beginning.</param>
    /// <exception cref="FormatException">The file is cut off, contradicts itself, or is a kind of video that isn't read here; in
    /// words that go on from “this file”.</exception>
    public static Mp4Facts Read(Stream file)
    {
        try
        {
            return new Mp4Reader(file).Read();
        }
        catch (EndOfStreamException)
        {
            throw new FormatException("is cut off");
        }
    }

    private Mp4Facts Read()
    {
        Walk(0, _file.Length, Top);
        if (!_hasMovie)
            throw new FormatException("is cut off: what says how it is to be played is missing");
        Track video =
            _tracks.FirstOrDefault(t => t.Handler == "vide") ?? throw new FormatException("has sound or nothing, but no moving picture");
        if (_isInPieces)
            throw new FormatException("is a recording in pieces: save it as one plain MP4 first");
        double seconds = _movieSeconds is > 0 ? _movieSeconds.Value : _tracks.Max(t => t.Seconds);
        if (!(seconds > 0 && seconds <= LongestSeconds))
            throw new FormatException("doesn't say how long it lasts, or says more than a day");
        // A lie: pictures that take more room than there is, or lie outside of the file.
        if (_tracks.Sum(t => t.SampleBytes) > _mediaBytes || _tracks.Any(t => t.LastOffset >= _file.Length))
            throw new FormatException("is cut off: it speaks of more than it holds");
        if (_tracks.All(t => t.SampleBytes == 0))
            throw new FormatException("holds no moving picture");
        double width = video.ShownWidth > 0 ? video.ShownWidth : video.CodedWidth;
        double height = video.ShownHeight > 0 ? video.ShownHeight : video.CodedHeight;
        if (video.Turn is 90 or 270)
            (width, height) = (height, width);
        if (!(width is >= 1 and <= MostSide && height is >= 1 and <= MostSide))
            throw new FormatException("says nothing sensible of its size in pixels");
        return new(
            seconds,
            (int)Math.Round(width),
            (int)Math.Round(height),
            video.Turn,
            video.Codec,
            _tracks.FirstOrDefault(t => t.Handler == "soun")?.Codec
        );
    }

    private void Top(Box box)
    {
        if (box.Is("moov"u8))
        {
            if (_hasMovie)
                throw new FormatException("says twice how it is to be played");
            _hasMovie = true;
            Walk(box.Start, box.End, Movie);
        }
        else if (box.Is("mdat"u8))
            _mediaBytes += box.End - box.Start;
        else if (box.Is("moof"u8))
            _isInPieces = true;
    }

    private void Movie(Box box)
    {
        if (box.Is("mvhd"u8))
            _movieSeconds = Length(box);
        else if (box.Is("mvex"u8))
            _isInPieces = true;
        else if (box.Is("trak"u8))
        {
            Track track = new();
            _tracks.Add(track);
            Walk(box.Start, box.End, b => OfTrack(track, b));
        }
    }

    private void OfTrack(Track track, Box box)
    {
        if (box.Is("tkhd"u8))
            Header(track, box);
        else if (box.Is("mdhd"u8))
            track.Seconds = Length(box) ?? 0;
        else if (box.Is("hdlr"u8))
            track.Handler = Encoding.Latin1.GetString(At(box, 8, 4));
        else if (box.Is("stsd"u8))
            Description(track, box);
        else if (box.Is("stsz"u8))
            Sizes(track, box);
        else if (box.Is("stco"u8))
            Offsets(track, box, 4);
        else if (box.Is("co64"u8))
            Offsets(track, box, 8);
        else if (box.Is("mdia"u8) || box.Is("minf"u8) || box.Is("stbl"u8))
            Walk(box.Start, box.End, b => OfTrack(track, b));
    }

    /// <summary>Seconds, from a head that gives two dates, the units of a second, and the length in those.</summary>
    private double? Length(Box box)
    {
        bool isLong = At(box, 0, 1)[0] == 1;
        int at = 4 + (2 * (isLong ? 8 : 4));
        uint units = BinaryPrimitives.ReadUInt32BigEndian(At(box, at, 4));
        ulong length = isLong
            ? BinaryPrimitives.ReadUInt64BigEndian(At(box, at + 4, 8))
            : BinaryPrimitives.ReadUInt32BigEndian(At(box, at + 4, 4));
        bool isUnknown = length == (isLong ? ulong.MaxValue : uint.MaxValue);
        return units == 0 || isUnknown ? null : length / (double)units;
    }

    private void Header(Track track, Box box)
    {
        // Two dates, the track's number, four bytes kept free, its length; then sixteen bytes, the matrix, width and height.
        int matrix = (At(box, 0, 1)[0] == 1 ? 36 : 24) + 16;
        ReadOnlySpan<byte> read = At(box, matrix, 44);
        (int a, int b) = (BinaryPrimitives.ReadInt32BigEndian(read), BinaryPrimitives.ReadInt32BigEndian(read[4..]));
        track.Turn = (Math.Abs((long)a) >= Math.Abs((long)b), a >= 0, b >= 0) switch
        {
            (true, true, _) => 0,
            (true, false, _) => 180,
            (false, _, true) => 90,
            _ => 270,
        };
        track.ShownWidth = BinaryPrimitives.ReadUInt32BigEndian(read[36..]) / 65536.0;
        track.ShownHeight = BinaryPrimitives.ReadUInt32BigEndian(read[40..]) / 65536.0;
    }

    /// <summary>The first entry: how the samples are written, and of pictures how large they are.</summary>
    private void Description(Track track, Box box)
    {
        if (BinaryPrimitives.ReadUInt32BigEndian(At(box, 4, 4)) == 0)
            throw new FormatException("doesn't say how it is written");
        ReadOnlySpan<byte> name = At(box, 12, 4);
        foreach (byte letter in name)
        {
            if (letter is < 0x20 or > 0x7E)
                throw new FormatException("doesn't say how it is written");
        }
        track.Codec = Encoding.ASCII.GetString(name);
        if (box.End - box.Start < 8 + 36)
            return;
        ReadOnlySpan<byte> size = At(box, 8 + 32, 4);
        track.CodedWidth = BinaryPrimitives.ReadUInt16BigEndian(size);
        track.CodedHeight = BinaryPrimitives.ReadUInt16BigEndian(size[2..]);
    }

    private void Sizes(Track track, Box box)
    {
        uint same = BinaryPrimitives.ReadUInt32BigEndian(At(box, 4, 4));
        uint count = BinaryPrimitives.ReadUInt32BigEndian(At(box, 8, 4));
        if (same > 0)
            track.SampleBytes = (long)same * count;
        else
            track.SampleBytes = Each(box, 12, count, 4).Sum();
    }

    private void Offsets(Track track, Box box, int width) =>
        track.LastOffset = Each(box, 8, BinaryPrimitives.ReadUInt32BigEndian(At(box, 4, 4)), width).DefaultIfEmpty().Max();

    /// <summary>Entries of a table.</summary>
    private IEnumerable<long> Each(Box box, int at, uint count, int width)
    {
        if (count > MostEntries || box.Start + at + ((long)count * width) > box.End)
            throw new FormatException("is cut off: a table in it is longer than its place");
        byte[] some = new byte[8 * 1024];
        _file.Position = box.Start + at;
        long left = (long)count * width;
        while (left > 0)
        {
            int read = (int)Math.Min(left, some.Length);
            _file.ReadExactly(some, 0, read);
            for (int i = 0; i < read; i += width)
                yield return width == 4
                    ? BinaryPrimitives.ReadUInt32BigEndian(some.AsSpan(i))
                    : (long)Math.Min(long.MaxValue, BinaryPrimitives.ReadUInt64BigEndian(some.AsSpan(i)));
            left -= read;
        }
    }

    private ReadOnlySpan<byte> At(Box box, int offset, int length)
    {
        if (box.Start + offset + length > box.End)
            throw new FormatException("is cut off: a box in it is shorter than what it holds");
        _file.Position = box.Start + offset;
        _file.ReadExactly(_buffer, 0, length);
        return _buffer.AsSpan(0, length);
    }

    /// <summary>The boxes between two places. What is left over after the last must be too little for a box.</summary>
    private void Walk(long from, long to, Action<Box> each)
    {
        long at = from;
        byte[] head = new byte[16];
        while (to - at >= 8)
        {
            if (++_boxes > MostBoxes)
                throw new FormatException("has more parts than any video needs");
            _file.Position = at;
            _file.ReadExactly(head, 0, 8);
            long length = BinaryPrimitives.ReadUInt32BigEndian(head);
            uint type = BinaryPrimitives.ReadUInt32BigEndian(head.AsSpan(4));
            int own = 8;
            if (length == 1)
            {
                if (to - at < 16)
                    throw new FormatException("is cut off");
                _file.ReadExactly(head, 8, 8);
                length = (long)Math.Min(long.MaxValue, BinaryPrimitives.ReadUInt64BigEndian(head.AsSpan(8)));
                own = 16;
            }
            else if (length == 0 && to == _file.Length)
                length = to - at;
            if (length < own || length > to - at)
                throw new FormatException("is cut off: a box in it is longer than its place");
            each(new(type, at + own, at + length));
            at += length;
        }
    }
}
