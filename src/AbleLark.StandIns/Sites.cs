using System.Globalization;
using System.Net;
using SkiaSharp;

namespace AbleLark.StandIns;

/// <summary>Sample sites under example.org, a name that is kept free for examples (RFC 2606): pages for links to lead to, and, under
/// trouble.example.org, pages that go wrong in each way that pages do.</summary>
internal static class Sites
{
    private const string Ending = ".example.org";

    private static readonly byte[] Filler = new byte[64 * 1024];

    /// <summary>Requests for those hosts are for the sites, whatever networks there are.</summary>
    public static void UseSites(this IApplicationBuilder app) =>
        app.Use(
            async (context, next) =>
            {
                string host = context.Request.Host.Host;
                if (!host.EndsWith(Ending, StringComparison.OrdinalIgnoreCase))
                    await next(context);
                else if (host.StartsWith("trouble.", StringComparison.OrdinalIgnoreCase))
                    await TroubleAsync(context);
                else
                    await PageAsync(context, host);
            }
        );

    private static async Task PageAsync(HttpContext http, string host)
    {
        string path = http.Request.Path.Value!.Trim('/');
        if (path.EndsWith(".ics", StringComparison.Ordinal))
        {
            http.Response.ContentType = "text/calendar; charset=utf-8";
            await http.Response.WriteAsync(Tides.Calendar(Words(path[..^4])));
            return;
        }
        if (path.EndsWith(".png", StringComparison.Ordinal))
        {
            http.Response.ContentType = "image/png";
            await http.Response.Body.WriteAsync(Draw(path));
            return;
        }
        string site = Words(host[..^Ending.Length].Replace('.', '/'));
        string about = path.Length == 0 ? site : string.Join(": ", path.Split('/').Select(Words));
        string picture = $"/pictures/{(path.Length == 0 ? "home" : path.Replace('/', '-'))}.png";
        await HtmlAsync(
            http,
            $"""
            <title>{E(about)}</title><meta property="og:title" content="{E(about)} · {E(site)}">
            <meta property="og:description" content="{E($"Read about {about.ToLowerInvariant()} on the pages of {site}.")}">
            <meta property="og:image" content="{E(picture)}"></head><body><h1>{E(about)}</h1><img src="{E(picture)}" alt="">
            <img src="/pictures/another.png" alt="">
            """
        );
    }

    private static async Task TroubleAsync(HttpContext http)
    {
        CancellationToken gone = http.RequestAborted;
        string kind = http.Request.Path.Value!.Trim('/');
        string query = http.Request.Query["to"].ToString();
        switch (kind)
        {
            case "to":
                http.Response.Redirect(query);
                break;
            case "round":
                http.Response.Redirect("/round");
                break;
            case "silent":
                await Task.Delay(TimeSpan.FromSeconds(30), gone).ContinueWith(_ => { }, TaskScheduler.Default);
                break;
            case "trickle":
                // Ends by itself, after longer than anybody should wait.
                http.Response.ContentType = "text/html";
                for (int i = 0; i < 60 && !gone.IsCancellationRequested; i++)
                {
                    await http.Response.WriteAsync("<p>more</p>", CancellationToken.None);
                    await http.Response.Body.FlushAsync(CancellationToken.None);
                    await Task.Delay(500, gone).ContinueWith(_ => { }, TaskScheduler.Default);
                }
                break;
            case "huge":
                http.Response.ContentType = "text/html";
                await http.Response.WriteAsync("<!doctype html><title>A huge page</title>", gone);
                for (long sent = 0; sent < 200L * 1024 * 1024 && !gone.IsCancellationRequested; sent += Filler.Length)
                    await http.Response.Body.WriteAsync(Filler, gone);
                break;
            case "long.ics":
                http.Response.ContentType = "text/calendar";
                await http.Response.WriteAsync("BEGIN:VCALENDAR\r\n", gone);
                for (int i = 0; i < 160 && !gone.IsCancellationRequested; i++)
                    await http.Response.Body.WriteAsync(Filler, gone);
                break;
            case "document":
                http.Response.ContentType = "application/pdf";
                await http.Response.WriteAsync("%PDF-1.4", gone);
                break;
            case "deep":
                await HtmlAsync(http, "<title>Deep</title></head><body>" + string.Concat(Enumerable.Repeat("<div>", 60_000)));
                break;
            case "old":
                http.Response.ContentType = "text/html; charset=iso-8859-1";
                await http.Response.Body.WriteAsync(
                    System.Text.Encoding.Latin1.GetBytes(
                        "<title>Café   au\nlait</title><meta name=description content='Plain words'><img src=cup.png>"
                    ),
                    gone
                );
                break;
            default:
                http.Response.StatusCode = 404;
                break;
        }
    }

    private static Task HtmlAsync(HttpContext http, string inner)
    {
        http.Response.ContentType = "text/html; charset=utf-8";
        return http.Response.WriteAsync($"<!doctype html><html lang='en'><head><meta charset='utf-8'>{inner}</body></html>");
    }

    /// <summary>A horizon in colours that hang on the name.</summary>
    private static byte[] Draw(string name)
    {
        int seed = name.Aggregate(17, (sum, c) => (sum * 31 + c) & 0xFFFF);
        using SKBitmap picture = new(1200, 630);
        using SKCanvas canvas = new(picture);
        using SKPaint paint = new() { IsAntialias = true };
        canvas.Clear(SKColor.FromHsl(seed % 360, 30, 82));
        paint.Color = SKColor.FromHsl((seed / 7) % 360, 40, 45);
        canvas.DrawRect(0, 400 + (seed % 90), 1200, 300, paint);
        paint.Color = SKColor.FromHsl(40, 70, 88);
        canvas.DrawCircle(200 + (seed % 800), 210, 70, paint);
        using SKData png = picture.Encode(SKEncodedImageFormat.Png, 90);
        return png.ToArray();
    }

    private static string Words(string path)
    {
        string words = path.Replace('-', ' ').Replace('/', ' ');
        return words.Length == 0 ? words : CultureInfo.InvariantCulture.TextInfo.ToUpper(words[0]) + words[1..];
    }

    private static string E(string text) => WebUtility.HtmlEncode(text);
}
