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

    /// <summary>Mends for some networks, or for a channel of one, what needs no decision.</summary>
    /// <exception cref="ProblemException">A file or the channel isn't this workspace's, or there is no such network.</exception>
    public async Task<FittedView> FitAsync(Id<Workspace> workspace, FitRequest request, CancellationToken cancellation)
    {
        PostContent content = Tidy(request.Content);
        if (request.Networks.FirstOrDefault(n => !networks.Has(n)) is { } unknown)
            throw ProblemException.BadInput($"There is no network “{unknown}”.");
        Target[] targets = [.. request.Networks.Distinct().Select(n => new Target(networks[n]))];
        if (request.Channel is { } id)
        {
            Channel channel =
                await db.Channels.AsNoTracking().SingleOrDefaultAsync(c => c.WorkspaceId == workspace && c.Id == id, cancellation)
                ?? throw ProblemException.NotFound("This channel");
            if (targets.Length != 1 || targets[0].Rules.Key != channel.Network)
                throw ProblemException.BadInput("A channel is made to fit by itself: name its network, and no other.");
            targets = [new(networks.For(channel), channel.Id)];
        }
        ContentSources sources = (await SourcesAsync(workspace, content, cancellation)).Sources;
        List<FixView> done = [];
        foreach (Target target in targets)
        {
            FittedContent fitted = Fitting.Fit(content, target, sources, request.Only);
            content = fitted.Content;
            done.AddRange(fitted.Done.Select(d => new FixView(target.Rules.Key, d)));
        }
        return new(content, done);
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
    /// <param name="wording">Which wording is shown; one that isn't there counts as 0, the post's own.</param>
    public static IReadOnlyList<NetworkCheck> Views(PostChecks checks, Func<string, bool?>? approved = null, int wording = 0) =>
        [.. checks.All.Select(c => View(c, c.Check.Wordings.ElementAtOrDefault(wording - 1) ?? c.Check, approved?.Invoke(c.Key)))];

    private static NetworkCheck View(TargetCheck of, CheckedContent shown, bool? approved) =>
        new(
            of.Target.Rules.Key,
            of.Target.Channel,
            shown.Fits,
            shown.Count.Units,
            shown.Count.Limit,
            shown.Count.OverflowAt,
            shown.Content.Fields.With(ContentFields.Text, TextCounter.Normalise(shown.Content.Text)),
            Formats.Of(shown.Content.Fields, of.Target.Rules).ByPerson,
            shown.Count.Parts,
            [.. shown.Findings.Select(f => FindingView.Of(f, of.Target.Rules))],
            [.. of.Check.Wordings.Select(w => w.Block?.Words)],
            approved,
            [
                .. (shown.Content.Fields.Get(ContentFields.Thread)?.Parts ?? []).Select(part =>
                    TextCounter
                        .Count(part.Text, of.Target.Rules.Text.Measure, of.Target.Rules.Text.Limit, of.Target.Rules.Text.LinkUnits)
                        .Units
                ),
            ]
        );
}
