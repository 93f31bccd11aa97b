using AbleLark.Core.Categories;
using AbleLark.Core.Content;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using NodaTime;

namespace AbleLark.Core.Tests.Imports;

/// <summary>A long sheet is read in two goes; nobody can tell afterwards.</summary>
public sealed class BookTests
{
    private const int Rows = ImportBook.FirstRows + 500;

    private static readonly ImportContext Context = new(
        [
            new Category
            {
                WorkspaceId = default,
                Id = Id<Category>.New(),
                Name = "Sightings",
                Colour = "tide",
                Monogram = "Si",
            },
        ],
        [],
        Repository.Networks,
        new Dictionary<string, MediaFile>(),
        DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        new LocalDateTime(2026, 3, 1, 12, 0)
    );

    [Fact]
    public void The_first_rows_are_there_at_once_and_the_rest_joins_them()
    {
        ImportBook book = Begin();
        Assert.False(book.IsWhole);
        Assert.Equal((ImportBook.FirstRows, Rows), (book.Entries.Count, book.Filled));
        BookEntry first = book.Entries[0];
        book.Check(first);
        book.TakeRows(book.ReadRest());
        Assert.True(book.IsWhole);
        // The last row has the outside id of the first, for another network: one post, found once both are read.
        Assert.Equal(Rows - 1, book.Entries.Count);
        Assert.Equal(2, book.Entries[0].Draft.Rows.Count);
        Assert.Equal("Post 2", book.Entries[1].Draft.Title);
        Assert.Empty(book.ReadRest());
    }

    [Fact]
    public void What_is_changed_while_the_rest_is_read_stays()
    {
        ImportBook book = Begin();
        var rest = book.ReadRest();
        int late = Rows - 10;
        RowEdit edit = RowEdit.None with { Values = new Dictionary<string, string> { [ContentFields.Text.Key] = "Mended meanwhile." } };
        book.Apply(new Dictionary<int, RowEdit> { [late] = edit });
        book.TakeRows(rest);
        Assert.Equal("Mended meanwhile.", book.EntryOf(late)!.Content.Common.Get(ContentFields.Text));
        Assert.Equal(Rows - 1, book.Entries.Count);
    }

    private static ImportBook Begin()
    {
        string[][] sheet =
        [
            ["Title", "Text", "Category", "Network", "Outside id"],
            .. Enumerable
                .Range(1, Rows)
                .Select(i =>
                    new[]
                    {
                        i == Rows ? "Post 1" : $"Post {i}",
                        $"Seen at hide {i}: bird {i * 7919}.",
                        "Sightings",
                        i == Rows ? "Hearth" : "Jot",
                        $"W-{(i == Rows ? 1 : i)}",
                    }
                ),
        ];
        return new(sheet, ReadSheet.Plan(sheet, Context), Context);
    }
}
