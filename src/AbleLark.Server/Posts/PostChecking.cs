using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Posts;

/// <summary>Checks content for every network and for channels that have content of their own.</summary>
public sealed class PostChecking(LarkDb db, NetworkBook networks)
{
    /// <summary>The content with bounds kept and what says nothing dropped.</summary>
    public PostContent Tidy(PostContent content)
    {
        if (content is null)
            throw ProblemException.BadInput("The post has no content: send at least an empty object.");
        if (content.Wordings.Any(w => w is null))
            throw ProblemException.BadInput("One of the wordings is empty. Leave it out.");
        if (content.Wordings.Prepend(content).SelectMany(EmptyLayers).FirstOrDefault() is { } empty)
            throw ProblemException.BadInput($"What the content says for “{empty}” is null. Leave it out, or say something.");
        IEnumerable<string> named = content.Wordings.SelectMany(w => w.Networks.Keys).Concat(content.Networks.Keys);
        if (named.FirstOrDefault(k => !networks.Has(k)) is { } unknown)
            throw ProblemException.BadInput($"There is no network “{unknown}”.");
        PostContent tidy;
        try
        {
            tidy = content.Tidied();
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
        return tidy.Wordings.Count <= PostContent.MostWordings
            ? tidy
            : throw ProblemException.BadInput(
                $"The post has {tidy.Wordings.Count} wordings; {PostContent.MostWordings} is the most. Remove some, or make them posts of "
                    + "their own."
            );
    }

    private static IEnumerable<string> EmptyLayers(ContentLayers layers) =>
        [
            .. layers.Networks.Where(n => n.Value is null).Select(n => n.Key),
            .. layers.Channels.Where(c => c.Value is null).Select(c => c.Key.ToString()),
        ];

    /// <summary>All counts and findings, and the pictures used.</summary>
    /// <exception cref="ProblemException">A picture or a channel isn't this workspace's.</exception>
    public async Task<(PostChecks Checks, IReadOnlyList<MediaFile> Pictures)> CheckAsync(
        Id<Workspace> workspace,
        PostContent content,
        CancellationToken cancellation
    )
    {
        List<MediaFile> pictures = await PicturesAsync(workspace, content, cancellation);
        List<Id<Channel>> named = [.. content.AllChannels()];
        List<Channel> channels =
            named.Count == 0
                ? []
                : await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == workspace && named.Contains(c.Id)).ToListAsync(cancellation);
        if (channels.Count < named.Count)
            throw ProblemException.BadInput("The content names a channel that isn't in this workspace. Leave it out.");
        ContentSources sources = new(id => pictures.Find(p => p.Id == id));
        return (PostChecks.Of(content, networks, channels, sources), pictures);
    }

    /// <summary>Mends for one network what needs no decision.</summary>
    /// <exception cref="ProblemException">A picture isn't this workspace's, or there is no such network.</exception>
    public async Task<FittedContent> FitAsync(Id<Workspace> workspace, PostContent content, string network, CancellationToken cancellation)
    {
        if (!networks.Has(network))
            throw ProblemException.BadInput($"There is no network “{network}”.");
        List<MediaFile> pictures = await PicturesAsync(workspace, content, cancellation);
        return Fitting.Fit(content, networks[network], new(id => pictures.Find(p => p.Id == id)));
    }

    private async Task<List<MediaFile>> PicturesAsync(Id<Workspace> workspace, PostContent content, CancellationToken cancellation)
    {
        List<Id<MediaFile>> ids = [.. content.AllPictures()];
        List<MediaFile> pictures =
            ids.Count == 0
                ? []
                : await db.Media.AsNoTracking().Where(m => m.WorkspaceId == workspace && ids.Contains(m.Id)).ToListAsync(cancellation);
        return pictures.Count == ids.Count
            ? pictures
            : throw ProblemException.BadInput("One of the pictures isn't in this workspace. Add it again.");
    }

    /// <param name="approved">Says of a network or channel, by its key, whether all its wordings have approval; null where none is
    /// needed.</param>
    public static IReadOnlyList<NetworkCheck> Views(PostChecks checks, Func<string, bool?>? approved = null) =>
        [
            .. checks.All.Select(c => new NetworkCheck(
                c.Target.Rules.Key,
                c.Target.Channel,
                c.Check.Fits,
                c.Check.Count.Units,
                c.Check.Count.Limit,
                c.Check.Count.OverflowAt,
                c.Check.Content.Fields.With(ContentFields.Text, TextCounter.Normalise(c.Check.Content.Text)),
                c.Check.Count.Parts,
                [.. c.Check.Findings.Select(FindingView.Of)],
                [.. c.Check.Wordings.Select(w => w.Block?.Words)],
                approved?.Invoke(c.Key)
            )),
        ];
}
