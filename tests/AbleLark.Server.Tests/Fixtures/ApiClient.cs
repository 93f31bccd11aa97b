using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Data;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Somebody signed in, who speaks to the API of one workspace.</summary>
public sealed class ApiClient : IDisposable
{
    private ApiClient(HttpClient http, CookieContainer cookies, Guid workspace)
    {
        (Http, Cookies, Workspace) = (http, cookies, workspace);
    }

    public HttpClient Http { get; }
    public CookieContainer Cookies { get; }
    public Guid Workspace { get; }

    public static async Task<ApiClient> SignInAsync(TestInstallation installation, string email)
    {
        CookieContainer cookies = new();
        HttpClient http = new(new HttpClientHandler { AllowAutoRedirect = false, CookieContainer = cookies })
        {
            BaseAddress = new(installation.Address),
        };
        using HttpResponseMessage signedIn = await http.PostAsJsonAsync("/api/session", new { email, password = Databases.Password });
        Assert.Equal(HttpStatusCode.OK, signedIn.StatusCode);
        JsonElement session = await http.GetFromJsonAsync<JsonElement>("/api/session");
        return new(http, cookies, session.GetProperty("workspaces")[0].Id());
    }

    /// <summary>The same person, signed in, at another server of the installation.</summary>
    public ApiClient At(string address) =>
        new(
            new(new HttpClientHandler { AllowAutoRedirect = false, CookieContainer = Cookies }) { BaseAddress = new(address) },
            Cookies,
            Workspace
        );

    /// <summary>A script of the same person, let in for some rights.</summary>
    public async Task<ApiClient> ScriptAsync(params string[] rights)
    {
        string name = string.Join(" and ", rights);
        HttpClient http = new() { BaseAddress = Http.BaseAddress };
        string token = (await PostAsync("tokens", new { name, rights })).Text("token");
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return new(http, new(), Workspace);
    }

    public string Path(string rest) => $"/api/workspaces/{Workspace}/{rest}";

    public Task<JsonElement> GetAsync(string path) => ReadAsync(Http.GetAsync(Path(path)));

    public Task<byte[]> GetBytesAsync(string path) => Http.GetByteArrayAsync(Path(path));

    public Task<JsonElement> PostAsync(string path, object? body = null) =>
        ReadAsync(Http.PostAsJsonAsync(Path(path), body ?? new { }, LarkJson.Options));

    public Task<JsonElement> PutAsync(string path, object body) => ReadAsync(Http.PutAsJsonAsync(Path(path), body, LarkJson.Options));

    public Task<JsonElement> PatchAsync(string path, object body) => ReadAsync(Http.PatchAsJsonAsync(Path(path), body, LarkJson.Options));

    /// <summary>Decides about an occurrence as it stands now.</summary>
    public async Task<JsonElement> DecideAsync(string path, object edit) => await ReadAsync(DecideRawAsync(path, edit));

    /// <summary>What keeps it from being decided.</summary>
    public async Task<string> WhyNotDecidedAsync(string path, object edit)
    {
        using HttpResponseMessage answer = await DecideRawAsync(path, edit);
        return JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.Text("detail");
    }

    private async Task<HttpResponseMessage> DecideRawAsync(string path, object edit)
    {
        using HttpRequestMessage request = new(HttpMethod.Patch, Path(path))
        {
            Content = JsonContent.Create(edit, edit.GetType(), options: LarkJson.Options),
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{(await GetAsync(path)).Whole("revision")}\"");
        return await Http.SendAsync(request);
    }

    public Task<JsonElement> DeleteAsync(string path) => ReadAsync(Http.DeleteAsync(Path(path)));

    /// <summary>Approves a post in the version that it has now.</summary>
    public async Task<JsonElement> ApproveAsync(Guid post)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, Path($"posts/{post}/approve"));
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{(await GetAsync($"posts/{post}")).Whole("version")}\"");
        return await ReadAsync(Http.SendAsync(request));
    }

    public Task<JsonElement> SavePostAsync(Guid post, int version, object edit) => ReadAsync(SendEditAsync(post, version, edit));

    /// <summary>Sends a request that should fail; returns the status and the words.</summary>
    public async Task<(HttpStatusCode Status, string Words)> TroubleAsync(HttpMethod method, string path, object? body = null)
    {
        using HttpRequestMessage request = new(method, Path(path))
        {
            Content =
                body is HttpContent content ? content
                : body is null ? null
                : JsonContent.Create(body, body.GetType(), options: LarkJson.Options),
        };
        return await TroubleOfAsync(await Http.SendAsync(request));
    }

    public async Task<(HttpStatusCode Status, string Words)> SaveTroubleAsync(Guid post, int version, object edit) =>
        await TroubleOfAsync(await SendEditAsync(post, version, edit));

    public async Task<JsonElement> UploadAsync(
        string path,
        HttpMethod method,
        params (string Field, string? FileName, byte[] Bytes)[] files
    ) => await ReadAsync(Http.SendAsync(new(method, Path(path)) { Content = Form(files) }));

    public static MultipartFormDataContent Form(params (string Field, string? FileName, byte[] Bytes)[] files)
    {
        MultipartFormDataContent form = [];
        foreach ((string field, string? fileName, byte[] bytes) in files)
        {
            ByteArrayContent content = new(bytes);
            if (fileName is null)
            {
                form.Add(content, field);
                continue;
            }
            content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
            form.Add(content, field, fileName);
        }
        return form;
    }

    public void Dispose() => Http.Dispose();

    private Task<HttpResponseMessage> SendEditAsync(Guid post, int version, object edit)
    {
        HttpRequestMessage request = new(HttpMethod.Put, Path($"posts/{post}"))
        {
            Content = JsonContent.Create(edit, edit.GetType(), options: LarkJson.Options),
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{version}\"");
        return Http.SendAsync(request);
    }

    private static async Task<(HttpStatusCode Status, string Words)> TroubleOfAsync(HttpResponseMessage response)
    {
        using (response)
        {
            string text = await response.Content.ReadAsStringAsync();
            if (text.Length == 0)
                return (response.StatusCode, "");
            JsonElement body = JsonSerializer.Deserialize<JsonElement>(text);
            return (
                response.StatusCode,
                body.ValueKind == JsonValueKind.Object && body.TryGetProperty("detail", out JsonElement detail)
                    ? detail.GetString() ?? ""
                    : ""
            );
        }
    }

    private static async Task<JsonElement> ReadAsync(Task<HttpResponseMessage> call)
    {
        using HttpResponseMessage response = await call;
        string text = await response.Content.ReadAsStringAsync();
        Assert.True(
            response.IsSuccessStatusCode,
            $"{response.RequestMessage!.Method} {response.RequestMessage.RequestUri}: {(int)response.StatusCode} {text}"
        );
        return text.Length == 0 ? default : JsonSerializer.Deserialize<JsonElement>(text);
    }
}

public static class JsonReading
{
    public static Guid Id(this JsonElement json, string name = "id") => json.GetProperty(name).GetGuid();

    public static string Text(this JsonElement json, string name) => json.GetProperty(name).GetString() ?? "";

    public static int Whole(this JsonElement json, string name) => json.GetProperty(name).GetInt32();

    public static JsonElement[] List(this JsonElement json, string name) => [.. json.GetProperty(name).EnumerateArray()];
}
