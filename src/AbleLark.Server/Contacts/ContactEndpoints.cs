using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Contacts;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Channels;
using AbleLark.Server.Checks;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Contacts;

/// <param name="Key">How texts mention it, as @{key}.</param>
/// <param name="Name">Written where it can't be mentioned.</param>
/// <param name="Handles">By the networks' keys.</param>
public sealed record ContactView(
    Id<Contact> Id,
    string Key,
    string Name,
    ContactKind Kind,
    IReadOnlyDictionary<string, ContactHandle> Handles
)
{
    public static ContactView Of(Contact c) => new(c.Id, c.Key, c.Name, c.Kind, c.Handles);
}

/// <param name="Key">How texts mention it, as @{key}: letters, digits and hyphens.</param>
/// <param name="Handles">By the networks' keys, with or without the @.</param>
public sealed record ContactEdit(
    [StringLength(Contact.LongestKey)] string Key,
    [Named("the contact")] string Name,
    ContactKind Kind,
    IReadOnlyDictionary<string, string>? Handles = null
);

/// <summary>An account that a network has found.</summary>
public sealed record FoundAccount(string Handle, string Name, ContactKind Kind, int Followers);

/// <summary>The workspace's address book: people and pages that posts mention, with their handles on each network.</summary>
public static class ContactEndpoints
{
    private const int LongestHandle = 100;
    private const int MostContacts = 2_000;

    public static void MapContacts(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/contacts", ListAsync).Needs(Right.View);
        workspace.MapPost("/contacts", AddAsync).Needs(Right.Write).InTurn();
        workspace.MapPut("/contacts/{id}", EditAsync).Needs(Right.Write);
        workspace.MapDelete("/contacts/{id}", RemoveAsync).Needs(Right.Write);
        workspace.MapGet("/contacts/look-up", LookUpAsync).Needs(Right.Write);
        workspace.MapPost("/contacts/{id}/check", CheckAsync).Needs(Right.Write);
    }

    private static async Task<List<ContactView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        [
            .. (
                await db
                    .Contacts.AsNoTracking()
                    .Where(c => c.WorkspaceId == workspaceId)
                    .OrderBy(c => c.Name)
                    .ThenBy(c => c.Id)
                    .ToListAsync(cancellation)
            ).Select(ContactView.Of),
        ];

