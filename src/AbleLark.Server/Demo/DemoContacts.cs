using AbleLark.Core;
using AbleLark.Core.Contacts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;

namespace AbleLark.Server.Demo;

/// <summary>Whom the demo's posts mention, and their accounts on the networks.</summary>
internal static class DemoContacts
{
    private static readonly DemoAccount[] Accounts =
    [
        new("", "jot", "skerryferries", "Skerry Ferries", 700),
        new("", "hearth", "skerry-ferries", "Skerry Ferries", 900),
        new("", "jot", "oskrenn", "Osk Renn", 120, IsPerson: true),
        new("", "meadow", "oskrenn", "Osk Renn", 80, IsPerson: true),
    ];

    public static async Task AddAsync(LarkDb db, Workspace workspace, StandInControl standIns, CancellationToken cancellation)
    {
        db.Contacts.AddRange(
            Contact(workspace, "skerry", ContactKind.Page, Accounts[0], Accounts[1]),
            Contact(workspace, "osk", ContactKind.Person, Accounts[2], Accounts[3])
        );
        foreach (DemoAccount account in Accounts)
            await standIns.AddAccountAsync(account, [], cancellation);
    }

    private static Contact Contact(Workspace workspace, string key, ContactKind kind, params DemoAccount[] accounts) =>
        new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Contact>.New(),
            Key = key,
            Name = accounts[0].Name,
            Kind = kind,
            Handles = accounts.ToDictionary(a => a.Network, a => new ContactHandle(a.Handle)),
        };
}
