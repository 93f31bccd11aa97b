using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Outlooks;

/// <summary>Results may give a slot away only where the posts that would fill it keep their gap.</summary>
public sealed class MixAdviceTests
{
    private readonly Scene _scene = new();

    [Fact]
    public void A_slot_goes_from_what_earns_less_to_what_earns_more_and_shares_are_told()
    {
        (Category better, Category worse) = TwoCategories(posts: 40);
        better.TargetShare = 0.5;
        MixMove move = Assert.Single(Advise(better, worse));
        Assert.Equal((worse.Id, better.Id), (move.From.CategoryId, move.To.CategoryId));
        // Of three slots a week one is the better's, and two would be.
        Assert.Equal((1 / 3.0, 2 / 3.0), (move.To.Before, move.To.After));
        Assert.Equal(0.5, move.To.Target);
        Assert.Contains(_scene.Rota.Slots, s => s.Id == move.SlotId && s.Categories.SequenceEqual([worse.Id]));
    }

    [Fact]
    public void Nothing_is_advised_that_breaks_a_gap_or_takes_a_category_s_last_slot()
    {
        (Category better, Category worse) = TwoCategories(posts: 3);
        better.GapDays = 14;
        Assert.Empty(Advise(better, worse));
        // One post more and the gap would hold.
        _scene.Post(better);
        Assert.Single(Advise(better, worse));
        _scene.Rota.Slots.RemoveAll(s => s.Id == _scene.Rota.Slots.Last(x => x.Categories.Contains(worse.Id)).Id);
        Assert.Empty(Advise(better, worse));
        Assert.Empty(MixAdvice.Of(new(_scene.Input()), [], [worse.Id], _scene.Now));
    }

    private IReadOnlyList<MixMove> Advise(Category better, Category worse) =>
        MixAdvice.Of(new SharedLineUp(_scene.Input()), [better.Id], [worse.Id], _scene.Now);

    /// <summary>The better has one slot a week, the worse two.</summary>
    private (Category Better, Category Worse) TwoCategories(int posts)
    {
        Channel channel = _scene.Channel("hearth");
        Category better = _scene.Category(channel),
            worse = _scene.Category(channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(better);
        for (int i = 0; i < 40; i++)
            _scene.Post(worse);
        _scene.Slot(better, new(9, 0), [IsoDayOfWeek.Monday], channel);
        _scene.Slot(worse, new(9, 0), [IsoDayOfWeek.Wednesday], channel);
        _scene.Slot(worse, new(9, 0), [IsoDayOfWeek.Friday], channel);
        return (better, worse);
    }
}
