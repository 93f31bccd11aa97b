using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Results;

/// <summary>Which sent deliveries a question is about: said once, for whoever reads them and whoever sums them in the database.</summary>
/// <param name="Channels">With the rules of their networks, of those that are known here.</param>
internal sealed record MeasuredQuery(
    Id<Workspace> Workspace,
    ResultsQuestion Question,
    DateTimeZone Zone,
    IReadOnlyDictionary<Guid, NetworkRules> Channels
)
{
    /// <summary>SQL for what was kept with a delivery of the category that it counts under. Where that is nothing that can be read
    /// (<see cref="Read"/>), it counts under its post's.</summary>
    public const string KeptCategory = "d.facts ->> 'categoryId'";

    /// <summary>Null: it is no category's identity.</summary>
    public static Id<Category>? Read(string? kept) => Guid.TryParseExact(kept, "D", out Guid id) ? new(id) : null;

    private const string FiguresAtAge =
        "left join age_figures a on a.workspace_id = d.workspace_id and a.delivery_id = d.id and a.age_hours = @age";

    /// <summary>The latest of each kind that counts, however old it was then: what the network told last, and what a person wrote down
    /// later, which may be one figure of many. Followers as they were kept at sending.</summary>
    private const string LatestFigures = $$"""
        left join lateral (
            select (jsonb_object_agg(latest.key, latest.value) || case
                when {{FollowersAtSending}} > 0 then jsonb_build_object('followers', d.facts -> 'followers')
                else '{}' end)::text as figures
            from (
                select distinct on (f.key) f.key, f.value
                from (
                    (select r.at, r.figures from readings r
                     where r.workspace_id = d.workspace_id and r.delivery_id = d.id and r.doubt is null and r.person_id is null
                     order by r.at desc limit 1)
                    union all
                    select r.at, r.figures from readings r
                    where r.workspace_id = d.workspace_id and r.delivery_id = d.id and r.doubt is null and r.person_id is not null
                ) r, jsonb_each(case jsonb_typeof(r.figures) when 'object' then r.figures else '{}' end) f
                where jsonb_typeof(f.value) = 'number'
                order by f.key, r.at desc
            ) latest) a on true
        """;

    /// <summary>SQL for what stands above and below the line, of figures at an age. As <see cref="MeasureRule.Take(double?[],
    /// MeasureParts)"/>: nothing where a part is missing, below nought or beyond all numbers.</summary>
    public string Measured =>
        $"{Cases(p => Sum(p.Above))} as above, {(Question.Measure.IsRate ? Cases(p => Below(p.Below)) : "1::float8")} as below";

    public bool IsLatest => Question.Age == FigureAge.Latest;

    public static async Task<MeasuredQuery> OfAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        DateTimeZone zone = await db.Workspaces.Where(w => w.Id == workspace).Select(w => w.Zone).SingleAsync(cancellation);
        var channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace)
            .Select(c => new { c.Id, c.Network })
            .ToListAsync(cancellation);
        return new(
            workspace,
            question,
            zone,
            channels
                .Where(c => networks.Has(c.Network))
                .Where(c => question.Channels?.Contains(c.Id) != false && (question.Network is null || c.Network == question.Network))
                .ToDictionary(c => c.Id.Value, c => networks[c.Network])
        );
    }

    /// <param name="columns">SQL over the delivery `d` and its figures `a`: numbers by place, or the latest ones as a document.</param>
    public NpgsqlCommand Select(string columns, NpgsqlConnection connection)
    {
        NpgsqlCommand command = connection.CreateCommand();
        command.CommandText = $"""
            select {columns}
            from deliveries d
            {(IsLatest ? LatestFigures : FiguresAtAge)}
            where d.workspace_id = @workspace and d.state = 'Sent' and d.sent_at >= @from and d.sent_at < @to
                and d.channel_id = any (@channels)
            """;
        command.Parameters.AddWithValue("workspace", Workspace.Value);
        command.Parameters.AddWithValue("from", Zone.AtStartOfDay(Question.Period.From).ToInstant());
        command.Parameters.AddWithValue("to", Zone.AtStartOfDay(Question.Period.To.PlusDays(1)).ToInstant());
        command.Parameters.AddWithValue("channels", Channels.Keys.ToArray());
        if (!IsLatest)
            command.Parameters.AddWithValue("age", Question.Age.Hours());
        if (Question.Lifespan is { } lifespan)
        {
            command.CommandText +=
                " and exists (select 1 from posts p where p.workspace_id = d.workspace_id and p.id = d.post_id and p.lifespan = @lifespan)";
            command.Parameters.AddWithValue("lifespan", lifespan.ToString());
        }
        return command;
    }

    private string Cases(Func<MeasureParts, string> of)
    {
        List<(string Sql, Guid[] Channels)> cases =
        [
            .. Channels
                .GroupBy(c => of(Question.Measure.PartsOn(c.Value)), c => c.Key, StringComparer.Ordinal)
                .Select(g => (g.Key, g.ToArray())),
        ];
        return cases.Count switch
        {
            0 => "null::float8",
            1 => cases[0].Sql,
            _ => $"case {string.Join(' ', cases.Select(c => $"when d.channel_id in ({Ids(c.Channels)}) then {c.Sql}"))} end",
        };
    }

    private static string Ids(Guid[] channels) => string.Join(", ", channels.Select(c => $"'{c}'::uuid"));

    private static string Sum(int[] numbers) =>
        numbers.Length == 0
            ? "null::float8"
            : $"case when {string.Join(" and ", numbers.Select(n => $"{Figure(n)} >= 0 and {Figure(n)} < 'Infinity'"))} "
                + $"then {string.Join(" + ", numbers.Select(Figure))} end";

    /// <summary>SQL for the followers that were kept with a delivery; null: none, or nothing that can be read.</summary>
    private const string FollowersAtSending =
        "case jsonb_typeof(d.facts -> 'followers') when 'number' then nullif((d.facts ->> 'followers')::float8, 0) end";

    private static string Below(int? number)
    {
        if (number is not { } n)
            return "1::float8";
        string figure = n == FigureKind.Followers.Number ? $"coalesce({FollowersAtSending}, {Figure(n)})" : Figure(n);
        return $"case when {figure} > 0 and {figure} < 'Infinity' then {figure} end";
    }

    private static string Figure(int number) => $"a.figures[{number.ToString(CultureInfo.InvariantCulture)}]";
}
