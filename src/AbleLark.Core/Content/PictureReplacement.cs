using AbleLark.Core.Channels;
using AbleLark.Core.Media;

namespace AbleLark.Core.Content;

/// <summary>A crop of a picture that was put in the place of another.</summary>
/// <param name="Wording">0: the post's own.</param>
/// <param name="Network">Key of the network that it is for; null: not for one.</param>
/// <param name="Channel">The channel that it is for; null: not for one.</param>
/// <param name="IsKept">True: it fits the new picture; false: the whole of the new picture is sent there now.</param>
public sealed record CarriedCrop(int Wording, string? Network, Id<Channel>? Channel, bool IsKept);

/// <summary>Puts one picture in the place of another, wherever a post shows it.</summary>
public static class PictureReplacement
{
    /// <returns>What the post says then, and what became of each crop. Alt text and focus that the post gave the old picture go; they
    /// were said of what it showed.</returns>
    public static (PostContent Content, IReadOnlyList<CarriedCrop> Crops) Replace(PostContent content, MediaFile old, MediaFile by)
    {
        List<CarriedCrop> crops = [];
        ContentLayers own = Layers(content, 0);
        return (
            content with
            {
                Common = own.Common,
                Networks = own.Networks,
                Channels = own.Channels,
                Wordings = [.. content.Wordings.Select((w, i) => Layers(w, i + 1))],
            },
            crops
        );

        ContentLayers Layers(ContentLayers layers, int wording) =>
            new(
                Values(layers.Common, wording, null, null),
                layers.Networks.ToDictionary(n => n.Key, n => Values(n.Value, wording, n.Key, null)),
                layers.Channels.ToDictionary(c => c.Key, c => Values(c.Value, wording, null, c.Key))
            );

        FieldValues Values(FieldValues values, int wording, string? network, Id<Channel>? channel)
        {
            if (values.Get(ContentFields.Pictures) is { } pictures)
                values = values.With(ContentFields.Pictures, All(pictures));
            if (values.Get(ContentFields.Thread) is { } thread)
                values = values.With(
                    ContentFields.Thread,
                    thread with
                    {
                        Parts = [.. thread.Parts.Select(p => p with { Pictures = p.Pictures is { } some ? All(some) : null })],
                    }
                );
            return values;

            Pictures All(Pictures pictures) => new([.. pictures.All.Select(p => p.MediaId == old.Id ? One(p) : p)]);

            Picture One(Picture picture)
            {
                if (picture.Crop is not { } crop)
                    return new(by.Id);
                Crop? carried = crop.In(by, old);
                crops.Add(new(wording, network, channel, carried is not null));
                return new(by.Id, Crop: carried);
            }
        }
    }
}