    private static async Task<ContactView> AddAsync(
        Id<Workspace> workspaceId,
        ContactEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        if (await db.Contacts.CountAsync(c => c.WorkspaceId == workspaceId, cancellation) >= MostContacts)
            throw ProblemException.BadInput($"The address book holds {MostContacts:N0} at most. Take out those that nobody mentions.");
        Contact contact = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<Contact>.New(),
            Key = "",
            Name = "",
            Kind = edit.Kind,
        };
        await TakeAsync(contact, edit, db, networks, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.ContactAdded, contact.Name));
        db.Contacts.Add(contact);
        await SaveAsync(contact, [contact.Key], db, networks, now, cancellation);
        return ContactView.Of(contact);
    }

    private static async Task<ContactView> EditAsync(
        Id<Workspace> workspaceId,
        Id<Contact> id,
        ContactEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Contact contact = await FindAsync(workspaceId, id, db, cancellation);
        string before = contact.Key;
        await TakeAsync(contact, edit, db, networks, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.ContactChanged, contact.Name));
        await SaveAsync(contact, [before, contact.Key], db, networks, now, cancellation);
        return ContactView.Of(contact);
    }

    /// <summary>Posts that mention it say so in their findings from then on.</summary>
    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<Contact> id,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Contact contact = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.ContactRemoved, contact.Name));
        db.Contacts.Remove(contact);
        await SaveAsync(contact, [contact.Key], db, networks, now, cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Looks accounts up on a network, by the beginning of a handle or a part of a name.</summary>
    private static async Task<List<FoundAccount>> LookUpAsync(
        Id<Workspace> workspaceId,
        string network,
        [StringLength(LongestHandle)] string query,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        CancellationToken cancellation
    )
    {
        if (!networks.Has(network))
            throw ProblemException.BadInput($"There is no network “{network}”.");
        NetworkAnswer<List<RemoteAccount>> found = await AskAsync(
            workspaceId,
            network,
            query.Trim(),
            db,
            networks,
            connector,
            tokens,
            cancellation
        );
        return found.IsOk
            ?
            [
                .. found.Value!.Select(a => new FoundAccount(
                    a.Handle,
                    a.Name,
                    a.Is == AccountKind.Profile ? ContactKind.Person : ContactKind.Page,
                    a.Followers
                )),
            ]
            : throw ProblemException.Conflict($"{networks[network].Name} can't be asked now. {found.Reason}");
    }

    /// <summary>Looks each of its handles up: one that is no longer there is marked, one that is there again no longer.</summary>
    private static async Task<ContactView> CheckAsync(
        Id<Workspace> workspaceId,
        Id<Contact> id,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Contact contact = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Dictionary<string, ContactHandle> handles = [];
        foreach ((string network, ContactHandle handle) in contact.Handles)
        {
            NetworkAnswer<List<RemoteAccount>> found = await AskAsync(
                workspaceId,
                network,
                handle.Handle,
                db,
                networks,
                connector,
                tokens,
                cancellation
            );
            // A network that can't be asked says nothing against it.
            bool isThere = !found.IsOk || found.Value!.Exists(a => a.Handle.Equals(handle.Handle, StringComparison.OrdinalIgnoreCase));
            handles[network] = handle with { GoneAt = isThere ? null : handle.GoneAt ?? now };
        }
        if (handles.All(h => contact.Handles[h.Key] == h.Value))
            return ContactView.Of(contact);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.HandlesLookedUp, contact.Name));
        contact.Handles = handles;
        await SaveAsync(contact, [contact.Key], db, networks, now, cancellation);
        return ContactView.Of(contact);
    }

    /// <summary>By any of the workspace's channels on that network.</summary>
    private static async Task<NetworkAnswer<List<RemoteAccount>>> AskAsync(
        Id<Workspace> workspace,
        string network,
        string query,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        CancellationToken cancellation
    )
    {
        Channel? channel = await db
            .Channels.Where(c => c.WorkspaceId == workspace && c.Network == network && c.Connection == ConnectionState.Connected)
            .OrderBy(c => c.Position)
            .FirstOrDefaultAsync(cancellation);
        if (channel is null || !networks.Has(network))
            return new(AnswerKind.Refused, Reason: "No channel of this workspace is connected there.");
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        return token.IsOk
            ? await connector.FindAccountsAsync(network, token.Value!, query, cancellation)
            : new(token.Kind, Reason: token.Reason);
    }

    private static async Task<Contact> FindAsync(Id<Workspace> workspace, Id<Contact> id, LarkDb db, CancellationToken cancellation) =>
        await db.Contacts.SingleOrDefaultAsync(c => c.WorkspaceId == workspace && c.Id == id, cancellation)
        ?? throw ProblemException.NotFound("This contact");

    private static async Task TakeAsync(Contact contact, ContactEdit edit, LarkDb db, NetworkBook networks, CancellationToken cancellation)
    {
        string key = edit.Key.Trim();
        if (!Contact.IsKey(key))
            throw ProblemException.BadInput(
                $"“{key}” can't be written in a mention. Use letters, digits and hyphens, {Contact.LongestKey} at most, such as "
                    + "skerry-ferries."
            );
        Dictionary<string, ContactHandle> handles = [];
        foreach ((string network, string given) in edit.Handles ?? new Dictionary<string, string>())
        {
            if (!networks.Has(network))
                throw ProblemException.BadInput($"There is no network “{network}”.");
            string handle = (given ?? "").Trim().TrimStart('@');
            if (handle.Length == 0)
                continue;
            if (handle.Length > LongestHandle || handle.Any(c => char.IsWhiteSpace(c) || char.IsControl(c) || c is '{' or '}'))
                throw ProblemException.BadInput(
                    $"“{(handle.Length > 40 ? handle[..40] + "…" : handle)}” is no handle: one has no spaces and {LongestHandle} "
                        + "characters at most."
                );
            handles[network] = contact.Handles.GetValueOrDefault(network) is { } known && known.Handle == handle ? known : new(handle);
        }
        string lower = key.ToLowerInvariant();
        List<string> others = await db
            .Contacts.Where(c => c.WorkspaceId == contact.WorkspaceId && c.Id != contact.Id)
            .Select(c => c.Key)
            .ToListAsync(cancellation);
        if (others.Exists(o => o.Equals(lower, StringComparison.OrdinalIgnoreCase)))
            throw ProblemException.Conflict($"Somebody else in the address book is called “{key}”. Choose another.");
        (contact.Key, contact.Name, contact.Kind, contact.Handles) = (key, edit.Name.Trim(), edit.Kind, handles);
    }

    /// <param name="keys">By which posts mention it, or did.</param>
    private static async Task SaveAsync(
        Contact contact,
        string[] keys,
        LarkDb db,
        NetworkBook networks,
        Instant now,
        CancellationToken cancellation
    )
    {
        await using AloneInWorkspace alone = await db.BeginAloneAsync(contact.WorkspaceId, cancellation);
        await db.SaveChangesAsync(cancellation);
        string[] mentions = [.. keys.Select(k => $"@{{{k}}}")];
        string[] handles = [.. contact.Handles.Values.Select(h => "@" + h.Handle)];
        await StalePosts.CheckUsingAsync(
            contact.WorkspaceId,
            p => p.Content.Says([.. mentions, .. handles]),
            db,
            networks,
            now,
            cancellation
        );
        await db.SaveChangesAsync(cancellation);
        await alone.CommitAsync(cancellation);
    }
}
