using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Links;
using AbleLark.Core.Media;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Links;

/// <param name="Address">The link.</param>
/// <param name="Anew">Read the page also where it was read lately.</param>
public sealed record LinkRequest([property: StringLength(2_000)] string Address, bool Anew = false);

/// <param name="Address">The link whose page shows it.</param>
/// <param name="Picture">One of the pictures that the page was found to have.</param>
public sealed record LinkPictureRequest([property: StringLength(2_000)] string Address, [property: StringLength(2_000)] string Picture);

/// <summary>What the page under a link says of itself.</summary>
/// <param name="Pictures">Addresses, the page's own choice first.</param>
/// <param name="ReadAt">Null: it could not be read.</param>
/// <param name="Trouble">Why it could not be read, and what to do; null: it was.</param>
public sealed record LinkView(string Address, string Title, string Text, IReadOnlyList<string> Pictures, Instant? ReadAt, string? Trouble);

/// <summary>Cards of links: what their pages say, read by the server.</summary>
public static class LinkEndpoints
{
    private const int MostPictureBytes = 20 * 1024 * 1024;

    /// <summary>A page that was read less long ago isn't asked again.</summary>
    private static readonly Duration Fresh = Duration.FromHours(24);

    public static void MapLinks(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/links/read", ReadAsync).Needs(Right.Write);
        workspace.MapPost("/links/picture", TakePictureAsync).Needs(Right.Write);
    }

    private static async Task<LinkView> ReadAsync(
        Id<Workspace> workspaceId,
        LinkRequest request,
        LarkDb db,
        LinkReader reader,
        IClock machine,
        CancellationToken cancellation
    )
    {
        Uri address = AddressOf(request.Address);
        LinkCard? card = await db.LinkCards.FindAsync([workspaceId, request.Address], cancellation);
        Instant now = machine.Now();
        if (card is not null && !request.Anew && now - card.ReadAt < Fresh)
            return View(card);
        PageSummary page;
        try
        {
            page = await reader.ReadAsync(workspaceId, address, cancellation);
        }
        catch (ReadingException e)
        {
            string trouble = $"The page {e.Message}. Write the card's title and text yourself, or try again later.";
            return card is null ? new(request.Address, "", "", [], null, trouble) : View(card) with { Trouble = trouble };
        }
        if (card is null)
            db.LinkCards.Add(card = new() { WorkspaceId = workspaceId, Address = request.Address });
        (card.Title, card.Text, card.Pictures, card.ReadAt) = (page.Title, page.Text, page.Pictures, now);
        try
        {
            await db.SaveChangesAsync(cancellation);
        }
        catch (DbUpdateException)
        {
            // Two people read it at once: both have what it says, and one of them has kept it.
        }
        return View(card);
    }

    /// <summary>Takes a picture of the page among the workspace's media.</summary>
    private static async Task<MediaView> TakePictureAsync(
        Id<Workspace> workspaceId,
        LinkPictureRequest request,
        LarkDb db,
        SafeReading reading,
        MediaStore media,
        CancellationToken cancellation
    )
    {
        // Only what the page itself shows: this is no way to fetch from any address.
        if (
            await db.LinkCards.FindAsync([workspaceId, request.Address], cancellation) is not { } card
            || !card.Pictures.Contains(request.Picture)
        )
            throw ProblemException.BadInput("The page wasn't found to have that picture. Read it anew, then choose one of its pictures.");
        ReadThing picture;
        try
        {
            picture = await reading.ReadAsync(AddressOf(request.Picture), MostPictureBytes, "image/*", cancellation);
        }
        catch (ReadingException e)
        {
            throw ProblemException.BadInput($"The picture {e.Message}. Choose another, or one of your own.");
        }
        if (!picture.IsWhole)
            throw ProblemException.BadInput(
                $"The picture is larger than {MostPictureBytes / 1024 / 1024} MB. Choose another, or one of your own."
            );
        using MemoryStream bytes = new(picture.Bytes);
        MediaFile file = await media.AddAsync(workspaceId, Path.GetFileName(picture.Address.AbsolutePath), bytes, cancellation);
        return MediaView.Of(file);
    }

    private static LinkView View(LinkCard card) => new(card.Address, card.Title, card.Text, card.Pictures, card.ReadAt, null);

    private static Uri AddressOf(string text) =>
        WebAddress.IsValid(text) && Uri.TryCreate(text, UriKind.Absolute, out Uri? address)
            ? address
            : throw ProblemException.BadInput("A link begins with https:// or http:// and names a site. Check how it is written.");
}
