using NodaTime;

namespace AbleLark.StandIns;

/// <summary>Behind the scenes: make accounts, order faults, look at what was posted.</summary>
internal static class Control
{
    public sealed record FaultOrder(string Kind, string? Account, int? Times);

    /// <summary>A post that is looked at and not taken.</summary>
    /// <param name="Files">What its files are like, in their order.</param>
    /// <param name="Above">Texts that it stands under, the nearest first.</param>
    public sealed record CheckOrder(string Network, PostingApi.NewPost Post, MediaFacts[] Files, string[] Above);

    public static void Map(WebApplication app)
    {
        RouteGroupBuilder control = app.MapGroup("/control");
        control.MapPut(
            "/accounts",
            async (Account account, Store store) =>
            {
                await store.AddAccountAsync(account);
                return Results.Ok();
            }
        );
        control.MapDelete(
            "/accounts/{id}/posts",
            async (string id, Store store) =>
            {
                await store.ClearPostsAsync(id);
                return Results.Ok();
            }
        );
        Past.Map(control);
        control.MapPost(
            "/check",
            (CheckOrder[] orders, StandInNetworks networks) =>
                orders.Select(o => Checker.Refusal(networks.ByKey[o.Network], o.Post, o.Files, [], Instant.MaxValue, o.Above))
        );
        control.MapGet("/accounts", (Store store) => store.AccountsAsync());
        control.MapGet("/accounts/{id}/posts", (string id, Store store) => store.PostsOfAsync(id, int.MaxValue));
        control.MapPost(
            "/accounts/{id}/revoke",
            async (string id, Store store) =>
            {
                await store.EndTokensAsync(id, SystemClock.Instance.GetCurrentInstant(), revoke: true);
                return Results.Ok();
            }
        );
        control.MapPut(
            "/networks/{key}",
            async (string key, NetworkManners manners, StandInNetworks networks, Store store) =>
            {
                if (networks.Find(key) is null)
                    return Results.NotFound();
                await store.SetMannersAsync(key, manners);
                return Results.Ok();
            }
        );
        control.MapPost(
            "/faults",
            async (FaultOrder order, Store store) =>
            {
                if (!Faults.Kinds.Contains(order.Kind))
                    return Results.BadRequest($"Kinds of fault: {string.Join(", ", Faults.Kinds)}.");
                await store.AddFaultAsync(order.Account, order.Kind, order.Times ?? 1);
                return Results.Ok();
            }
        );
        control
            .MapPost(
                "/faults/form",
                async (HttpRequest request, Store store) =>
                {
                    IFormCollection form = await request.ReadFormAsync();
                    string account = form["account"].ToString();
                    if (
                        Faults.Kinds.Contains(form["kind"].ToString())
                        && int.TryParse(form["times"], out int times)
                        && times is > 0 and < 1000
                    )
                        await store.AddFaultAsync(account.Length == 0 ? null : account, form["kind"].ToString(), times);
                    return Results.Redirect("/control");
                }
            )
            .DisableAntiforgery();
        control.MapDelete(
            "/faults",
            async (Store store) =>
            {
                await store.ClearFaultsAsync();
                return Results.Ok();
            }
        );
        control
            .MapPost(
                "/faults/clear",
                async (Store store) =>
                {
                    await store.ClearFaultsAsync();
                    return Results.Redirect("/control");
                }
            )
            .DisableAntiforgery();
    }
}
