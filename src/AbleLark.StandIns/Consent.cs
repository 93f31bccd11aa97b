using System.Net;
using System.Security.Cryptography;
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
                        <label class="choice"><input type="radio" name="account" value="{WebUtility.HtmlEncode(a.Id)}" {(
                            i == 0 ? "checked" : ""
                        )}>
                        <span><b>{WebUtility.HtmlEncode(a.Name)}</b> @{WebUtility.HtmlEncode(a.Handle)}</span></label>
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
              <fieldset><legend>As which account?</legend>{choices}</fieldset>
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
        Account? account = await store.AccountAsync(form["account"].ToString());
        if (form["answer"] != "allow" || account is null || account.Network != network)
            return Results.Redirect($"{redirect}?error=access_denied&state={state}");
        string code = NewSecret();
        await store.AddCodeAsync(code, account.Id, MachineNow() + CodeLife);
        return Results.Redirect($"{redirect}?code={code}&state={state}");
    }

    private static async Task<IResult> TokenAsync(HttpRequest request, Store store)
    {
        IFormCollection form = await request.ReadFormAsync();
        string? accountId = form["grant_type"].ToString() switch
        {
            "authorization_code" => await store.RedeemCodeAsync(form["code"].ToString(), MachineNow()),
            "refresh_token" => await store.RedeemRefreshAsync(form["refresh_token"].ToString()),
            _ => null,
        };
        if (accountId is null)
            return Results.Json(new { error = "invalid_grant" }, statusCode: 400);
        TokenPair pair = new(NewSecret(), NewSecret(), MachineNow() + TokenLife);
        await store.AddTokensAsync(accountId, pair);
        return Results.Json(
            new
            {
                access_token = pair.Access,
                refresh_token = pair.Refresh,
                expires_in = (int)TokenLife.TotalSeconds,
            }
        );
    }

    private static string NewSecret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));

    private static Instant MachineNow() => SystemClock.Instance.GetCurrentInstant();
}
