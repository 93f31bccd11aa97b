using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Outlooks;

/// <summary>What is worth a warning: categories running dry, channels going repeating.</summary>
public sealed class ShortagesTests
{
    private readonly Scene _scene = new();
    private readonly Channel _channel;
    private readonly Category _category;

    public ShortagesTests()
    {
        _channel = _scene.Channel("hearth");
        _category = _scene.Category(_channel);
        _scene.Slot(_category, new(9, 0), [Monday, Thursday], _channel);
    }

    [Fact]
    public void A_category_is_dry_when_a_place_of_it_stays_empty_soon()
    {
        for (int i = 0; i < 3; i++)
            _scene.Post(_category, p => p.Lifespan = Lifespan.Once);
        // Three posts last for Monday, Thursday, Monday; the second Thursday is the eleventh day.
        LocalDate empty = Scene.Monday.PlusDays(10);
        Assert.Equal(_category.Id, Assert.Single(Of(empty, 0.6).Dry).CategoryId);
        Assert.Empty(Of(empty.PlusDays(-1), 0.6).Dry);
    }

    [Fact]
    public void A_channel_has_too_many_repeats_above_the_share_of_repeats_that_was_set()
    {
        Post old = _scene.Post(_category);
        _scene.Delivery(old, _channel, _scene.At(Scene.Monday.PlusDays(-20), new(9, 0)), DeliveryState.Sent);
        for (int i = 0; i < 3; i++)
            _scene.Post(_category);
        // Of eight places in four weeks three show a new post, five a repeat.
        Assert.Equal(new TooManyRepeats(_channel.Id, 5 / 8.0), Assert.Single(Of(Scene.Monday, 0.6).Repeating));
        Assert.Empty(Of(Scene.Monday, 0.63).Repeating);
    }

    private Shortages Of(LocalDate soon, double warnAboveRepeats)
    {
        LineUpInput input = _scene.Input();
        return Shortages.Of(Runways.Of(input, _scene.Project(28), 28), soon, warnAboveRepeats);
    }
}
