using System.Net;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.Extensions.FileProviders;

namespace AbleLark.Server;

/// <summary>Headers and the files of the front end.</summary>
public static class WebSetup
{
    /// <summary>Takes from proxies that are named, and from nobody else, from which address and by which scheme they were asked.</summary>
    public static void UseNamedProxies(this WebApplication app, LarkSettings settings)
    {
        string[] named = settings.Proxies.Split([',', ';', ' '], StringSplitOptions.RemoveEmptyEntries);
        if (named.Length == 0)
            return;
        ForwardedHeadersOptions options = new() { ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto };
        options.KnownProxies.Clear();
        options.KnownIPNetworks.Clear();
        foreach (string proxy in named)
        {
            if (System.Net.IPNetwork.TryParse(proxy, out System.Net.IPNetwork range))
                options.KnownIPNetworks.Add(range);
            else if (IPAddress.TryParse(proxy, out IPAddress? address))
                options.KnownProxies.Add(address);
            else
                throw new InvalidOperationException($"Lark__Proxies names “{proxy}”, which is no address and no range of addresses.");
        }
        app.UseForwardedHeaders(options);
    }

    /// <summary>Set as the answer begins, so that answers about errors, which clear what was set before, have them too.</summary>
    public static void UseLarkHeaders(this WebApplication app) =>
        app.Use(
            (context, next) =>
            {
                context.Response.OnStarting(() =>
                {
                    Set(context);
                    return Task.CompletedTask;
                });
                return next();
            }
        );

    private static void Set(HttpContext context)
    {
        IHeaderDictionary headers = context.Response.Headers;
        headers.ContentSecurityPolicy =
            "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; "
            + "form-action 'self'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        if (context.Request.Path.StartsWithSegments("/api") && headers.CacheControl.Count == 0)
            headers.CacheControl = "no-store";
    }

    /// <summary>
    /// Only for hosts that are ours: loopback, and what the settings name. And nothing that changes something is taken from another site's
    /// page: a browser says from which one it comes.
    /// </summary>
    public static void UseOwnHostAlone(this WebApplication app, LarkSettings settings)
    {
        HashSet<string> hosts = new(
            ["localhost", "127.0.0.1", "[::1]", .. settings.Hosts.Split([',', ';', ' '], StringSplitOptions.RemoveEmptyEntries)],
            StringComparer.OrdinalIgnoreCase
        );
        app.Use(
            (context, next) =>
            {
                HttpRequest request = context.Request;
                if (!hosts.Contains(request.Host.Host))
                    throw new ProblemException(
                        StatusCodes.Status400BadRequest,
                        $"This server is not “{request.Host.Host}”. Whoever runs it names its hosts in Lark__Hosts."
                    );
                bool changes = !(
                    HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method) || HttpMethods.IsOptions(request.Method)
                );
                if (
                    changes
                    && request.Headers.Origin is { Count: > 0 } origin
                    && !(
                        Uri.TryCreate(origin, UriKind.Absolute, out Uri? from)
                        && string.Equals(from.Authority, request.Host.Value, StringComparison.OrdinalIgnoreCase)
                    )
                )
                    throw new ProblemException(StatusCodes.Status403Forbidden, "This came from another site's page, so nothing was done.");
                return next();
            }
        );
    }

    /// <summary>Serves the built front end; every address that isn't a file or the API's shows the application.</summary>
    public static void UseFrontEnd(this WebApplication app, LarkSettings settings)
    {
        app.UseResponseCompression();
        if (settings.WebRoot.Length == 0)
            return;
        PhysicalFileProvider files = new(Path.GetFullPath(settings.WebRoot));
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = files,
                // Names of built assets hold a print of their content.
                OnPrepareResponse = c =>
                    c.Context.Response.Headers.CacheControl = c.Context.Request.Path.StartsWithSegments("/assets")
                        ? "public, max-age=31536000, immutable"
                        : "no-cache",
            }
        );
        app.MapFallback(async context =>
        {
            context.Response.ContentType = "text/html; charset=utf-8";
            context.Response.Headers.CacheControl = "no-cache";
            await context.Response.SendFileAsync(files.GetFileInfo("index.html"));
        });
    }
}
