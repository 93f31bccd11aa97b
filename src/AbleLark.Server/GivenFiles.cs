namespace AbleLark.Server;

/// <summary>Files that came with a request.</summary>
public static class GivenFiles
{
    extension(IFormFile file)
    {
        /// <summary>All of its bytes, held once.</summary>
        public async Task<byte[]> BytesAsync(CancellationToken cancellation)
        {
            byte[] bytes = new byte[file.Length];
            await using Stream stream = file.OpenReadStream();
            await stream.ReadExactlyAsync(bytes, cancellation);
            return bytes;
        }
    }
}
