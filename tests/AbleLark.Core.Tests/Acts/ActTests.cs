using AbleLark.Core.Acts;
using NodaTime;

namespace AbleLark.Core.Tests.Acts;

public sealed class ActTests
{
    /// <summary>Values that any of the words can be made with.</summary>
    private static Act With(ActCode code) =>
        code switch
        {
            ActCode.Imported => new(code, 3, 4, "spring.csv"),
            ActCode.Scheduled => new(code, new LocalDate(2027, 3, 4)),
            ActCode.FilesRemoved or ActCode.PassedDismissed => new(code, 2, "hut.png"),
            ActCode.KeyDateDone or ActCode.KeyDateUndone or ActCode.KeyDateSkipped or ActCode.KeyDateMoved => new(
                code,
                "Ferry in dock",
                new LocalDate(2027, 3, 4)
            ),
            ActCode.TakenBack or ActCode.DoneAgain => new Act(ActCode.LogoChanged).TakenBack() with { Code = code },
            >= ActCode.PlaceFreed and <= ActCode.PlaceChanged => new(code, new LocalDate(2027, 3, 4), new LocalTime(8, 30)),
            _ => new(code, "One", "Two"),
        };

    [Fact]
    public void Every_act_has_words_of_its_own()
    {
        string[] words = [.. Enum.GetValues<ActCode>().Select(c => With(c).Words)];
        Assert.All(words, w => Assert.False(w.Length == 0 || w.Contains('{', StringComparison.Ordinal), w));
        Assert.Equal(words.Length, words.Distinct().Count());
    }

    [Theory]
    [InlineData(3, 0, "Imported 3 posts from spring.csv")]
    [InlineData(0, 4, "Changed 4 posts from spring.csv")]
    [InlineData(3, 4, "Imported 3 posts and changed 4 from spring.csv")]
    public void An_import_says_what_it_did(int news, int changed, string words) =>
        Assert.Equal(words, new Act(ActCode.Imported, news, changed, "spring.csv").Words);

    [Fact]
    public void Dates_and_times_are_kept_as_such_and_said_when_they_are_read()
    {
        Act act = new(ActCode.PlaceSkipped, new LocalDate(2027, 3, 4), new LocalTime(8, 30));
        Assert.Equal(["2027-03-04", "08:30"], act.Values);
        Assert.Equal("Skipped Thu 4 Mar 08:30", act.Words);
        Assert.Equal("Scheduled everything through 4 Mar 2027", With(ActCode.Scheduled).Words);
    }

    [Fact]
    public void However_often_it_is_taken_back_it_names_one_act()
    {
        Act first = new(ActCode.PostWritten, "Puffins ashore");
        Act back = first.TakenBack();
        Act again = back.TakenBack();
        Assert.Equal("Took back: Wrote “Puffins ashore”", back.Words);
        Assert.Equal("Did again: Wrote “Puffins ashore”", again.Words);
        Assert.Equal(back, again.TakenBack());
        Assert.Equal(again, back.TakenBack());
    }

    [Fact]
    public void A_script_acts_for_its_person()
    {
        (Guid wren, Guid token) = (Guid.NewGuid(), Guid.NewGuid());
        Actor script = new(wren, token);
        Assert.True(new Actor(wren).IsFor(script) && script.IsFor(new(wren)));
        Assert.False(script.IsFor(null) || script.IsFor(new(Guid.NewGuid(), token)));
        Assert.Null(Actor.Of(null, null));
    }
}
