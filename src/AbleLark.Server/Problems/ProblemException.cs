using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using AbleLark.Core;
using AbleLark.Data;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace AbleLark.Server.Problems;

/// <summary>Something the caller can mend: answered as RFC 9457 problem details, in words that say what to do.</summary>
public sealed class ProblemException(int status, string detail) : Exception(detail)
{
    public int Status { get; } = status;

    /// <summary>What a program tells it by, whatever the words: the last part of the answer's `type`. Null: its status says it
    /// all.</summary>
    public string? Code { get; init; }

    /// <summary>After so many seconds it may be asked again; null: that isn't said.</summary>
    public int? RetryAfterSeconds { get; init; }

    public static ProblemException BadInput(string detail) => new(StatusCodes.Status400BadRequest, detail);

    public static ProblemException NotFound(string what) => new(StatusCodes.Status404NotFound, $"{what} is not here, or no longer.");

    public static ProblemException Conflict(string detail) => new(StatusCodes.Status409Conflict, detail);

    /// <summary>Not now, though later it may be.</summary>
    public static ProblemException Busy(string detail) => new(StatusCodes.Status503ServiceUnavailable, detail);

    public static ProblemException Outdated(string detail) => new(StatusCodes.Status412PreconditionFailed, detail);
}

/// <summary>Turns exceptions into problem details; what nobody expected is logged and answered without inner workings.</summary>
public sealed partial class ProblemHandler(IProblemDetailsService problems, ILogger<ProblemHandler> log) : IExceptionHandler
{
    /// <summary>ENOSPC of POSIX, as Linux numbers it.</summary>
    public const int NoRoomOnDisk = 28;

    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        (int status, string? detail) = exception switch
        {
            ProblemException known => (known.Status, known.Message),
            BadHttpRequestException b => (b.StatusCode, ProblemWords.OfBadRequest(b)),
            DbUpdateConcurrencyException => (
                StatusCodes.Status409Conflict,
                "Somebody else changed this at the same moment. Fetch it again; what you typed is still with you."
            ),
            // Two people at once: the database's own keys let one of them through.
            DbUpdateException
            {
                InnerException: PostgresException { SqlState: PostgresErrorCodes.UniqueViolation or PostgresErrorCodes.ForeignKeyViolation }
            } => (
                StatusCodes.Status409Conflict,
                "Somebody else changed the same thing at the same moment. Look at it again, then try once more."
            ),
            _ when DatabaseTrouble.IsHeld(exception) => (
                StatusCodes.Status503ServiceUnavailable,
                "Something else is changing the same just now, and takes its time. Try again in a moment; nothing of yours was kept."
            ),
            _ when DatabaseTrouble.IsEnded(exception) => (
                StatusCodes.Status503ServiceUnavailable,
                "The database ended this: it took longer than others can wait for it, or the database is stopping. Nothing of it was kept. "
                    + "Try again, or less at once."
            ),
            IOException { HResult: NoRoomOnDisk } => (
                StatusCodes.Status507InsufficientStorage,
                "There is no room left on the server's disk. What was here before is safe, and so is what has come of an upload in "
                    + "pieces: go on with it when there is room again. Tell whoever runs Able Lark."
            ),
            OperationCanceledException when httpContext.RequestAborted.IsCancellationRequested => (499, null),
            _ => (
                StatusCodes.Status500InternalServerError,
                "Something went wrong here. Nothing was saved. Try again; if it stays, tell whoever runs Able Lark."
            ),
        };
        if (status is StatusCodes.Status500InternalServerError or StatusCodes.Status507InsufficientStorage)
            LogUnexpected(exception, httpContext.Request.Path);
        httpContext.Response.StatusCode = status;
        if (exception is ProblemException { RetryAfterSeconds: { } seconds })
            httpContext.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        return await problems.TryWriteAsync(
            new()
            {
                HttpContext = httpContext,
                ProblemDetails = new ProblemDetails
                {
                    Status = status,
                    Detail = detail,
                    Type = ProblemCodes.TypeOf(status, (exception as ProblemException)?.Code),
                },
            }
        );
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "Unexpected failure at {Path}")]
    private partial void LogUnexpected(Exception exception, string path);
}

