using System.Globalization;
using System.Net;
using System.Net.Sockets;
using AbleLark.Core.Links;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Links;

/// <summary>A page, or a picture, could not be read; in words that go on from its address.</summary>
public sealed class ReadingException(string words) : Exception(words);

/// <summary>What came from an address.</summary>
/// <param name="Address">Where it was found in the end.</param>
/// <param name="Kind">Media type that it was sent as; null: none was said.</param>
/// <param name="Charset">Of a text; null: none was said.</param>
/// <param name="IsWhole">False: it was longer than what was wanted of it.</param>
public sealed record ReadThing(Uri Address, string? Kind, string? Charset, byte[] Bytes, bool IsWhole);

/// <summary>
/// Reads from addresses that somebody typed. They lead to the open internet and nowhere else: checked by name, after each redirect, and
/// again by the number that is really connected to. So long, so much and so often at most.
/// </summary>
public sealed class SafeReading(IOptions<LarkSettings> settings) : IDisposable
{
    private const int MostRedirects = 5;

    private readonly TimeSpan _longest = TimeSpan.FromSeconds(settings.Value.LinkTimeoutSeconds);
    private readonly ListedHosts _listed = new(settings.Value.LinkHosts);

    private readonly HttpClient _http = new(
        new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            UseProxy = false,
            AutomaticDecompression = DecompressionMethods.All,
            ConnectTimeout = TimeSpan.FromSeconds(4),
            MaxResponseHeadersLength = 32,
            PooledConnectionIdleTimeout = TimeSpan.FromSeconds(5),
            ConnectCallback = (context, cancellation) => ConnectAsync(context.DnsEndPoint, new(settings.Value.LinkHosts), cancellation),
        }
    )
    {
        Timeout = Timeout.InfiniteTimeSpan,
    };

    /// <param name="most">Most bytes that are read.</param>
    /// <exception cref="ReadingException">It can't be read, or must not be.</exception>
    public async Task<ReadThing> ReadAsync(Uri address, int most, string accept, CancellationToken cancellation)
    {
        using CancellationTokenSource time = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        time.CancelAfter(_longest);
        try
        {
            for (int i = 0; i <= MostRedirects; i++)
            {
                using HttpRequestMessage request = new(HttpMethod.Get, Checked(address));
                request.Headers.TryAddWithoutValidation("Accept", accept);
                request.Headers.TryAddWithoutValidation("User-Agent", "AbleLark-links/1.0");
                using HttpResponseMessage answer = await _http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, time.Token);
                if ((int)answer.StatusCode is >= 300 and < 400 && answer.Headers.Location is { } next)
                {
                    address = new Uri(address, next);
                    continue;
                }
                if (!answer.IsSuccessStatusCode)
                    throw new ReadingException(
                        string.Create(CultureInfo.InvariantCulture, $"answers that it isn't there ({(int)answer.StatusCode})")
                    );
                (byte[] bytes, bool isWhole) = await ReadAsync(answer.Content, most, time.Token);
                return new(
                    address,
                    answer.Content.Headers.ContentType?.MediaType?.ToLowerInvariant(),
                    answer.Content.Headers.ContentType?.CharSet?.Trim('"'),
                    bytes,
                    isWhole
                );
            }
            throw new ReadingException($"leads on and on: more than {MostRedirects} times");
        }
        catch (OperationCanceledException) when (!cancellation.IsCancellationRequested)
        {
            throw new ReadingException($"took longer than {_longest.TotalSeconds:0} seconds");
        }
        catch (HttpRequestException e) when (e.InnerException is ReadingException inner)
        {
            throw inner;
        }
        catch (Exception e) when (e is HttpRequestException or IOException or InvalidDataException or UriFormatException)
        {
            throw new ReadingException("can't be reached");
        }
    }

    public void Dispose() => _http.Dispose();

    private Uri Checked(Uri address)
    {
        if (address.Scheme != Uri.UriSchemeHttp && address.Scheme != Uri.UriSchemeHttps)
            throw new ReadingException("leads to something that is no page of the web");
        if (!address.IsDefaultPort)
            throw new ReadingException("leads to a door of a machine that isn't the web's: only the usual ports are read");
        if (address.UserInfo.Length > 0)
            throw new ReadingException("has a name or password in it. Leave that out");
        // A sample site has no certificate.
        return _listed.Find(address.IdnHost) is null ? address : new UriBuilder(address) { Scheme = Uri.UriSchemeHttp, Port = 80 }.Uri;
    }

    private static async Task<(byte[] Bytes, bool IsWhole)> ReadAsync(HttpContent content, int most, CancellationToken cancellation)
    {
        await using Stream stream = await content.ReadAsStreamAsync(cancellation);
        using MemoryStream read = new();
        byte[] some = new byte[32 * 1024];
        int count;
        while ((count = await stream.ReadAsync(some, cancellation)) > 0)
        {
            read.Write(some, 0, (int)Math.Min(count, most - read.Length));
            if (read.Length >= most)
                return (read.ToArray(), false);
        }
        return (read.ToArray(), true);
    }

    /// <summary>Connects to a host by a number that was looked at, so that no later answer to the same name leads elsewhere.</summary>
    private static async ValueTask<Stream> ConnectAsync(DnsEndPoint host, ListedHosts listed, CancellationToken cancellation)
    {
        IPEndPoint[] ends = listed.Find(host.Host) is { } known
            ? [known]
            : [.. (await AddressesAsync(host.Host, cancellation)).Where(PublicAddress.Is).Select(a => new IPEndPoint(a, host.Port))];
        if (ends.Length == 0)
            throw new ReadingException("leads to a machine that isn't on the open internet, and such are not read from here");
        Socket socket = new(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(ends[0], cancellation);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    private static async Task<IPAddress[]> AddressesAsync(string host, CancellationToken cancellation)
    {
        try
        {
            return IPAddress.TryParse(host.Trim('[', ']'), out IPAddress? number)
                ? [number]
                : await Dns.GetHostAddressesAsync(host, cancellation);
        }
        catch (SocketException)
        {
            throw new ReadingException("can't be reached: nobody knows that name");
        }
    }
}
