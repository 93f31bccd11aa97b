using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Mvc;

namespace AbleLark.Server.Channels;

/// <summary>What came of a trip to a network's consent page.</summary>
public enum ConnectCode
{
    Connected,

    /// <summary>Some of the accounts were; the words say why not all.</summary>
    ConnectedPartly,

    /// <summary>None was: there is no room for it, or the network didn't let us in.</summary>
    Refused,

    /// <summary>The network was told not to.</summary>
    Declined,

    /// <summary>It had run out, or belongs to somebody else.</summary>
    NotTheirs,

    /// <summary>The workspace itself can't be read just now.</summary>
    NotNow,
}

/// <param name="Words">The same for people, with the network's own reason where there is one.</param>
public sealed record ConnectOutcome(ConnectCode Code, string Words);

/// <summary>Tells the page what came of the consent. The address that the browser comes back to holds it sealed: nobody else can have the
/// page say something.</summary>
internal static class ConnectOutcomes
{
    private static readonly TimeSpan Life = TimeSpan.FromMinutes(15);

    public static void MapConnectOutcome(this IEndpointRouteBuilder api) => api.MapGet("/connect/outcome", Read).RequireAuthorization();

    /// <summary>Sends the browser on to a page, which asks for the outcome.</summary>
    public static IResult Back(string page, ConnectOutcome outcome, IDataProtectionProvider protection)
    {
        string said = JsonSerializer.Serialize(outcome, LarkJson.Options);
        return Answers.Redirect($"{page}?outcome={Uri.EscapeDataString(Protector(protection).Protect(said, Life))}");
    }

    private static ConnectOutcome Read([FromQuery(Name = "of")] string of, IDataProtectionProvider protection)
    {
        try
        {
            return JsonSerializer.Deserialize<ConnectOutcome>(Protector(protection).Unprotect(of), LarkJson.Options)!;
        }
        catch (CryptographicException)
        {
            throw ProblemException.NotFound("What came of that consent");
        }
    }

    private static ITimeLimitedDataProtector Protector(IDataProtectionProvider protection) =>
        protection.CreateProtector("connect outcome").ToTimeLimitedDataProtector();
}
