namespace AbleLark.Server.Media;

/// <summary>A file that is read only as long as somebody waits for what is in it: whatever reads it is ended by its next look.</summary>
internal sealed class WantedFile(string path, CancellationToken ended) : FileStream(path, FileMode.Open, FileAccess.Read, FileShare.Read)
{
    public override int Read(byte[] buffer, int offset, int count)
    {
        ended.ThrowIfCancellationRequested();
        return base.Read(buffer, offset, count);
    }

    public override int Read(Span<byte> buffer)
    {
        ended.ThrowIfCancellationRequested();
        return base.Read(buffer);
    }

    public override int ReadByte()
    {
        ended.ThrowIfCancellationRequested();
        return base.ReadByte();
    }
}
