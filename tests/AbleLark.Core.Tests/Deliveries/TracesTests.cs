using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using NodaTime;

namespace AbleLark.Core.Tests.Deliveries;

public sealed class TracesTests
{
    private static readonly Instant Since = Instant.FromUtc(2026, 3, 2, 9, 0);
    private static readonly ResolvedContent Sent = new(
        FieldValues.Empty.With(ContentFields.Text, "The ferry sails at ten").With(ContentFields.Link, "https://marram.example.org/ferry")
    );

    [Fact]
    public void The_one_post_that_is_alike_is_it()
    {
        ListedPost it = Listed("b");
        Trace trace = Find([Listed("a") with { Text = "Something else" }, it]);
        Assert.Equal((TraceKind.Found, it), (trace.Kind, trace.Post));
    }

    [Theory]
    [InlineData("The  ferry sails\nat ten ", "https://marram.example.org/ferry/")]
    [InlineData("The ferry sails at ten", "https://MARRAM.example.org/ferry")]
    public void Networks_write_spaces_and_links_anew(string text, string link)
    {
        Assert.Equal(TraceKind.Found, Find([Listed("a") with { Text = text, Link = link }]).Kind);
    }

    [Fact]
    public void Another_link_or_other_media_or_an_older_time_is_another_post()
    {
        Assert.Equal(TraceKind.NotThere, Find([Listed("a") with { Link = "https://marram.example.org/hostel" }]).Kind);
        Assert.Equal(TraceKind.NotThere, Find([Listed("a") with { Link = null }]).Kind);
        Assert.Equal(TraceKind.NotThere, Find([Listed("a") with { MediaKinds = ["image/png"] }]).Kind);
        Assert.Equal(TraceKind.NotThere, Find([Listed("a") with { At = Since - Duration.FromMinutes(3) }]).Kind);
    }

    [Fact]
    public void What_the_network_does_not_tell_does_not_tell_against_it()
    {
        Assert.Equal(TraceKind.Found, Find([Listed("a") with { At = null, MediaKinds = null }]).Kind);
    }

    [Fact]
    public void Number_and_kind_of_media_count()
    {
        Trace Look(params string[] listed) =>
            Traces.Find(Sent, null, ["image/png"], Since, [Listed("a") with { MediaKinds = listed }], new HashSet<string>(), true);
        Assert.Equal(TraceKind.Found, Look("image/png").Kind);
        Assert.Equal(TraceKind.NotThere, Look("image/jpeg").Kind);
        Assert.Equal(TraceKind.NotThere, Look("image/png", "image/png").Kind);
    }

    [Fact]
    public void Two_that_are_alike_are_for_a_person_unless_one_is_known_to_be_another_s()
    {
        Assert.Equal(TraceKind.Several, Find([Listed("a"), Listed("b")]).Kind);
        Trace trace = Traces.Find(Sent, null, [], Since, [Listed("a"), Listed("b")], new HashSet<string> { "b" }, true);
        Assert.Equal((TraceKind.Found, "a"), (trace.Kind, trace.Post!.Id));
    }

    [Fact]
    public void A_part_is_looked_for_under_its_post()
    {
        Trace Look(string? listedUnder) =>
            Traces.Find(Sent, "first", [], Since, [Listed("a") with { Under = listedUnder }], new HashSet<string>(), true);
        Assert.Equal(TraceKind.Found, Look("first").Kind);
        Assert.Equal(TraceKind.NotThere, Look("another").Kind);
        // A network that doesn't tell leaves it to the words.
        Assert.Equal(TraceKind.Found, Look(null).Kind);
    }

    [Fact]
    public void A_list_that_does_not_reach_back_far_enough_proves_nothing()
    {
        Assert.Equal(TraceKind.CannotTell, Traces.Find(Sent, null, [], Since, [], new HashSet<string>(), reachesBack: false).Kind);
    }

    private static Trace Find(ListedPost[] listed) => Traces.Find(Sent, null, [], Since, listed, new HashSet<string>(), reachesBack: true);

    private static ListedPost Listed(string id) => new(id, Sent.Text, Sent.CardLink, [], Since + Duration.FromSeconds(1), null);
}
