using System.Globalization;
using System.Net;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>What visitors of the networks see.</summary>
internal static class Pages
{
    private static readonly StandInNetwork Lobby = new(
        "",
        "Stand-in networks",
        "",
        "#f3f1ec",
        "#26231e",
        "#5a5346",
        null,
        null,
        0,
        0,
        null,
        null,
        false,
        1,
        0
    );

    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"];

    public static void Map(WebApplication app)
    {
        app.MapGet("/", HomeAsync);
        app.MapGet("/control", ControlAsync);
        app.MapGet(
            "/media/{id}",
            async (string id, Store store) =>
                await store.MediaAsync(id) is { } media ? Results.Bytes(media.Bytes, media.Kind) : Results.NotFound()
        );
        app.MapGet("/{network}", NetworkAsync);
        app.MapGet("/{network}/{handle}", AccountAsync);
        app.MapGet("/{network}/{handle}/{id}", PostAsync);
        app.MapPost("/{network}/{handle}", PostByHandAsync).DisableAntiforgery();
    }

    public static IResult Html(StandInNetwork network, string title, string body) =>
        Results.Content(
            $$"""
            <!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
            <title>{{E(title)}} · {{E(network.Name)}}</title><link rel="icon" href="data:,"><style>
            body{margin:0;background:{{network.Paper}};color:{{network.Ink}};font:16px/1.5 ui-sans-serif,sans-serif}
            main{max-width:40rem;margin:0 auto;padding:1.5rem}
                header{border-bottom:3px solid {{network.Accent}};padding:.8rem 1.5rem;font-weight:700}
            a{color:{{network.Accent}}} article{border-top:1px solid {{network.Ink}}33;padding:1rem 0} article
                p{white-space:pre-wrap;overflow-wrap:anywhere;margin:.3rem 0}
            img,video{max-width:100%;border-radius:4px}
                .card{border:1px solid {{network.Ink}}44;padding:.5rem .8rem;display:block;margin:.5rem 0;overflow-wrap:anywhere}
            small{opacity:.75} .under{margin-left:2rem}
                .choice{display:flex;gap:.6rem;padding:.4rem 0} fieldset{border:1px solid {{network.Ink}}44;margin:1rem 0}
            button{background:{{network.Accent}};color:#fff;border:0;padding:.6rem 1.2rem;font:inherit;border-radius:3px;cursor:pointer}
                button.quiet{background:none;color:inherit;border:1px solid}
            select,input{font:inherit;padding:.3rem}
            </style></head><body><header>{{E(network.Name)}}</header><main>{{body}}</main></body></html>
            """,
            "text/html; charset=utf-8"
        );

    private static async Task<IResult> HomeAsync(StandInNetworks networks, Store store)
    {
        IReadOnlyList<Account> accounts = await store.AccountsAsync();
        string lists = string.Concat(
            networks.ByKey.Values.Select(n =>
                $"<h2><a href='/{n.Key}'>{E(n.Name)}</a></h2><p>{E(n.About)}</p><ul>"
                + string.Concat(accounts.Where(a => a.Network == n.Key).Select(a => $"<li>{AccountLink(a)}</li>"))
                + "</ul>"
            )
        );
        return Html(
            Lobby,
            "Simulated networks",
            $"<h1>Simulated networks</h1><p>None of this is real. <a href='/control'>Order faults</a></p>{lists}"
        );
    }

    private static async Task<IResult> ControlAsync(Store store)
    {
        IReadOnlyList<Account> accounts = await store.AccountsAsync();
        IReadOnlyList<(string? Account, string Kind, int Remaining)> faults = await store.FaultsAsync();
        string options = string.Concat(accounts.Select(a => $"<option value='{E(a.Id)}'>{E(a.Network)}: {E(a.Name)}</option>"));
        string kinds = string.Concat(Faults.Kinds.Select(k => $"<option>{k}</option>"));
        string ordered =
            faults.Count == 0
                ? "<p>Nothing is ordered: all goes well.</p>"
                : "<ul>"
                    + string.Concat(faults.Select(f => $"<li>{f.Kind}, {f.Remaining} × on {E(f.Account ?? "every account")}</li>"))
                    + "</ul><form method='post' action='/control/faults/clear'><button class='quiet'>Clear all</button></form>";
        return Html(
            Lobby,
            "Faults",
            $"""
            <h1>Faults on demand</h1>{ordered}
            <form method="post" action="/control/faults/form"><p><label>Kind <select name="kind">{kinds}</select></label>
            <label>on <select name="account"><option value="">every account</option>{options}</select></label>
            <label>times <input name="times" type="number" value="1" min="1" max="999"></label></p><button>Order it</button></form>
            """
        );
    }

    private static async Task<IResult> NetworkAsync(string network, StandInNetworks networks, Store store)
    {
        if (networks.Find(network) is not { } shown)
            return Results.NotFound();
        IReadOnlyList<Account> accounts = await store.AccountsAsync(network);
        return Html(
            shown,
            shown.About,
            $"<h1>{E(shown.About)}</h1>"
                + $"<ul>{string.Concat(accounts.Select(a => $"<li>{AccountLink(a)}, {a.Followers:N0} followers</li>"))}</ul>"
        );
    }

