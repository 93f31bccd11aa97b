using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Server.Tests.Media;
using Microsoft.EntityFrameworkCore;
using SkiaSharp;

namespace AbleLark.Server.Tests.Workspaces;

/// <summary>What a workspace may hold holds for those, too, who ask at the same moment.</summary>
public sealed class RoomTests : IAsyncLifetime
{
    private readonly TestInstallation _installation = new() { Settings = new Dictionary<string, string> { ["Lark:MediaGigabytes"] = "1" } };

    private ApiClient Ada => _installation.Ada;

    public ValueTask InitializeAsync() => _installation.InitializeAsync();

    public ValueTask DisposeAsync() => _installation.DisposeAsync();

    [Theory]
    [InlineData("calendar-feeds", 30, 40)]
    [InlineData("tokens", 20, 30)]
    public async Task So_many_as_there_is_room_for_are_made_however_many_are_asked_for_at_once(string path, int most, int asked)
    {
        (HttpStatusCode Status, string Words)[] answers = await Task.WhenAll(
            Enumerable.Range(0, asked).Select(i => Ada.TroubleAsync(HttpMethod.Post, path, BodyOf(path, i)))
        );
        Assert.All(
            answers.Where(a => a.Status != HttpStatusCode.OK),
            a => Assert.Contains("is the most", a.Words, StringComparison.Ordinal)
        );
        Assert.Equal(most, answers.Count(a => a.Status == HttpStatusCode.OK));
    }

    [Fact]
    public async Task Uploads_are_begun_for_as_many_bytes_as_there_is_room_for()
    {
        HttpStatusCode[] answers = await Task.WhenAll(Enumerable.Range(0, 12).Select(_ => BeginAsync(200L * 1024 * 1024)));
        Assert.Equal((5, 7), (answers.Count(a => a == HttpStatusCode.Created), answers.Count(a => a == HttpStatusCode.BadRequest)));
        // A small file still has its room beside them.
        Assert.Equal(HttpStatusCode.OK, (await SendAsync(SampleFiles.Quarters(SKEncodedImageFormat.Png, 40, 30))).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, await BeginAsync(30L * 1024 * 1024));
    }

    [Fact]
    public async Task One_file_that_is_sent_eight_times_at_once_is_one_file()
    {
        byte[] file = SampleFiles.Quarters(SKEncodedImageFormat.Png, 400, 300);
        HttpResponseMessage[] answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => SendAsync(file)));
        Assert.All(answers, a => Assert.Equal(HttpStatusCode.OK, a.StatusCode));
        Assert.Equal(1, await _installation.ReadAsync(db => db.Media.CountAsync()));
    }

    [Fact]
    public async Task An_upload_that_is_ended_several_times_at_once_is_ended_once()
    {
        for (int round = 0; round < 4; round++)
        {
            byte[] file = SampleFiles.Quarters(SKEncodedImageFormat.Png, 300 + round, 200);
            string at = await BegunAsync(file);
            HttpStatusCode[] answers = await Task.WhenAll(
                Enumerable.Range(0, 6).Select(async _ => (await Ada.Http.PostAsync($"{at}/media", null)).StatusCode)
            );
            Assert.Equal(1, answers.Count(a => a == HttpStatusCode.OK));
            Assert.All(answers, a => Assert.Contains(a, new[] { HttpStatusCode.OK, HttpStatusCode.Locked, HttpStatusCode.NotFound }));
        }
        Assert.Equal(4, await _installation.ReadAsync(db => db.Media.CountAsync()));
        Assert.Empty(Directory.GetFiles(Path.Combine(_installation.DataFolder, "uploads"), "*", SearchOption.AllDirectories));
    }

    private static object BodyOf(string path, int number) =>
        path == "tokens" ? new { name = $"Token {number}" } : new { name = $"Feed {number}", query = "" };

    private async Task<HttpResponseMessage> SendAsync(byte[] file) =>
        await Ada.Http.PostAsync(Ada.Path("media"), ApiClient.Form(("file", "one.png", file)));

    private async Task<HttpResponseMessage> AskToBeginAsync(long length)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, Ada.Path("uploads"));
        request.Headers.Add("Tus-Resumable", "1.0.0");
        request.Headers.Add("Upload-Length", length.ToString(System.Globalization.CultureInfo.InvariantCulture));
        request.Headers.Add("Upload-Metadata", "filename YS5wbmc=");
        return await Ada.Http.SendAsync(request);
    }

    private async Task<HttpStatusCode> BeginAsync(long length) => (await AskToBeginAsync(length)).StatusCode;

    private async Task<string> BegunAsync(byte[] file)
    {
        string at = (await AskToBeginAsync(file.Length)).Headers.Location!.OriginalString;
        using HttpRequestMessage request = new(HttpMethod.Patch, at) { Content = new ByteArrayContent(file) };
        request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/offset+octet-stream");
        request.Headers.Add("Tus-Resumable", "1.0.0");
        request.Headers.Add("Upload-Offset", "0");
        using HttpResponseMessage answer = await Ada.Http.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        return at;
    }
}
