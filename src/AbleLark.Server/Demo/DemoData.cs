using System.Security.Cryptography;
using System.Text;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.People;
using AbleLark.Server.Channels;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Posts;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>
/// Fills an empty database with the demo: three made-up clients. Their past is not invented but lived: the clock starts
/// half a year back and runs forward to today through the same scheduling, sending and reading as any other day.
/// </summary>
public sealed class DemoData(
    LarkDb db,
    UserManager<Person> people,
    ChannelTokens tokens,
    NetworkConnector connector,
    MediaStore media,
    PostChecking checking,
    IClock machine,
    IHttpClientFactory http,
    IOptions<LarkSettings> settings
)
{
    public const string Email = "wren@marram.example.org";
    public const string Password = "first light";
    private static readonly Duration Past = Duration.FromDays(182);

    private string NetworksAddress => settings.Value.NetworksAddress.TrimEnd('/');

    public async Task MakeAsync(CancellationToken cancellation)
    {
        DemoScenario scenario = DemoScenario.Load();
        Instant now = machine.Now();
        Instant start = now - Past;
        db.BusinessTimes.Add(new() { Ahead = -Past, Target = now });
        Person wren = new()
        {
            Id = Guid.NewGuid(),
            UserName = Email,
            Email = Email,
            Name = "Wren Tallis",
        };
        IdentityResult made = await people.CreateAsync(wren, Password);
        if (!made.Succeeded)
            throw new InvalidOperationException(string.Join(" ", made.Errors.Select(e => e.Description)));

        Workspace marram = AddWorkspace(scenario.Slug, scenario.Name, scenario.Zone, wren);
        Workspace pottery = AddWorkspace("copperkettle", "Copperkettle Pottery Co-op", "Europe/Lisbon", wren);
        AddWorkspace("larch-street", "Larch Street Bike Kitchen", "Europe/Dublin", wren);
        await db.SaveChangesAsync(cancellation);

        Dictionary<string, Channel> channels = [];
        foreach (DemoAccount account in scenario.Accounts)
            channels[account.Key] = await ConnectAsync(marram, account, scenario.Interests, cancellation);
        foreach (string network in new[] { "jot", "hearth" })
        {
            // Nothing of the third client's is connected yet: that is for whoever tries the demo.
            await AddAccountAsync(new("larch", network, "larchstreet", "Larch Street Bikes", 940), scenario.Interests, cancellation);
        }
        Channel kiln = await ConnectAsync(pottery, new("kiln", "jot", "copperkettle", "Copperkettle", 830), [], cancellation);
        db.Categories.Add(NewCategory(pottery, new("Glaze notes", "rust", "Gn", []), 0, [kiln.Id]));
        await db.SaveChangesAsync(cancellation);

        Dictionary<string, Category> categories = scenario
            .Categories.Select((c, i) => NewCategory(marram, c, i, [.. c.Channels.Select(k => channels[k].Id)]))
            .ToDictionary(c => c.Name);
        db.Categories.AddRange(categories.Values);
        DemoRotas rotas = new(db);
        rotas.AddSlots(marram, scenario, categories, channels);
        rotas.AddWinterRota(marram, categories, channels, now);
        await AddPostsAsync(marram, scenario, categories, channels, start, marram.DateOf(now), wren.Id, cancellation);
        await db.SaveChangesAsync(cancellation);
        await AddExactTimesAsync(marram, channels["obs"], now, cancellation);
    }

    private Workspace AddWorkspace(string slug, string name, string zone, Person planner)
    {
        Workspace workspace = new()
        {
            Id = Id<Workspace>.New(),
            Slug = slug,
            Name = name,
            Zone = Zones.Find(zone)!,
        };
        db.Workspaces.Add(workspace);
        db.Memberships.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                PersonId = planner.Id,
                Role = Role.Owner,
            }
        );
        db.Rotas.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Rota>.New(),
                Name = "The week",
                Zone = workspace.Zone,
            }
        );
        return workspace;
    }

    /// <summary>Makes an account on a stand-in network; returns its identity there.</summary>
    private async Task<string> AddAccountAsync(DemoAccount account, Dictionary<string, double> interests, CancellationToken cancellation)
    {
        using HttpClient browser = http.CreateClient("demo");
        string id = $"{account.Network}-{account.Handle}";
        (
            await browser.PutAsJsonAsync(
                $"{NetworksAddress}/control/accounts",
                new
                {
                    id,
                    account.Network,
                    account.Handle,
                    account.Name,
                    account.Followers,
                    interests,
                },
                cancellation
            )
        ).EnsureSuccessStatusCode();
        return id;
    }

    /// <summary>Makes the account on the network, then connects it by the network's own consent page.</summary>
    private async Task<Channel> ConnectAsync(
        Workspace workspace,
        DemoAccount account,
        Dictionary<string, double> interests,
        CancellationToken cancellation
    )
    {
        string id = await AddAccountAsync(account, interests, cancellation);
        using HttpClient browser = http.CreateClient("demo");
        using FormUrlEncodedContent consent = new(
            new Dictionary<string, string>
            {
                ["redirectUri"] = "http://127.0.0.1/",
                ["state"] = "demo",
                ["account"] = id,
                ["answer"] = "allow",
            }
        );
        using HttpResponseMessage answer = await browser.PostAsync($"{NetworksAddress}/{account.Network}/consent", consent, cancellation);
        string code = System.Web.HttpUtility.ParseQueryString(answer.Headers.Location!.Query)["code"]!;
        NetworkAnswer<RemoteTokens> granted = await connector.ExchangeCodeAsync(account.Network, code, cancellation);
        NetworkAnswer<RemoteAccount> shown = await connector.AccountAsync(account.Network, granted.Value!.AccessToken, cancellation);
        Channel channel = await ChannelEndpoints.ConnectAsync(
            db,
            tokens,
            workspace.Id,
            account.Network,
            shown.Value!,
            granted.Value,
            cancellation
        );
        await db.SaveChangesAsync(cancellation);
        if (account.Ended)
        {
            (await browser.PostAsync($"{NetworksAddress}/control/accounts/{id}/revoke", null, cancellation)).EnsureSuccessStatusCode();
            await tokens.GetAsync(channel, renew: true, cancellation);
        }
        return channel;
    }

    private static Category NewCategory(Workspace workspace, DemoCategory c, int place, List<Id<Channel>> usual) =>
        new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Category>.New(),
            Name = c.Name,
            Colour = c.Colour,
            Monogram = c.Monogram,
            Position = place,
            UsualChannels = usual,
            Order = new(c.Order, FreshFirst: true, Seed: 1),
            GapDays = c.Gap,
            TargetShare = c.Target,
        };

    /// <summary>The appeal is over in six days: but for two posts, its category runs dry.</summary>
    /// <summary>Channels that show what too many repeats look like: nothing of what is fresh goes there.</summary>
    private static readonly string[] Stale = ["friends", "kitchen"];

    /// <summary>True for what was written of late: a third of the bank has never been out when the demo begins.</summary>
    private static bool IsFresh(DemoPost post, int number) =>
        number % 3 == 0 && post.Back is null && post.C != "Appeals" && post.T is not ("Volunteer weeks" or "Winter beds");

    private static LocalDate? AppealEnds(DemoPost post, LocalDate today) =>
        post.C == "Appeals" && Seed(post.T) % 5 != 0 ? today.PlusDays(6) : null;

    private async Task AddPostsAsync(
        Workspace workspace,
        DemoScenario scenario,
        Dictionary<string, Category> categories,
        Dictionary<string, Channel> channels,
        Instant start,
        LocalDate today,
        Guid author,
        CancellationToken cancellation
    )
    {
        int number = 0;
        foreach (DemoPost written in scenario.Posts)
        {
            number++;
            bool isFresh = IsFresh(written, number);
            Id<MediaFile>? picture = null;
            if (written.Pic is { } mood)
            {
                using MemoryStream png = new(DemoPictures.Draw(mood, Seed(written.T)));
                picture = (await media.AddAsync(workspace.Id, $"{mood}-{number}.png", png, cancellation)).Id;
                await db.SaveChangesAsync(cancellation);
            }
            PostContent content = PostContent.Empty.With(ContentFields.Text, written.X).With(ContentFields.Link, written.L);
            if (picture is { } shown)
                content = content.With(ContentFields.Picture, new Picture(shown));
            if (written.Jot is not null)
                content = content.With("jot", ContentFields.Text, written.Jot);
            PostEdit edit = new(
                written.T,
                categories[written.C].Id,
                Stage.Ready,
                Lifespan.Evergreen,
                true,
                isFresh ? [.. OwnChannels(written)] : null,
                content,
                From: isFresh ? today.PlusDays(-1) : null,
                To: AppealEnds(written, today)
            );
            Post post = new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Post>.New(),
                Title = "",
                CategoryId = edit.CategoryId,
                Version = 0,
                AddedOrder = number,
            };
            await PostEndpoints.FillAsync(post, edit, author, needsOthers: false, start, db, checking, cancellation);
            if (written.Back is { } note)
            {
                post.AskForApproval();
                post.SendBack(note);
            }
            db.Posts.Add(post);
        }

        IEnumerable<Id<Channel>> OwnChannels(DemoPost post) =>
            scenario.Categories.Single(c => c.Name == post.C).Channels.Except(Stale).Select(k => channels[k].Id);
    }

    /// <summary>A few exact times: one that goes well, one to come, and one that the network will refuse for its repeated text.</summary>
    private async Task AddExactTimesAsync(Workspace workspace, Channel channel, Instant now, CancellationToken cancellation)
    {
        List<Post> posts = await db
            .Posts.Where(p => p.WorkspaceId == workspace.Id && (p.Title == "Volunteer weeks" || p.Title == "Winter beds"))
            .OrderBy(p => p.Title)
            .ToListAsync(cancellation);
        LocalDate today = workspace.DateOf(now);
        Plan(posts[0], -3, new(13, 10));
        Plan(posts[0], -1, new(13, 10));
        Plan(posts[1], 3, new(12, 15));
        await db.SaveChangesAsync(cancellation);

        void Plan(Post post, int days, LocalTime time) =>
            db.Deliveries.Add(
                PostPlanning.New(workspace, post.Id, channel.Id, Occurrences.InstantOf(today.PlusDays(days), time, workspace.Zone)!.Value)
            );
    }

    private static int Seed(string text) => BitConverter.ToInt32(SHA256.HashData(Encoding.UTF8.GetBytes(text)), 0);
}
