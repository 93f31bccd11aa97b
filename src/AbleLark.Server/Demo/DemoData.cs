using System.Security.Cryptography;
using System.Text;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Channels;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Posts;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>
/// Fills an empty database with the demo: three made-up clients. Their past is not invented but lived, by whole days (see
/// <see cref="DemoPast"/>).
/// </summary>
public sealed class DemoData(
    LarkDb db,
    UserManager<Person> people,
    ChannelTokens tokens,
    NetworkBook networks,
    NetworkConnector connector,
    MediaStore media,
    PostChecking checking,
    StandInControl standIns,
    DemoPast past,
    DemoAfterPast afterPast
)
{
    public const string Email = "wren@marram.example.org";
    public const string Password = "first light";

    /// <summary>Days that the demo has behind it when it begins.</summary>
    public const int PastDays = 182;

    /// <param name="now">When the demo begins.</param>
    /// <param name="days">How long its past is.</param>
    /// <param name="stillToGo">So many days before it begins the past ends and the clock goes on to then as it does in any jump.</param>
    public async Task MakeAsync(Instant now, int days, int stillToGo, CancellationToken cancellation)
    {
        DemoScenario scenario = DemoScenario.Load();
        Instant start = now - Duration.FromDays(days);
        Duration left = Duration.FromDays(stillToGo);
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

        Workspace marram = AddWorkspace(scenario.Slug, scenario.Name, scenario.Zone, "tide", wren);
        Workspace pottery = AddWorkspace("copperkettle", "Copperkettle Pottery Co-op", "Europe/Lisbon", "rust", wren);
        AddWorkspace("larch-street", "Larch Street Bike Kitchen", "Europe/Dublin", "reed", wren);
        await db.SaveChangesAsync(cancellation);

        Dictionary<string, Channel> channels = [];
        foreach (DemoAccount account in scenario.Accounts)
            channels[account.Key] = await ConnectAsync(marram, account, scenario.Interests, cancellation);
        foreach (string network in new[] { "jot", "hearth" })
        {
            // Nothing of the third client's is connected yet: that is for whoever tries the demo.
            await standIns.AddAccountAsync(
                new("larch", network, "larchstreet", "Larch Street Bikes", 940),
                scenario.Interests,
                cancellation
            );
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
        DemoCalendar.Add(db, marram, channels, marram.DateOf(now));
        await DemoContacts.AddAsync(db, marram, standIns, cancellation);
        marram.ButtonVerbs = ["Book a place", "Call the hostel", "Read more", "Give"];
        await db.SaveChangesAsync(cancellation);
        await AddPostsAsync(marram, scenario, categories, channels, start, marram.DateOf(now), wren.Id, cancellation);
        await db.SaveChangesAsync(cancellation);
        IReadOnlyList<Delivery> given = await AddExactTimesAsync(marram, channels["obs"], channels["moves"], now, cancellation);
        await past.LiveAsync(marram, given, start, now - left, cancellation);
        await afterPast.AddAsync(marram, channels["page"], categories["Sightings"], now - left, cancellation);
    }

    private Workspace AddWorkspace(string slug, string name, string zone, string colour, Person planner)
    {
        Workspace workspace = new()
        {
            Id = Id<Workspace>.New(),
            Slug = slug,
            Name = name,
            Zone = Zones.Find(zone)!,
            Colour = colour,
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

    /// <summary>Makes the account on the network, then connects it by the network's own consent page.</summary>
    private async Task<Channel> ConnectAsync(
        Workspace workspace,
        DemoAccount account,
        Dictionary<string, double> interests,
        CancellationToken cancellation
    )
    {
        string id = await standIns.AddAccountAsync(account, interests, cancellation);
        string code = await standIns.ConsentAsync(account.Network, id, cancellation);
        NetworkAnswer<RemoteTokens> granted = await connector.ExchangeCodeAsync(account.Network, code, cancellation);
        NetworkAnswer<RemoteAccount> shown = await connector.AccountAsync(account.Network, granted.Value!.AccessToken, cancellation);
        Channel channel = await ConnectEndpoints.ConnectAsync(
            db,
            tokens,
            workspace.Id,
            networks[account.Network],
            shown.Value!,
            granted.Value,
            cancellation
        );
        await db.SaveChangesAsync(cancellation);
        if (account.Ended)
        {
            await standIns.RevokeAsync(id, cancellation);
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

    /// <summary>Channels that show what too many repeats look like: nothing of what is fresh goes there.</summary>
    private static readonly string[] Stale = ["friends", "kitchen"];

    /// <summary>True for what was written of late: a third of the bank has never been out when the demo begins.</summary>
    private static bool IsFresh(DemoPost post, int number) =>
        number % 3 == 0 && post.Back is null && post.C != "Appeals" && post.T is not ("Volunteer weeks" or "Winter beds");

    /// <summary>The appeal is over in six days: but for two posts, its category runs dry.</summary>
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
        // Drawing takes longest, so all are drawn at once.
        ILookup<string, (int At, string Mood, byte[] Png)> drawn = scenario
            .Posts.Where(p => p.Pic is not null)
            .SelectMany(p => (p.Also ?? []).Prepend(p.Pic!).Select((mood, i) => (p.T, At: i, Mood: mood)))
            .AsParallel()
            .Select(p => (p.T, p.At, p.Mood, Png: DemoPictures.Draw(p.Mood, Seed(p.T) + p.At)))
            .ToLookup(p => p.T, p => (p.At, p.Mood, p.Png));
        Dictionary<string, MediaFile> films = [];
        foreach (string name in scenario.Posts.Select(p => p.Film).OfType<string>().Distinct())
        {
            films[name] = await AddFileAsync(workspace, $"{name}.mp4", cancellation);
            await using Stream poster = FileOf($"{name}.jpg");
            await media.SetPosterAsync(films[name], poster, cancellation);
        }
        MediaFile document = await AddFileAsync(workspace, "yearbook.pdf", cancellation);
        int number = 0;
        foreach (DemoPost written in scenario.Posts)
        {
            number++;
            bool isFresh = IsFresh(written, number);
            List<Id<MediaFile>> pictures = [];
            foreach ((int at, string mood, byte[] bytes) in drawn[written.T].OrderBy(d => d.At))
            {
                using MemoryStream png = new(bytes);
                string name = at == 0 ? $"{mood}-{number}.png" : $"{mood}-{number}-{at + 1}.png";
                MediaFile file = await media.AddAsync(workspace.Id, name, png, cancellation);
                file.AltText = number % WithoutAltTextEvery == 0 ? "" : scenario.AltTexts[mood];
                pictures.Add(file.Id);
                await db.SaveChangesAsync(cancellation);
            }
            PostContent content = DemoContent.Of(
                scenario,
                written,
                number,
                new(pictures, films.GetValueOrDefault(written.Film ?? "")?.Id, document.Id)
            );
            PostEdit edit = new(
                written.T,
                categories[written.C].Id,
                Stage.Ready,
                Lifespan.Evergreen,
                true,
                written.To is { } to ? [.. to.Select(k => channels[k].Id)]
                    : isFresh ? [.. OwnChannels(written)]
                    : null,
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
            await PostEndpoints.FillAsync(post, edit, new(author), needsOthers: false, start, db, checking, cancellation);
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

    /// <summary>So many posts, one has a picture without alt text: something is left to mend.</summary>
    private const int WithoutAltTextEvery = 9;

    private async Task<MediaFile> AddFileAsync(Workspace workspace, string name, CancellationToken cancellation)
    {
        await using Stream bytes = FileOf(name);
        return await media.AddAsync(workspace.Id, name, bytes, cancellation);
    }

    private static Stream FileOf(string name) => typeof(DemoData).Assembly.GetManifestResourceStream($"AbleLark.Server.Demo.{name}")!;

    /// <summary>A few exact times: one that goes well, one to come, one that the network will refuse for its repeated text, and one that a
    /// person has to post.</summary>
    private async Task<IReadOnlyList<Delivery>> AddExactTimesAsync(
        Workspace workspace,
        Channel channel,
        Channel byPerson,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Post> posts = await db
            .Posts.Where(p => p.WorkspaceId == workspace.Id && (p.Title == "Volunteer weeks" || p.Title == "Winter beds"))
            .OrderBy(p => p.Title)
            .ToListAsync(cancellation);
        LocalDate today = workspace.DateOf(now);
        Post film = await db.Posts.FirstAsync(p => p.WorkspaceId == workspace.Id && p.Title == "Sunrise, eight seconds", cancellation);
        List<Delivery> planned =
        [
            Plan(posts[0], -3, new(13, 10), channel),
            Plan(posts[0], -1, new(13, 10), channel),
            Plan(posts[1], 3, new(12, 15), channel),
            Plan(film, -1, new(7, 40), byPerson),
        ];
        db.Deliveries.AddRange(planned);
        return planned;

        Delivery Plan(Post post, int days, LocalTime time, Channel on) =>
            Delivery.AtExactTime(workspace, post.Id, on.Id, Occurrences.InstantOf(today.PlusDays(days), time, workspace.Zone)!.Value);
    }

    private static int Seed(string text) => BitConverter.ToInt32(SHA256.HashData(Encoding.UTF8.GetBytes(text)), 0);
}
