using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests.Content;

public sealed class PictureReplacementTests
{
    private static readonly MediaFile Old = File(1200, 800);

    [Theory]
    [InlineData(1200, 900, 100, 50, 400, 300, "100,50,400,300")]
    [InlineData(2400, 1600, 100, 50, 400, 300, "200,100,800,600")]
    [InlineData(600, 400, 101, 51, 400, 300, "50,26,200,150")]
    [InlineData(450, 350, 100, 50, 400, 300, null)]
    public void A_crop_stays_where_it_fits_and_grows_with_the_same_picture(
        int width,
        int height,
        int x,
        int y,
        int across,
        int down,
        string? kept
    )
    {
        MediaFile other = File(width, height);
        PostContent content = PostContent
            .Empty.With(ContentFields.Pictures, new Pictures(new Picture(Old.Id, "A bird", new(0.2, 0.2))))
            .With("glimmer", ContentFields.Pictures, new Pictures(new Picture(Old.Id, Crop: new(x, y, across, down))));
        (PostContent replaced, IReadOnlyList<CarriedCrop> crops) = PictureReplacement.Replace(content, Old, other);
        Assert.Equal(Pictures.Of(other.Id), replaced.Common.Get(ContentFields.Pictures));
        Crop? crop = Assert.Single(replaced.Networks["glimmer"].Get(ContentFields.Pictures)!.All).Crop;
        Assert.Equal(kept, crop is null ? null : $"{crop.X},{crop.Y},{crop.Width},{crop.Height}");
        Assert.Equal([new CarriedCrop(0, "glimmer", null, kept is not null)], crops);
    }

    [Fact]
    public void What_shows_another_picture_stays_as_it_is()
    {
        PostContent content = PostContent.Empty.With(ContentFields.Pictures, Pictures.Of(File(10, 10).Id));
        Assert.True(PictureReplacement.Replace(content, Old, File(5, 5)).Content.Same(content));
    }

    /// <summary>What is suggested for a network is taken there, whatever the picture, unless it is too small for it.</summary>
    [Fact]
    public void A_suggested_crop_lies_within_the_picture_and_has_a_shape_that_is_taken() =>
        CsCheck.Check.Sample(
            CsCheck.Gen.Select(CsCheck.Gen.Int[1, 6000], CsCheck.Gen.Int[1, 6000], CsCheck.Gen.Double[0, 1], CsCheck.Gen.Double[0, 1]),
            (width, height, x, y) =>
            {
                MediaFile file = File(width, height);
                foreach ((NetworkRules rules, FormatRules format) in Repository.Networks.All.SelectMany(n => n.Formats, (n, f) => (n, f)))
                {
                    if (
                        format.Pictures is not { } allowed
                        || CropChoice.Of(rules.Key, format.Format, allowed, file, new(x, y)).Suggested is not { } crop
                    )
                        continue;
                    double ratio = (double)crop.Width / crop.Height;
                    Assert.True(crop.X >= 0 && crop.Y >= 0 && crop.X + crop.Width <= width && crop.Y + crop.Height <= height);
                    Assert.True(
                        ratio >= (allowed.MinRatio ?? 0) && ratio <= (allowed.MaxRatio ?? double.MaxValue),
                        $"{rules.Key}: {ratio}"
                    );
                    Assert.True(crop.Width >= (allowed.MinWidth ?? 0) && crop.Height >= (allowed.MinHeight ?? 0));
                }
            }
        );

    private static MediaFile File(int width, int height) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<MediaFile>.New(),
            Hash = "",
            FileName = "p.png",
            Kind = FileKinds.Png,
            Bytes = 1,
            Width = width,
            Height = height,
        };
}
