using Microsoft.Extensions.FileProviders;

namespace AbleLark.Server;

/// <summary>Headers and the files of the front end.</summary>
public static class WebSetup
{
    public static void UseLarkHeaders(this WebApplication app) => app.Use((context, next) =>
    {
        IHeaderDictionary headers = context.Response.Headers;
        headers.ContentSecurityPolicy = "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'";
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        if (context.Request.Path.StartsWithSegments("/api")) headers.CacheControl = "no-store";
        return next();
    });

    /// <summary>Serves the built front end; every address that isn't a file or the API's shows the application.</summary>
    public static void UseFrontEnd(this WebApplication app, LarkSettings settings)
    {
        app.UseResponseCompression();
        if (settings.WebRoot.Length == 0) return;
        PhysicalFileProvider files = new(Path.GetFullPath(settings.WebRoot));
        app.UseStaticFiles(new StaticFileOptions
        {
            FileProvider = files,
            // Names of built assets hold a print of their content.
            OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = c.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache",
        });
        app.MapFallback(async context =>
        {
            context.Response.ContentType = "text/html; charset=utf-8";
            context.Response.Headers.CacheControl = "no-cache";
            await context.Response.SendFileAsync(files.GetFileInfo("index.html"));
        });
    }
}
