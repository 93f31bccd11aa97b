using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>A sending that is still to come, with its post.</summary>
/// <param name="Local">When, in the workspace's zone.</param>
/// <param name="Wording">Which of the post's goes.</param>
public sealed record KnownSending(Id<Delivery> Id, Post Post, Channel Channel, LocalDateTime Local, int Wording);

/// <summary>What of a row of a planning sheet can be changed, and what tells that it was.</summary>
public enum SheetCell
{
    When,
    Category,
    Text,
    Media,
    Channel,
}

/// <summary>A sending at another time.</summary>
public sealed record SheetMove(Id<Delivery> Id, LocalDateTime To);

/// <summary>
/// The sheet that goes out to be looked over and comes back: a row for each sending of a period. The last cell of a row says which
/// sending it is, with a mark for each other cell, so that what wasn't edited changes nothing, whatever has changed in the workspace
/// since.
/// </summary>
public static class PlanningSheet
{
    private const int MarkLength = 4;
    private const char Between = '.';

    public static IReadOnlyList<string> Headers { get; } =
    [
        ImportTargets.NameOf(RowField.Category),
        ImportTargets.NameOf(RowField.Channels),
        ImportTargets.NameOf(RowField.Networks),
        ImportTargets.NameOf(RowField.Weekday),
        ImportTargets.NameOf(RowField.Date),
        ImportTargets.NameOf(RowField.Time),
        "Text",
        "Pictures",
        ImportTargets.NameOf(RowField.SendingId),
    ];

    /// <summary>Width of each column, in letters.</summary>
    public static IReadOnlyList<int> Widths { get; } = [18, 28, 12, 12, 12, 8, 70, 24, 30];

    public static string DateHeader => ImportTargets.NameOf(RowField.Date);

