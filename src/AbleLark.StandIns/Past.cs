using NodaTime;

namespace AbleLark.StandIns;

/// <summary>
/// Behind the scenes: what accounts posted before anybody was looking, many posts at once. The networks' own check and audience are the
/// same as for any other post; faults, limits of rate and tokens are left out.
/// </summary>
internal static class Past
{
    private const int RecentMost = 100;

    /// <param name="Account">The account's identity.</param>
    /// <param name="At">When it is posted; not before any post of the account that is there already.</param>
    /// <param name="Post">`under` names the key of a post that comes before it in the same request.</param>
    /// <param name="ReadAt">Times at which its figures are wanted.</param>
    /// <param name="ByHand">A person posts it on the network itself: what programs may is not asked.</param>
    public sealed record PastPost(
        string Account,
        string Key,
        DateTimeOffset At,
        PostingApi.NewPost Post,
        IReadOnlyList<DateTimeOffset> ReadAt,
        bool ByHand = false
    );

    /// <param name="Refusal">Why the network wouldn't have it; null: it is there.</param>
    /// <param name="Figures">At each time that was asked for.</param>
    public sealed record PastAnswer(string? Refusal, string? Id, string? Address, IReadOnlyList<Reactions> Figures);

    public static void Map(RouteGroupBuilder control)
    {
        control.MapPost("/past/posts", AddPostsAsync);
        control.MapPost("/past/media", AddMediaAsync);
    }

    private static async Task<IResult> AddPostsAsync(PastPost[] posts, HttpRequest request, Store store, StandInNetworks networks)
    {
        Dictionary<string, Account> accounts = (await store.AccountsAsync()).ToDictionary(a => a.Id);
        if (posts.FirstOrDefault(p => !accounts.ContainsKey(p.Account)) is { } stray)
            return Results.BadRequest($"There is no account “{stray.Account}”.");
        Dictionary<string, List<RemotePost>> recent = [];
        List<(RemotePost Post, string Key)> taken = [];
        HashSet<string> refused = [];
        Dictionary<string, RemotePost> made = [];
        Dictionary<string, MediaFacts> facts = await store.AllFactsAsync([
            .. posts.SelectMany(p => p.Post.Media ?? []).Select(m => m.Id).Distinct(),
        ]);
        List<PastAnswer> answers = [];
        foreach (PastPost sent in posts)
        {
            Account account = accounts[sent.Account];
            StandInNetwork network = networks.ByKey[account.Network];
            if (!recent.TryGetValue(account.Id, out List<RemotePost>? before))
                recent[account.Id] = before = network.RepeatDays is null ? [] : [.. await store.PostsOfAsync(account.Id, RecentMost)];
            Instant at = Instant.FromDateTimeOffset(sent.At);
            PostingApi.NewPost post = sent.Post;
            string? above = post.Under is { } under ? PostingApi.IdOf(account, under) : null;
            MediaFacts[] files = [.. (post.Media ?? []).Select(m => facts[m.Id])];
            List<string> texts = [];
            for (string? id = above; id is not null && made.TryGetValue(id, out RemotePost? over); id = over.Under)
                texts.Add(over.Text);
            string? refusal =
                post.Under is not null && refused.Contains(post.Under) ? "What it should stand under isn't there."
                : sent.ByHand ? null
                : Checker.Refusal(network, post, files, before, at, texts);
            if (refusal is not null)
            {
                refused.Add(sent.Key);
                answers.Add(new(refusal, null, null, []));
                continue;
            }
            RemotePost remote = PostingApi.PostOf(network, account, post, files, sent.Key, at, above);
            made[remote.Id] = remote;
            before.Add(remote);
            taken.Add((remote, sent.Key));
            answers.Add(
                new(
                    null,
                    remote.Id,
                    PostingApi.AddressOf(request, remote, account),
                    [.. sent.ReadAt.Select(r => Audience.React(network, account, remote, Instant.FromDateTimeOffset(r)))]
                )
            );
        }
        await store.AddPostsAsync(taken);
        return Results.Json(answers);
    }

    /// <param name="accounts">Identities of the accounts that upload the file, with commas between.</param>
    private static async Task<IResult> AddMediaAsync(
        string accounts,
        string key,
        HttpRequest request,
        Store store,
        [AsParameters] PostingApi.StatedFacts stated
    )
    {
        using MemoryStream bytes = new();
        await request.Body.CopyToAsync(bytes, request.HttpContext.RequestAborted);
        if (PostingApi.FactsOf(bytes.ToArray(), stated) is not { } facts)
            return Results.BadRequest("That is neither a picture, nor a video, nor a document.");
        return Results.Json(
            await store.AddMediaAsync(accounts.Split(',', StringSplitOptions.RemoveEmptyEntries), key, facts, bytes.ToArray())
        );
    }
}
