using AbleLark.Core.Media;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.Metadata;

namespace AbleLark.Server.Media;

/// <summary>How much may be sent to us at once.</summary>
public static class MediaLimits
{
    /// <summary>Most megabytes of a form; larger files come in pieces.</summary>
    public const int MostMegabytes = 20;

    /// <summary>Most bytes of a file of any kind.</summary>
    public const long MostBytes = 200L * 1024 * 1024;

    /// <summary>Most pixels of a picture that is opened: more would fill the memory of the server.</summary>
    public const long MostPixels = 60_000_000;

    /// <summary>The same of all pictures of a file that moves.</summary>
    public const long MostPixelsInMotion = 100_000_000;

    /// <summary>Most bytes of a request: a form is a little larger than the file in it.</summary>
    public const long MostRequestBytes = (MostMegabytes + 1) * 1024L * 1024L;

    /// <summary>Most bytes of a refused upload that are still read, so that its sender gets to hear the answer.</summary>
    private const long MostDrainedBytes = 256L * 1024 * 1024;

    public static long MostBytesOf(string kind) =>
        kind switch
        {
            FileKinds.Mp4 => MostBytes,
            FileKinds.Pdf => 100L * 1024 * 1024,
            _ => 50L * 1024 * 1024,
        };

    /// <summary>
    /// Answers a request that announces too much in words. A sender listens only after it has sent all: cut off in the
    /// middle, a browser would show a broken connection instead of the reason.
    /// </summary>
    public static void UseUploadLimit(this IApplicationBuilder app) =>
        app.Use(
            async (context, next) =>
            {
                long? own = context.GetEndpoint()?.Metadata.GetMetadata<IRequestSizeLimitMetadata>()?.MaxRequestBodySize;
                long most = own ?? MostRequestBytes;
                if (!(context.Request.ContentLength > most))
                {
                    await next(context);
                    return;
                }
                // Only whoever passed the gate of a workspace is listened to that long.
                if (WorkspaceGate.RightOf(context.GetEndpoint()) is null)
                    context.Response.Headers.Connection = "close";
                else if (context.Request.ContentLength <= MostDrainedBytes)
                {
                    context.Features.Get<IHttpMaxRequestBodySizeFeature>()!.MaxRequestBodySize = MostDrainedBytes;
                    await context.Request.Body.CopyToAsync(Stream.Null, context.RequestAborted);
                }
                throw new ProblemException(
                    StatusCodes.Status413PayloadTooLarge,
                    $"The upload is too large: {(own / 1024 / 1024) ?? MostMegabytes} MB is the most at once. Make it smaller, or send "
                        + "it in pieces."
                );
            }
        );
}
