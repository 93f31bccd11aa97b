using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Media;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;
using SkiaSharp;

namespace AbleLark.Server.Tests.Media;

/// <summary>Source: the protocol “tus” for resumable uploads, version 1.0.0, from memory.</summary>
public sealed class UploadTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task An_upload_goes_on_where_it_was_broken_off()
    {
        byte[] file = SampleFiles.Quarters(SKEncodedImageFormat.Png, 400, 300);
        string at = await BeginAsync(file.Length);
        Assert.Equal((HttpStatusCode.NoContent, 500), await SendAsync(at, 0, file[..500]));
        Assert.Equal(500, await OffsetAsync(at));
        // Neither from elsewhere, nor more than was announced.
        Assert.Equal(HttpStatusCode.Conflict, (await SendAsync(at, 400, file[400..])).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await SendAsync(at, 500, [.. file[500..], 1])).Status);
        Assert.Equal(HttpStatusCode.Conflict, (await EndAsync(await BeginAsync(10))).Status);
        int come = await OffsetAsync(at);
        Assert.Equal((HttpStatusCode.NoContent, file.Length), await SendAsync(at, come, file[come..]));
        (HttpStatusCode status, JsonElement made) = await EndAsync(at);
        Assert.Equal((HttpStatusCode.OK, 400, "Dün & Co.png"), (status, made.Whole("width"), made.Text("fileName")));
        Assert.Equal(HttpStatusCode.NotFound, (await EndAsync(at)).Status);
    }

    [Fact]
    public async Task A_cancelled_upload_is_gone_and_a_refused_one_says_why()
    {
        string at = await BeginAsync(100);
        using HttpResponseMessage dropped = await AskAsync(HttpMethod.Delete, at);
        Assert.Equal(HttpStatusCode.NoContent, dropped.StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await AskAsync(HttpMethod.Head, at)).StatusCode);

        byte[] cut = Mp4File.Of(720, 1280, 9)[..^5];
        string video = await BeginAsync(cut.Length);
        await SendAsync(video, 0, cut);
        (HttpStatusCode status, JsonElement said) = await EndAsync(video);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("“Dün & Co.png” is cut off", said.Text("detail"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("300000000", "1.0.0", HttpStatusCode.RequestEntityTooLarge)]
    [InlineData("-4", "1.0.0", HttpStatusCode.BadRequest)]
    [InlineData("0", "1.0.0", HttpStatusCode.BadRequest)]
    [InlineData("12", "0.2", HttpStatusCode.PreconditionFailed)]
    public async Task What_can_not_be_taken_is_refused_before_it_is_sent(string length, string version, HttpStatusCode expected)
    {
        using HttpResponseMessage answer = await AskAsync(
            HttpMethod.Post,
            _ada.Path("uploads"),
            ("Upload-Length", length),
            ("Tus-Resumable", version)
        );
        Assert.Equal(expected, answer.StatusCode);
        Assert.NotEmpty((await answer.Content.ReadFromJsonAsync<JsonElement>()).Text("detail"));
    }

    [Fact]
    public async Task Nobody_else_sees_an_upload()
    {
        string at = await BeginAsync(100);
        string theirs = own.Installation.Ben.Path($"uploads/{at.Split('/')[^1]}");
        using HttpRequestMessage request = new(HttpMethod.Head, theirs);
        Assert.Equal(HttpStatusCode.NotFound, (await own.Installation.Ben.Http.SendAsync(request)).StatusCode);
    }

    private async Task<string> BeginAsync(int length)
    {
        using HttpResponseMessage begun = await AskAsync(
            HttpMethod.Post,
            _ada.Path("uploads"),
            ("Upload-Length", $"{length}"),
            ("Upload-Metadata", $"kind aW1hZ2U=,filename {Convert.ToBase64String(Encoding.UTF8.GetBytes("Dün & Co.png"))}")
        );
        Assert.Equal(HttpStatusCode.Created, begun.StatusCode);
        return begun.Headers.Location!.ToString();
    }

    private async Task<(HttpStatusCode Status, int Offset)> SendAsync(string at, int offset, byte[] piece)
    {
        using ByteArrayContent content = new(piece);
        content.Headers.ContentType = MediaTypeHeaderValue.Parse("application/offset+octet-stream");
        using HttpResponseMessage sent = await AskAsync(HttpMethod.Patch, at, content, ("Upload-Offset", $"{offset}"));
        return (sent.StatusCode, sent.IsSuccessStatusCode ? OffsetIn(sent) : 0);
    }

    private async Task<int> OffsetAsync(string at)
    {
        using HttpResponseMessage answer = await AskAsync(HttpMethod.Head, at);
        return OffsetIn(answer);
    }

    private async Task<(HttpStatusCode Status, JsonElement Body)> EndAsync(string at)
    {
        using HttpResponseMessage answer = await AskAsync(HttpMethod.Post, $"{at}/media");
        return (answer.StatusCode, await answer.Content.ReadFromJsonAsync<JsonElement>());
    }

    private static int OffsetIn(HttpResponseMessage answer) =>
        int.Parse(answer.Headers.GetValues("Upload-Offset").Single(), System.Globalization.CultureInfo.InvariantCulture);

    private Task<HttpResponseMessage> AskAsync(HttpMethod method, string path, params (string Name, string Value)[] headers) =>
        AskAsync(method, path, null, headers);

    private async Task<HttpResponseMessage> AskAsync(
        HttpMethod method,
        string path,
        HttpContent? content,
        params (string Name, string Value)[] headers
    )
    {
        using HttpRequestMessage request = new(method, path) { Content = content };
        foreach ((string name, string value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        if (!request.Headers.Contains("Tus-Resumable"))
            request.Headers.Add("Tus-Resumable", "1.0.0");
        return await _ada.Http.SendAsync(request);
    }
}

/// <summary>A disk with no room: source, the kernel's /dev/full, which refuses every byte as a full disk does.</summary>
public sealed class FullDiskTests
{
    private sealed class FullStore(IOptions<LarkSettings> settings) : IFileStore
    {
        private readonly FolderStore _real = new(settings);

        /// <summary>A link to it: whoever clears the draft away clears the link.</summary>
        public string Draft()
        {
            string draft = _real.Draft();
            File.CreateSymbolicLink(draft, "/dev/full");
            return draft;
        }

        public void Keep(string draft, string key) => _real.Keep(draft, key);

        public string? Find(string key) => _real.Find(key);

        public void MarkUsed(string key) => _real.MarkUsed(key);

        public void Remove(string key) => _real.Remove(key);

        public bool HasRoom() => false;

        public IEnumerable<KeptFile> List(string folder) => _real.List(folder);
    }

    [Fact]
    public async Task A_full_disk_is_said_in_words_and_nothing_that_was_there_is_lost()
    {
        await using TestInstallation installation = new() { Replaced = s => s.AddSingleton<IFileStore, FullStore>() };
        await installation.InitializeAsync();
        using MultipartFormDataContent form = ApiClient.Form(("file", "a.png", TestData.Png(400, 300)));
        (HttpStatusCode status, string words) = await installation.Ada.TroubleAsync(HttpMethod.Post, "media", form);
        Assert.Equal(HttpStatusCode.InsufficientStorage, status);
        Assert.Contains("no room left", words, StringComparison.Ordinal);
        Assert.Equal(0, (await installation.Ada.GetAsync("media")).Whole("total"));
    }
}
