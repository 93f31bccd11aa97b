using System.Security.Cryptography;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Sessions;

/// <summary>Keeps who is signed in as rows, so that the server can end a session whatever copies of its cookie there are: by signing out,
/// and when the person's security stamp changes.</summary>
public sealed class SessionTickets(IServiceScopeFactory scopes, IDataProtectionProvider protection, IClock machine) : ITicketStore
{
    private const string SessionItem = "session";

    /// <summary>The session by which a request came; null: it came by none.</summary>
    public static async Task<string?> OfAsync(HttpContext http) =>
        (await http.AuthenticateAsync()).Properties?.Items.TryGetValue(SessionItem, out string? digest) == true ? digest : null;

    private static readonly Duration Longest = Duration.FromDays(7);

    private readonly IDataProtector _protector = protection.CreateProtector("session");

    public async Task<string> StoreAsync(AuthenticationTicket ticket)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        string secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        UserManager<Person> people = scope.ServiceProvider.GetRequiredService<UserManager<Person>>();
        Guid person = Guid.Parse(people.GetUserId(ticket.Principal)!);
        Instant now = machine.Now();
        string digest = TokenScheme.DigestOf(secret);
        ticket.Properties.Items[SessionItem] = digest;
        db.Sessions.Add(
            new()
            {
                Digest = digest,
                PersonId = person,
                SecurityStamp = await db.Users.Where(u => u.Id == person).Select(u => u.SecurityStamp!).SingleAsync(),
                Ticket = Written(ticket),
                MadeAt = now,
                EndsAt = EndOf(ticket, now),
            }
        );
        await db.SaveChangesAsync();
        await db.Sessions.Where(s => s.EndsAt < now).ExecuteDeleteAsync();
        return secret;
    }

    public async Task RenewAsync(string key, AuthenticationTicket ticket)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        string digest = TokenScheme.DigestOf(key);
        Instant ends = EndOf(ticket, machine.Now());
        byte[] written = Written(ticket);
        await scope
            .ServiceProvider.GetRequiredService<LarkDb>()
            .Sessions.Where(s => s.Digest == digest)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Ticket, written).SetProperty(x => x.EndsAt, ends));
    }

    /// <returns>Null: it has been ended, or has run out.</returns>
    public async Task<AuthenticationTicket?> RetrieveAsync(string key)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        string digest = TokenScheme.DigestOf(key);
        Instant now = machine.Now();
        byte[]? ticket = await db
            .Sessions.Where(s => s.Digest == digest && s.EndsAt > now)
            .Where(s => db.Users.Any(u => u.Id == s.PersonId && u.SecurityStamp == s.SecurityStamp))
            .Select(s => s.Ticket)
            .SingleOrDefaultAsync();
        try
        {
            return ticket is null ? null : TicketSerializer.Default.Deserialize(_protector.Unprotect(ticket));
        }
        catch (CryptographicException)
        {
            // The server's keys are others than when it was written, as after a move without them: it is over.
            return null;
        }
    }

    public async Task RemoveAsync(string key)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        string digest = TokenScheme.DigestOf(key);
        await scope.ServiceProvider.GetRequiredService<LarkDb>().Sessions.Where(s => s.Digest == digest).ExecuteDeleteAsync();
    }

    private byte[] Written(AuthenticationTicket ticket) => _protector.Protect(TicketSerializer.Default.Serialize(ticket));

    private static Instant EndOf(AuthenticationTicket ticket, Instant now) =>
        ticket.Properties.ExpiresUtc is { } ends ? Instant.FromDateTimeOffset(ends) : now + Longest;
}
