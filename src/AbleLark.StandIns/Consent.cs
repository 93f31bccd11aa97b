using System.Net;
using System.Security.Cryptography;
using System.Text.Json.Serialization;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>Connecting an account: consent page, code, tokens (in the manner of RFC 6749, authorization code grant).</summary>
internal static class Consent
{
    private static readonly Duration CodeLife = Duration.FromMinutes(5);
    private static readonly Duration TokenLife = Duration.FromHours(2);

    public static void Map(WebApplication app)
    {
        app.MapGet("/{network}/consent", ShowAsync);
        app.MapPost("/{network}/consent", AllowAsync).DisableAntiforgery();
        app.MapPost("/api/{network}/token", TokenAsync).DisableAntiforgery();
    }

    private static async Task<IResult> ShowAsync(string network, string redirectUri, string state, StandInNetworks networks, Store store)
    {
        if (networks.Find(network) is not { } shown)
            return Results.NotFound();
        IReadOnlyList<Account> accounts = await store.AccountsAsync(network);
        string choices = string.Concat(
            accounts.Select(
                (a, i) =>
                    $"""
                        <label class="choice"><input type="checkbox" name="account" value="{WebUtility.HtmlEncode(a.Id)}" {(
                            i == 0 ? "checked" : ""
                        )}>
                        <span><b>{WebUtility.HtmlEncode(a.Name)}</b> @{WebUtility.HtmlEncode(a.Handle)}, {a.Kind}</span></label>
                        """
            )
        );
        return Pages.Html(
            shown,
            "Allow Able Lark?",
            $"""
            <h1>Allow Able Lark to post for you?</h1>
            <p>It will be able to publish posts and read how they do. You can end this at any time on {WebUtility.HtmlEncode(
                shown.Name
            )}.</p>
            <form method="post" action="/{shown.Key}/consent">
              <input type="hidden" name="redirectUri" value="{WebUtility.HtmlEncode(redirectUri)}">
              <input type="hidden" name="state" value="{WebUtility.HtmlEncode(state)}">
              <fieldset><legend>As which accounts?</legend>{choices}</fieldset>
              <button name="answer" value="allow">Allow</button> <button name="answer" value="deny" class="quiet">Not now</button>
            </form>
            """
        );
    }

    private static async Task<IResult> AllowAsync(string network, HttpRequest request, Store store)
    {
        IFormCollection form = await request.ReadFormAsync();
        string redirect = form["redirectUri"].ToString();
        if (!Uri.TryCreate(redirect, UriKind.Absolute, out Uri? target) || !target.IsLoopback)
            return Results.BadRequest("The address to return to is not on this machine.");
        string state = Uri.EscapeDataString(form["state"].ToString());
        string?[] chosen = [.. form["account"]];
        string[] accounts = [.. (await store.AccountsAsync(network)).Select(a => a.Id).Where(id => chosen.Contains(id))];
        if (form["answer"] != "allow" || accounts.Length == 0)
            return Results.Redirect($"{redirect}?error=access_denied&state={state}");
        string code = NewSecret();
        await store.AddCodeAsync(code, accounts, MachineNow() + CodeLife);
        return Results.Redirect($"{redirect}?code={code}&state={state}");
    }

    private static async Task<IResult> TokenAsync(HttpRequest request, Store store)
    {
        IFormCollection form = await request.ReadFormAsync();
        string[] accounts = form["grant_type"].ToString() switch
        {
            "authorization_code" => await store.RedeemCodeAsync(form["code"].ToString(), MachineNow()),
            "refresh_token" => await store.RedeemRefreshAsync(form["refresh_token"].ToString()) is { } account ? [account] : [],
            _ => [],
        };
        if (accounts.Length == 0)
            return Results.Json(new { error = "invalid_grant" }, statusCode: 400);
        List<Granted> granted = [];
        foreach (string account in accounts)
        {
            TokenPair pair = new(NewSecret(), NewSecret(), MachineNow() + TokenLife);
            await store.AddTokensAsync(account, pair);
            granted.Add(new(pair.Access, pair.Refresh, (int)TokenLife.TotalSeconds));
        }
        return Results.Json(granted[0] with { More = granted.Count > 1 ? granted[1..] : null });
    }

    /// <param name="More">Of the other accounts that were allowed with the first.</param>
    private sealed record Granted(
        [property: JsonPropertyName("access_token")] string Access,
        [property: JsonPropertyName("refresh_token")] string Refresh,
        [property: JsonPropertyName("expires_in")] int Seconds,
        [property: JsonPropertyName("more")] List<Granted>? More = null
    );

    private static string NewSecret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));

    private static Instant MachineNow() => SystemClock.Instance.GetCurrentInstant();
}
