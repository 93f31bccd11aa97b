using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Access;

/// <summary>What those who did something are called.</summary>
public sealed class ActorNames
{
    private readonly Dictionary<Guid, string> _people;
    private readonly Dictionary<Guid, string> _scripts;

    private ActorNames(Dictionary<Guid, string> people, Dictionary<Guid, string> scripts) => (_people, _scripts) = (people, scripts);

    public static async Task<ActorNames> ReadAsync(
        LarkDb db,
        Id<Workspace> workspace,
        IEnumerable<Actor?> actors,
        CancellationToken cancellation
    )
    {
        List<Actor> all = [.. actors.OfType<Actor>().Distinct()];
        List<Guid> people = [.. all.Select(a => a.PersonId).Distinct()];
        List<Id<ApiToken>> tokens = [.. all.Select(a => a.TokenId).OfType<Guid>().Distinct().Select(t => new Id<ApiToken>(t))];
        return new(
            await db.Users.Where(u => people.Contains(u.Id)).ToDictionaryAsync(u => u.Id, u => u.Name, cancellation),
            tokens.Count == 0
                ? []
                : await db
                    .ApiTokens.Where(t => t.WorkspaceId == workspace && tokens.Contains(t.Id))
                    .ToDictionaryAsync(t => t.Id.Value, t => t.Name, cancellation)
        );
    }

    /// <summary>The person's; null: nobody, or somebody who is no longer there.</summary>
    public string? PersonOf(Actor? actor) => actor is null ? null : _people.GetValueOrDefault(actor.PersonId);

    /// <summary>The token's name; null: no script.</summary>
    public string? ScriptOf(Actor? actor) => actor?.TokenId is { } token ? _scripts.GetValueOrDefault(token) : null;

    /// <summary>Both in a few words.</summary>
    public string? Of(Actor? actor) => ScriptOf(actor) is { } script ? $"{PersonOf(actor)}, by the script {script}" : PersonOf(actor);
}
