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
    public sealed record PastPost(
        string Account,
        string Key,
        DateTimeOffset At,
        PostingApi.NewPost Post,
        IReadOnlyList<DateTimeOffset> ReadAt
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
        Dictionary<string, string> texts = [];
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
            string? refusal =
                post.Under is not null && refused.Contains(post.Under)
                    ? "What it should stand under isn't there."
                    : Checker.Refusal(network, post, before, at, above is null ? null : texts.GetValueOrDefault(above, ""));
            if (refusal is not null)
            {
                refused.Add(sent.Key);
                answers.Add(new(refusal, null, null, []));
                continue;
            }
            RemotePost made = PostingApi.PostOf(network, account, post, sent.Key, at, above);
            texts[made.Id] = made.Text;
            before.Add(made);
            taken.Add((made, sent.Key));
            answers.Add(
                new(
                    null,
                    made.Id,
                    PostingApi.AddressOf(request, made, account),
                    [.. sent.ReadAt.Select(r => Audience.React(network, account, made, Instant.FromDateTimeOffset(r)))]
                )
            );
        }
        await store.AddPostsAsync(taken);
        return Results.Json(answers);
    }

    /// <param name="accounts">Identities of the accounts that upload the file, with commas between.</param>
    private static async Task<IResult> AddMediaAsync(string accounts, string key, HttpRequest request, Store store)
    {
        using MemoryStream bytes = new();
        await request.Body.CopyToAsync(bytes, request.HttpContext.RequestAborted);
        if (PostingApi.KindOf(bytes.ToArray()) is not { } kind)
            return Results.BadRequest("That is not a picture.");
        return Results.Json(
            await store.AddMediaAsync(accounts.Split(',', StringSplitOptions.RemoveEmptyEntries), key, kind, bytes.ToArray())
        );
    }
}
