using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
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

    /// <summary>All counts and findings, and the files used.</summary>
    /// <exception cref="ProblemException">A file or a channel isn't this workspace's.</exception>
    public async Task<(PostChecks Checks, IReadOnlyList<MediaFile> Files)> CheckAsync(
        Id<Workspace> workspace,
        PostContent content,
        CancellationToken cancellation
    )
    {
        (ContentSources sources, IReadOnlyList<MediaFile> files) = await SourcesAsync(workspace, content, cancellation);
        List<Channel> channels = await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == workspace).ToListAsync(cancellation);
        if (content.AllChannels().Except(channels.Select(c => c.Id)).Any())
            throw ProblemException.BadInput("The content names a channel that isn't in this workspace. Leave it out.");
        return (PostChecks.Of(content, networks, channels, sources), files);
    }

    /// <summary>Mends for one network what needs no decision.</summary>
    /// <exception cref="ProblemException">A file isn't this workspace's, or there is no such network.</exception>
    public async Task<FittedContent> FitAsync(Id<Workspace> workspace, PostContent content, string network, CancellationToken cancellation)
    {
        if (!networks.Has(network))
            throw ProblemException.BadInput($"There is no network “{network}”.");
        return Fitting.Fit(content, networks[network], (await SourcesAsync(workspace, content, cancellation)).Sources);
    }

    private async Task<(ContentSources Sources, IReadOnlyList<MediaFile> Files)> SourcesAsync(
        Id<Workspace> workspace,
        PostContent content,
        CancellationToken cancellation
    )
    {
        Id<MediaFile>[] ids = [.. content.AllFiles()];
        ContentSources sources = await db.SourcesAsync(workspace, ids, cancellation);
        MediaFile[] files = [.. ids.Select(sources.Media).OfType<MediaFile>()];
        return files.Length == ids.Length
            ? (sources, files)
            : throw ProblemException.BadInput("One of the files isn't in this workspace. Add it again.");
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
                Formats.Of(c.Check.Content.Fields, c.Target.Rules).ByPerson,
                c.Check.Count.Parts,
                [.. c.Check.Findings.Select(f => FindingView.Of(f, c.Target.Rules))],
                [.. c.Check.Wordings.Select(w => w.Block?.Words)],
                approved?.Invoke(c.Key)
            )),
        ];
}