    /// <summary>The row of a sending.</summary>
    public static IReadOnlyList<string> Row(KnownSending sending, ImportContext context)
    {
        string date = sending.Local.Date.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);
        string time = sending.Local.TimeOfDay.ToString("HH:mm", CultureInfo.InvariantCulture);
        string category = context.Categories.FirstOrDefault(c => c.Id == sending.Post.CategoryId)?.Name ?? "";
        FieldValues said = sending.Post.Content.Written(Of(sending, context), sending.Wording);
        string text = said.Get(ContentFields.Text) ?? "";
        string media = string.Join(
            "; ",
            (said.Get(ContentFields.Pictures)?.All ?? []).Select(p => context.Sources.Media(p.MediaId)?.FileName ?? "")
        );
        string[] marked = [When(sending.Local), category, text, media, context.Targets.NameOf(sending.Channel)];
        return
        [
            category,
            context.Targets.NameOf(sending.Channel),
            context.Networks[sending.Channel.Network].Name,
            sending.Local.DayOfWeek.ToString(),
            date,
            time,
            text,
            media,
            $"{sending.Id}{Between}{string.Join(Between, marked.Select(MarkOf))}",
        ];
    }

    /// <summary>Which sending a cell names; null: none, or it isn't whole.</summary>
    public static Id<Delivery>? SendingOf(string cell) => Parse(cell)?.Id;

    /// <summary>Which cells of a row are otherwise than they went out.</summary>
    /// <param name="cell">What the row holds for a target.</param>
    public static IReadOnlySet<SheetCell> Edited(ImportRow row, Func<string, string> cell)
    {
        if (row.SendingId is null || Parse(row.SendingId) is not { } sent)
            return new HashSet<SheetCell>();
        string when = row.When is { } local
            ? When(local)
            : cell(ImportTargets.KeyOf(RowField.Date)) + cell(ImportTargets.KeyOf(RowField.Time));
        string[] now =
        [
            when,
            cell(ImportTargets.KeyOf(RowField.Category)),
            cell(ContentFields.Text.Key),
            cell(ContentFields.Pictures.Key),
            cell(ImportTargets.KeyOf(RowField.Channels)),
        ];
        return Enum.GetValues<SheetCell>().Where(c => MarkOf(now[(int)c]) != sent.Marks[(int)c]).ToHashSet();
    }

    /// <summary>Whether a finding about a row is about something that was edited.</summary>
    internal static bool Concerns(Finding finding, IReadOnlySet<SheetCell> edited)
    {
        string field = finding.Field;
        return field == ContentFields.Text.Key ? edited.Contains(SheetCell.Text)
            : field == ContentFields.Pictures.Key ? edited.Contains(SheetCell.Media)
            : field == ImportTargets.KeyOf(RowField.Category) ? edited.Contains(SheetCell.Category)
            : field == ImportTargets.KeyOf(RowField.Channels) || field == ImportTargets.KeyOf(RowField.Networks)
                ? edited.Contains(SheetCell.Channel)
            : edited.Contains(SheetCell.When);
    }

    /// <summary>A post with what the rows of its sendings say otherwise.</summary>
    /// <param name="rows">Each with its sending and what was edited in it.</param>
    /// <returns>What the post becomes, the sendings that move, and what can't be done.</returns>
    internal static (PostUpdate Update, IReadOnlyList<SheetMove> Moves, IReadOnlyList<Finding> Findings) Changes(
        IReadOnlyList<(ImportRow Row, KnownSending Sending, IReadOnlySet<SheetCell> Edited)> rows,
        ImportContext context
    )
    {
        PostUpdate update = PostUpdate.Of(rows[0].Sending.Post);
        List<SheetMove> moves = [];
        List<Finding> findings = [];
        Dictionary<(string, Id<Channel>?, int, Field), (object? Value, int Row)> said = [];
        foreach ((ImportRow row, KnownSending sending, IReadOnlySet<SheetCell> edited) in rows)
        {
            if (edited.Contains(SheetCell.Channel))
                findings.Add(new(FindingCode.RowSendingChannel, Severity.Blocks, ImportTargets.KeyOf(RowField.Channels)));
            if (edited.Contains(SheetCell.Category) && row.CategoryId is { } category)
                update = update with { CategoryId = category };
            if (edited.Contains(SheetCell.When) && row.When is { } when && when != sending.Local)
                moves.Add(new(sending.Id, when));
            if (edited.Contains(SheetCell.Text))
                Say(row, sending, ContentFields.Text, row.Content.Common.Get(ContentFields.Text));
            if (edited.Contains(SheetCell.Media))
                Say(row, sending, ContentFields.Pictures, row.Content.Common.Get(ContentFields.Pictures));
        }
        return (update, moves, findings);

        void Say<T>(ImportRow row, KnownSending sending, Field<T> field, T? value)
            where T : class
        {
            Target target = Of(sending, context);
            var place = (target.Rules.Key, target.Channel, sending.Wording, (Field)field);
            if (said.TryGetValue(place, out var before) && !Equals(before.Value, value))
            {
                findings.Add(
                    new(FindingCode.RowSendingTwice, Severity.Blocks, field.Key, before.Row.ToString(CultureInfo.InvariantCulture))
                );
                return;
            }
            said[place] = (value, row.Number);
            update = update with { Content = update.Content.Saying(target, sending.Wording, field, value) };
        }
    }

    internal static string Words(KnownSending sending, SheetMove move, ImportContext context) =>
        $"{context.Targets.NameOf(sending.Channel)}: {sending.Local.InWords()} → {move.To.InWords()}";

    /// <summary>Where a sending's content is said so that no other channel hears it: its network, or the channel itself where the network
    /// has others.</summary>
    private static Target Of(KnownSending sending, ImportContext context)
    {
        bool isAlone = context.Channels.Count(c => c.Network == sending.Channel.Network) == 1;
        bool hasOwn = sending.Post.Content.AllChannels().Contains(sending.Channel.Id);
        return new(context.Networks[sending.Channel.Network], isAlone && !hasOwn ? null : sending.Channel.Id);
    }

    private static string When(LocalDateTime local) => local.ToString("uuuu-MM-dd HH:mm", CultureInfo.InvariantCulture);

    private static (Id<Delivery> Id, string[] Marks)? Parse(string cell)
    {
        string[] parts = cell.Trim().Split(Between);
        return parts.Length == 1 + Enum.GetValues<SheetCell>().Length && Guid.TryParse(parts[0], out Guid id)
            ? (new(id), parts[1..])
            : null;
    }

    /// <summary>What programs do to line ends and letter case of a name makes no difference.</summary>
    private static string MarkOf(string cell)
    {
        string plain = cell.ReplaceLineEndings("\n").Trim().Normalize();
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(plain)))[..MarkLength];
    }
}
