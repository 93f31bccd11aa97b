using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace AbleLark.Server.Sessions;

/// <summary>Marks devices that somebody has signed in with, so that what others try makes them wait for nothing. The mark lets nobody
/// in.</summary>
public sealed class KnownDevices(IDataProtectionProvider protection)
{
    private const string Cookie = "able-lark-device";

    private static readonly TimeSpan Kept = TimeSpan.FromDays(180);

    private readonly ITimeLimitedDataProtector _protector = protection.CreateProtector("device").ToTimeLimitedDataProtector();

    /// <summary>The device, if the account has signed in with it; null: it isn't known.</summary>
    public string? Find(HttpContext http, string email)
    {
        if (http.Request.Cookies[Cookie] is not { } mark)
            return null;
        try
        {
            string[] parts = _protector.Unprotect(mark).Split(' ');
            return parts is [var device, var account] && account == SignInLimits.AccountOf(email) ? device : null;
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    /// <summary>Marks it for the account, unless it is.</summary>
    public void Mark(HttpContext http, string email)
    {
        string device = Find(http, email) ?? Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));
        http.Response.Cookies.Append(
            Cookie,
            _protector.Protect($"{device} {SignInLimits.AccountOf(email)}", Kept),
            new()
            {
                HttpOnly = true,
                IsEssential = true,
                MaxAge = Kept,
                Path = "/api/session",
                SameSite = SameSiteMode.Lax,
                Secure = http.Request.IsHttps,
            }
        );
    }
}
