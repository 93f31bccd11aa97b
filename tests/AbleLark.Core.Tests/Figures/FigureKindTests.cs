using System.Text.Json;
using AbleLark.Core.Figures;
using CsCheck;

namespace AbleLark.Core.Tests.Figures;

/// <summary>"One more figure", as CONTRIBUTING.md shows it: whatever is declared is kept, read and shown.</summary>
public sealed class FigureKindTests
{
    [Fact]
    public void Numbers_keys_and_words_are_each_one_kind_s()
    {
        Assert.Equal(FigureKind.All.Count, FigureKind.All.Select(k => k.Number).Distinct().Count());
        Assert.Equal(FigureKind.All.Count, FigureKind.All.Select(k => k.Key).Distinct().Count());
        Assert.Equal(FigureKind.All.Count, FigureKind.All.Select(k => k.Words).Distinct().Count());
        Assert.All(FigureKind.All, k => Assert.True(k.Number >= 1));
    }

    /// <summary>Rows hold these numbers: none may ever be given to another kind.</summary>
    [Fact]
    public void Kinds_keep_their_numbers() =>
        Assert.Equal(
            ["impressions", "reach", "likes", "comments", "shares", "saves", "linkClicks", "videoViews", "followers"],
            FigureKind.All.OrderBy(k => k.Number).Take(9).Select(k => k.Key)
        );

    [Fact]
    public void All_that_is_declared_is_declared_by_a_property() =>
        Assert.Equal(
            typeof(FigureKind)
                .GetProperties()
                .Where(p => p.PropertyType == typeof(FigureKind))
                .Select(p => (FigureKind)p.GetValue(null)!)
                .ToHashSet(),
            FigureKind.All.ToHashSet()
        );

    [Fact]
    public void Figures_come_back_from_arrays_and_objects_as_they_were_and_what_is_missing_stays_so()
    {
        Gen.Select(Gen.Bool, Gen.Double[0, 1e9])
            .Array[FigureKind.All.Count]
            .Sample(given =>
            {
                FigureSet figures = FigureSet.Of(
                    FigureKind.All.Zip(given).Where(g => g.Second.Item1).Select(g => (g.First, g.Second.Item2))
                );
                return figures.Equals(FigureSet.FromNumbers(figures.ByNumber()))
                    && figures.Equals(JsonSerializer.Deserialize<FigureSet>(JsonSerializer.Serialize(figures)));
            });
    }

    [Fact]
    public void An_array_from_before_a_figure_was_declared_lacks_it()
    {
        FigureSet figures = FigureSet.FromNumbers([5, null, 7]);
        Assert.Equal(
            (5, null, 7, null),
            (figures[FigureKind.Impressions], figures[FigureKind.Reach], figures[FigureKind.Likes], figures[FigureKind.Saves])
        );
    }

    [Fact]
    public void What_a_network_tells_besides_is_passed_over_and_nonsense_is_not_taken_for_a_figure()
    {
        Assert.Equal(
            FigureSet.Of((FigureKind.Likes, 3)),
            JsonSerializer.Deserialize<FigureSet>("""{"likes": 3, "moons": 4, "saves": null}""")
        );
        Assert.ThrowsAny<JsonException>(() => JsonSerializer.Deserialize<FigureSet>("""{"likes": "many"}"""));
    }
}
