using AbleLark.Core;
using AbleLark.Core.Contacts;
using AbleLark.Core.Workspaces;

namespace AbleLark.Server.Demo;

/// <summary>Whom the demo's posts mention, and their accounts on the networks.</summary>
internal static class DemoContacts
{
    public static IReadOnlyList<DemoAccount> Accounts { get; } =
    [
        new("", "jot", "skerryferries", "Skerry Ferries", 700),
        new("", "hearth", "skerry-ferries", "Skerry Ferries", 900),
        new("", "jot", "oskrenn", "Osk Renn", 120, IsPerson: true),
        new("", "meadow", "oskrenn", "Osk Renn", 80, IsPerson: true),
    ];

    public static IReadOnlyList<Contact> Of(Workspace workspace) =>
        [
            Contact(workspace, "skerry", ContactKind.Page, Accounts[0], Accounts[1]),
            Contact(workspace, "osk", ContactKind.Person, Accounts[2], Accounts[3]),
        ];

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
