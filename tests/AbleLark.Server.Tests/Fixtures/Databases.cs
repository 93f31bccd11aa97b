using AbleLark.Core;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Npgsql;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>
/// Real PostgreSQL for the tests: one template database, brought up to date by the migrations and holding two people with
/// a workspace each, is copied for every test that asks. `./lark test` starts the server and names it in LARK_TEST_POSTGRES.
/// </summary>
public static class Databases
{
    public const string Password = "a test's password";

    /// <summary>Its own for each process: tests of the server and of the page run side by side.</summary>
    private static readonly string Template = $"lark_template_{Environment.ProcessId}";

    /// <summary>Hundreds sign in: their passwords are hashed in fewer rounds than people's.</summary>
    public const int PasswordRounds = 1_000;

    private static readonly PasswordHasher<Person> Hasher = new(
        Options.Create(new PasswordHasherOptions { IterationCount = PasswordRounds })
    );

    private static readonly Lazy<Task> Ready = new(MakeTemplateAsync);
    private static int _number;

    public static string Server { get; } =
        Environment.GetEnvironmentVariable("LARK_TEST_POSTGRES")
        ?? throw new InvalidOperationException("These tests need PostgreSQL: run them with ./lark test, which starts one.");

    /// <remarks>Hundreds of databases share one server: a connection that nobody uses is let go of soon.</remarks>
    public static string Connection(string database) =>
        new NpgsqlConnectionStringBuilder(Server)
        {
            Database = database,
            IncludeErrorDetail = true,
            ConnectionIdleLifetime = 4,
            ConnectionPruningInterval = 2,
        }.ToString();

    /// <summary>A database of its own for one test; returns its connection string.</summary>
    public static async Task<string> NewAsync()
    {
        await Ready.Value;
        string name = $"lark_test_{Environment.ProcessId}_{Interlocked.Increment(ref _number)}";
        await ExecuteAsync($"create database {name} template {Template}");
        return Connection(name);
    }

    /// <summary>An empty database, without tables.</summary>
    public static async Task<string> EmptyAsync()
    {
        string name = $"lark_empty_{Environment.ProcessId}_{Interlocked.Increment(ref _number)}";
        await ExecuteAsync($"create database {name}");
        return Connection(name);
    }

    public static LarkDb Open(string connection) =>
        new LarkDatabase((DbContextOptions<LarkDatabase>)new DbContextOptionsBuilder<LarkDatabase>().UseLark(connection).Options);

    private static async Task MakeTemplateAsync()
    {
        await ExecuteAsync($"drop database if exists {Template}");
        await ExecuteAsync($"create database {Template}");
        // A database that somebody is connected to can't be copied: no connection may linger in a pool.
        await using (LarkDb db = Open(Connection(Template) + ";Pooling=false"))
        {
            await db.Database.MigrateAsync();
            AddPerson(db, "ada@example.org", "Ada Finch", "harbour", "Harbour Ropes");
            AddPerson(db, "ben@example.org", "Ben Teal", "orchard", "Orchard Cider");
            db.BusinessTimes.Add(new());
            await db.SaveChangesAsync();
        }
    }

    internal static void AddPerson(LarkDb db, string email, string name, string slug, string workspaceName) =>
        AddWorkspace(db, AddPerson(db, email, name), slug, workspaceName);

    /// <summary>Somebody who can sign in, and belongs nowhere yet.</summary>
    public static Guid AddPerson(LarkDb db, string email, string name)
    {
        Person person = new()
        {
            Id = Guid.NewGuid(),
            UserName = email,
            NormalizedUserName = email.ToUpperInvariant(),
            Email = email,
            NormalizedEmail = email.ToUpperInvariant(),
            Name = name,
            SecurityStamp = Guid.NewGuid().ToString(),
            LockoutEnabled = true,
        };
        person.PasswordHash = Hasher.HashPassword(person, Password);
        db.Users.Add(person);
        return person.Id;
    }

    /// <summary>A workspace with nothing in it but a rota without slots.</summary>
    public static void AddWorkspace(LarkDb db, Guid person, string slug, string name)
    {
        Workspace workspace = new()
        {
            Id = Id<Workspace>.New(),
            Slug = slug,
            Name = name,
            Zone = Zones.Find("Europe/Dublin")!,
        };
        db.Workspaces.Add(workspace);
        db.Memberships.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                PersonId = person,
                Role = Role.Owner,
            }
        );
        db.Rotas.Add(
            new Rota
            {
                WorkspaceId = workspace.Id,
                Id = Id<Rota>.New(),
                Name = "The week",
                Zone = workspace.Zone,
            }
        );
    }

    private static async Task ExecuteAsync(string sql)
    {
        await using NpgsqlConnection connection = new(Connection("postgres"));
        await connection.OpenAsync();
        await using NpgsqlCommand command = new(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
