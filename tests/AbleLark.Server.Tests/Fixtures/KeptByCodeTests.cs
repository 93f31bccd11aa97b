using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Data;
using NodaTime;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Why and what was done are kept by code, and get their words when they are read.</summary>
public sealed class KeptByCodeTests
{
    private static T Kept<T>(T value) =>
        JsonSerializer.Deserialize<T>(JsonSerializer.Serialize(value, LarkJson.Options), LarkJson.Options)!;

    [Fact]
    public void Every_reason_says_the_same_once_it_was_kept()
    {
        foreach (ReasonCode code in Enum.GetValues<ReasonCode>())
        {
            Reason reason = new(
                code,
                7,
                [new(Rule.Gap, 4), new(Rule.Fit, 2), new(Rule.Chosen, 1)],
                new LocalDate(2027, 3, 4),
                Id<Post>.New(),
                "Puffins ashore",
                Rule.Gap
            )
            {
                OpensOn = new LocalDate(2027, 4, 1),
                TriedFirst = ["Sightings"],
                Round = 3,
                Other = "Midwinter weeks",
                AsSubstitute = code == ReasonCode.EarliestTurn,
            };
            Assert.Equal((reason.Words, reason.Brief), (Kept(reason).Words, Kept(reason).Brief));
        }
    }

    [Fact]
    public void What_is_not_there_is_not_kept() =>
        Assert.Equal("""{"code":"picked"}""", JsonSerializer.Serialize(new Reason(ReasonCode.Picked), LarkJson.Options));

    [Fact]
    public void An_act_says_the_same_once_it_was_kept()
    {
        Act act = new(ActCode.PostsExchanged, "One “two”", "Three");
        Assert.Equal(act, Kept(act));
        Assert.Equal(act.TakenBack().Words, Kept(act.TakenBack()).Words);
        Assert.Equal(
            """{"code":"postsExchanged","values":["a","b"]}""",
            JsonSerializer.Serialize(new Act(ActCode.PostsExchanged, "a", "b"), LarkJson.Options)
        );
    }
}