    private static async Task<IResult> AccountAsync(string network, string handle, StandInNetworks networks, Store store)
    {
        if (await FindAsync(network, handle, networks, store) is not { } found)
            return Results.NotFound();
        IReadOnlyList<RemotePost> posts = [.. (await store.PostsOfAsync(found.Account.Id, 60)).Where(p => p.Under is null)];
        Instant now = await store.NowAsync();
        string list =
            posts.Count == 0
                ? "<p>Nothing posted yet.</p>"
                : string.Concat(posts.Select(p => Article(found.Network, found.Account, p, now)));
        return Html(
            found.Network,
            found.Account.Name,
            $"<h1>{E(found.Account.Name)}</h1><p>@{E(handle)} · {found.Account.Followers:N0} followers</p>"
                + $"<details><summary>Post something here yourself</summary><form method='post' action='/{E(network)}/{E(handle)}'>"
                + "<p><textarea name='text' rows='5' cols='40' aria-label='What it says'></textarea></p><button>Post it</button></form>"
                + $"</details>{list}"
        );
    }

    /// <summary>A person posts on the network itself: whatever it is, it stands there.</summary>
    private static async Task<IResult> PostByHandAsync(
        string network,
        string handle,
        HttpRequest request,
        StandInNetworks networks,
        Store store
    )
    {
        if (await FindAsync(network, handle, networks, store) is not { } found)
            return Results.NotFound();
        PostingApi.NewPost said = new((await request.ReadFormAsync())["text"].ToString(), null, null, null);
        string key = Guid.NewGuid().ToString("n");
        RemotePost post = PostingApi.PostOf(found.Network, found.Account, said, [], key, await store.NowAsync(), null);
        await store.AddPostAsync(post, key);
        return Results.Redirect(PostingApi.AddressOf(request, post, found.Account));
    }

    private static async Task<IResult> PostAsync(string network, string handle, string id, StandInNetworks networks, Store store)
    {
        if (
            await FindAsync(network, handle, networks, store) is not { } found
            || await store.PostAsync(id) is not { } post
            || post.AccountId != found.Account.Id
        )
            return Results.NotFound();
        return Html(
            found.Network,
            found.Account.Name,
            $"<p><a href='/{network}/{E(handle)}'>{E(found.Account.Name)}</a></p>"
                + Article(found.Network, found.Account, post, await store.NowAsync())
                + string.Concat(
                    (await store.UnderAsync(post.Id)).Select(u =>
                        $"<article class='under'><p>{E(u.Text)}</p>{string.Concat(u.Media.Select(Shown))}</article>"
                    )
                )
        );
    }

    private static async Task<(StandInNetwork Network, Account Account)?> FindAsync(
        string network,
        string handle,
        StandInNetworks networks,
        Store store
    )
    {
        if (networks.Find(network) is not { } shown)
            return null;
        Account? account = (await store.AccountsAsync(network)).FirstOrDefault(a => a.Handle == handle);
        return account is null ? null : (shown, account);
    }

    private static string Article(StandInNetwork network, Account account, RemotePost post, Instant now)
    {
        Reactions r = Audience.React(network, account, post, now);
        string pictures = string.Concat(post.Media.Select(Shown));
        string target = post.More.GetValueOrDefault("buttonTarget") is { Length: > 0 } own ? own : post.Link ?? "";
        string card =
            post.More.TryGetValue("buttonVerb", out string? verb)
                ? $"<p><a class='card' href='{E(target.StartsWith('+') ? "tel:" + target : target)}'>{E(verb)}</a></p>"
            : post.Link is null ? ""
            : Card(post);
        string when = post.CreatedAt.InZone(Zone).ToString("ddd d MMM yyyy, HH:mm", CultureInfo.InvariantCulture);
        string Said(string name, string shape) =>
            post.More.TryGetValue(name, out string? said) ? string.Format(CultureInfo.InvariantCulture, shape, E(said)) : "";
        return $"<article><small><a href='/{network.Key}/{E(account.Handle)}/{E(post.Id)}'>{when}</a>{Said("location", " · {0}")}"
            + $"{Said("wall", " · on the wall “{0}”")}{Said("visibility", " · for {0}")}</small>{Said("title", "<h3>{0}</h3>")}"
            + $"{Said("offeredFrom", "<p><b>{0}")}{Said("offeredUntil", " to {0}</b></p>")}"
            + $"{Said("contentWarning", "<p><b>{0}</b></p>")}<p>{E(post.Text)}</p>{card}"
            + $"{pictures}<small>{r.Likes} likes · {r.Comments ?? 0} comments · {r.Shares} shares</small></article>";
    }

    private static string Shown(ShownMedia media)
    {
        string source = $"/media/{E(media.Id)}";
        return media.Kind switch
        {
            "video/mp4" => $"<video src='{source}' controls></video>",
            "application/pdf" => $"<p><a class='card' href='{source}'>Document (PDF)</a></p>",
            _ => $"<img src='{source}' alt='{E(media.AltText ?? "")}'>",
        };
    }

    private static string Card(RemotePost post)
    {
        string Part(string name, string shape) =>
            post.More.TryGetValue(name, out string? said) ? string.Format(CultureInfo.InvariantCulture, shape, E(said)) : "";
        return $"<a class='card' href='{E(post.Link!)}'>{Part("cardPicture", "<img src='/media/{0}' alt=''>")}"
            + $"{Part("cardTitle", "<b>{0}</b><br>")}{Part("cardText", "{0}<br>")}<small>{E(post.Link!)}</small></a>";
    }

    private static string AccountLink(Account a) => $"<a href='/{a.Network}/{E(a.Handle)}'>{E(a.Name)}</a> @{E(a.Handle)}";

    private static string E(string text) => WebUtility.HtmlEncode(text);
}
