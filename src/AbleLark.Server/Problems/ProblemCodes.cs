using System.Text.Json;
using AbleLark.Core.Planning;

namespace AbleLark.Server.Problems;

/// <summary>What a program tells problems by: their `type` (RFC 9457), a reference such as `/problems/outdated` that stays while words
/// change.</summary>
public static class ProblemCodes
{
    private const string Folder = "/problems/";

    /// <param name="code">Null: the status says it all.</param>
    public static string TypeOf(int status, string? code) => Folder + (code ?? OfStatus(status));

    internal static bool IsOurs(string? type) => type?.StartsWith(Folder, StringComparison.Ordinal) == true;

    /// <summary>Why an act on the plan can't be done, as `plan-…`.</summary>
    public static string Of(StayCode code) => $"plan-{JsonNamingPolicy.KebabCaseLower.ConvertName(code.ToString())}";

    private static string OfStatus(int status) =>
        status switch
        {
            StatusCodes.Status400BadRequest => "bad-input",
            StatusCodes.Status401Unauthorized => "signed-out",
            StatusCodes.Status403Forbidden => "forbidden",
            StatusCodes.Status404NotFound => "not-found",
            StatusCodes.Status409Conflict => "conflict",
            StatusCodes.Status412PreconditionFailed => "outdated",
            StatusCodes.Status413PayloadTooLarge => "too-large",
            StatusCodes.Status415UnsupportedMediaType => "unknown-content",
            StatusCodes.Status429TooManyRequests => "too-many",
            StatusCodes.Status503ServiceUnavailable => "busy",
            StatusCodes.Status507InsufficientStorage => "no-room",
            _ => status < 500 ? "refused" : "unexpected",
        };
}
