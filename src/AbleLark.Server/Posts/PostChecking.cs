using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Posts;

/// <summary>Checks content against every network, and stores on the post what the line-up needs to know of it.</summary>
public sealed class PostChecking(LarkDb db, NetworkBook networks)
{
    public const int LongestText = 100_000;

    /// <summary>The content with bounds kept and empty variants dropped.</summary>
    public PostContent Tidy(PostContent content)
    {
        if (content is null || content.Text is null)
            throw ProblemException.BadInput("The post has no content: send at least an empty text.");
        IReadOnlyDictionary<string, Variant> given = content.Variants ?? new Dictionary<string, Variant>();
        if (given.Keys.FirstOrDefault(k => !networks.Has(k)) is { } unknown)
            throw ProblemException.BadInput($"There is no network “{unknown}”.");
        string? link = string.IsNullOrWhiteSpace(content.Link) ? null : content.Link.Trim();
        if (link is not null && !WebAddress.IsValid(link))
            throw ProblemException.BadInput(
                $"“{(link.Length > 80 ? link[..80] + "…" : link)}” is not a web address. It should start with https://."
            );
        IReadOnlyList<Wording> wordings =
        [
            .. (content.Wordings ?? []).Where(a => a is not null && (a.Picture is not null || !string.IsNullOrWhiteSpace(a.Text))),
        ];
        if (wordings.Count > PostContent.MostWordings)
            throw ProblemException.BadInput(
                $"The post has {wordings.Count} wordings; {PostContent.MostWordings} is the most. Remove some, or make them posts of "
                    + "their own."
            );
        if (given.Values.Select(v => v?.Text).Concat(wordings.Select(a => a.Text)).Append(content.Text).Any(t => t?.Length > LongestText))
            throw ProblemException.BadInput($"A text is longer than {LongestText:N0} characters, which no network takes. Shorten it.");
        return content with
        {
            Link = link,
            Wordings = wordings,
            Variants = given
                .Where(v => v.Value is { IsEmpty: false })
                .OrderBy(v => v.Key, StringComparer.Ordinal)
                .ToDictionary(v => v.Key, v => v.Value),
        };
    }

    /// <summary>Every network's count and findings, and the pictures used.</summary>
    /// <exception cref="ProblemException">A picture isn't this workspace's.</exception>
    public async Task<(IReadOnlyDictionary<string, CheckedContent> Checks, IReadOnlyList<MediaFile> Pictures)> CheckAsync(
        Id<Workspace> workspace,
        PostContent content,
        CancellationToken cancellation
    )
    {
        List<Id<MediaFile>> ids = [.. content.AllPictures()];
        List<MediaFile> pictures =
            ids.Count == 0
                ? []
                : await db.Media.AsNoTracking().Where(m => m.WorkspaceId == workspace && ids.Contains(m.Id)).ToListAsync(cancellation);
        if (pictures.Count < ids.Count)
            throw ProblemException.BadInput("One of the pictures isn't in this workspace. Add it again.");
        Dictionary<string, CheckedContent> checks = networks.All.ToDictionary(
            n => n.Key,
            n => ContentCheck.CheckAll(content, n, id => pictures.FirstOrDefault(p => p.Id == id))
        );
        return (checks, pictures);
    }

    /// <summary>What is stored with the post, so that the line-up needn't look at its texts.</summary>
    public static Dictionary<string, NetworkFit> Fits(IReadOnlyDictionary<string, CheckedContent> checks) =>
        checks.ToDictionary(
            c => c.Key,
            c => new NetworkFit(
                c.Value.Block,
                IdenticalText.Fingerprint(c.Value.Content.Text),
                c.Value.Wordings.Count == 0
                    ? null
                    : [.. c.Value.Wordings.Select(a => new WordingFit(a.Block, IdenticalText.Fingerprint(a.Content.Text)))]
            )
        );

    /// <summary>Hash of each wording by network, the post's own first.</summary>
    public static Dictionary<string, IReadOnlyList<string>> Hashes(
        IReadOnlyDictionary<string, CheckedContent> checks,
        IEnumerable<MediaFile> pictures
    )
    {
        Dictionary<Id<MediaFile>, string> hashes = pictures.ToDictionary(p => p.Id, p => p.Hash);
        return checks.ToDictionary(
            c => c.Key,
            c =>
                (IReadOnlyList<string>)
                    [
                        .. c
                            .Value.Wordings.Prepend(c.Value)
                            .Select(w => ContentHash.Of(w.Content, w.Content.PictureId is { } id ? hashes[id] : null)),
                    ]
        );
    }

    /// <param name="approved">Says of a network whether all its wordings have approval; null where none is needed.</param>
    public static IReadOnlyList<NetworkCheck> Views(
        IReadOnlyDictionary<string, CheckedContent> checks,
        Func<string, bool?>? approved = null
    ) =>
        [
            .. checks.Select(c => new NetworkCheck(
                c.Key,
                c.Value.Fits,
                c.Value.Count.Units,
                c.Value.Count.Limit,
                c.Value.Count.OverflowAt,
                TextCounter.Normalise(c.Value.Content.Text),
                c.Value.Content.CardLink,
                c.Value.Content.PictureId?.Value,
                c.Value.Count.Parts,
                [.. c.Value.Findings.Select(FindingView.Of)],
                [.. c.Value.Wordings.Select(a => a.Block)],
                approved?.Invoke(c.Key)
            )),
        ];
}