/// <summary>Words for answers that the framework gives by status alone.</summary>
public static partial class ProblemWords
{
    /// <summary>Names the value that can't be read; null leaves it to the words of the status.</summary>
    public static string? OfBadRequest(BadHttpRequestException exception)
    {
        if (exception.StatusCode != StatusCodes.Status400BadRequest)
            return null;
        if (exception.InnerException is JsonException lacking && LackingPattern().Match(lacking.Message) is { Success: true } lacks)
        {
            string names = lacks.Groups["names"].Value.Replace("'", "", StringComparison.Ordinal);
            return $"Something is missing: {names}. Send it, if only as null.";
        }
        if (exception.InnerException is DateOutOfBoundsException { Path: { } place } date)
            return $"{date.Message} (“{place}”)";
        if (exception.InnerException is UnreadableException unreadable)
            return $"{unreadable.Message} (“{unreadable.Path}”)";
        if (exception.InnerException is JsonException unknown && UnknownPattern().Match(unknown.Message) is { Success: true } name)
            return $"There is nothing called “{name.Groups["name"].Value}” here, and nothing of it would be kept. (“{unknown.Path}”)";
        if (exception.InnerException is JsonException { Path: { } path })
            return $"The content can't be read at “{path}”. Check the value there.";
        Match value = ValuePattern().Match(exception.Message);
        if (value.Success)
            return $"“{value.Groups["value"].Value}” is not a value that “{NameOf(value)}” can have.";
        Match missing = MissingPattern().Match(exception.Message);
        return missing.Success ? $"“{NameOf(missing)}” is missing." : null;

        // Some are properties in the code; in addresses all begin small.
        static string NameOf(Match match) => JsonNamingPolicy.CamelCase.ConvertName(match.Groups["name"].Value);
    }

    // The framework names what it could not bind only in its message.
    [GeneratedRegex("""^Failed to bind parameter "[^"]* (?<name>\w+)" from "(?<value>.*)"\.$""", RegexOptions.Singleline)]
    private static partial Regex ValuePattern();

    [GeneratedRegex("""^Required parameter "[^"]* (?<name>\w+)" was not provided""")]
    private static partial Regex MissingPattern();

    [GeneratedRegex("^The JSON property '(?<name>.+?)' could not be mapped")]
    private static partial Regex UnknownPattern();

    [GeneratedRegex("missing required properties including: (?<names>.+?)\\.( Path|$)", RegexOptions.Singleline)]
    private static partial Regex LackingPattern();

    public static void Complete(ProblemDetailsContext context)
    {
        // Limits that are attributes have their words there.
        if (context.ProblemDetails is HttpValidationProblemDetails limits)
            context.ProblemDetails.Detail = string.Join(" ", limits.Errors.Values.SelectMany(words => words).Distinct());
        if (context.ProblemDetails is { Status: { } status, Type: var type } && !ProblemCodes.IsOurs(type))
            context.ProblemDetails.Type = ProblemCodes.TypeOf(status, null);
        context.ProblemDetails.Detail ??= context.ProblemDetails.Status switch
        {
            400 => UnreadableValues.WordsFor(context.HttpContext) ?? "The request could not be read. Check the values in it.",
            401 => "You are not signed in, or your session has run out. Sign in again; what you typed is kept.",
            403 => "You may not do this here.",
            404 => "There is nothing at this address, or it isn't yours to see.",
            413 => string.Create(
                CultureInfo.InvariantCulture,
                $"The upload is too large: {Media.MediaLimits.MostMegabytes} MB is the most. Make it smaller and try again."
            ),
            415 => "This kind of content is not taken here.",
            _ => null,
        };
    }
}
