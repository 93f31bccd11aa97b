using AbleLark.Core.Categories;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace AbleLark.Server.Tests.Ground;

/// <summary>A database of the last form is brought up to date with everything in it.</summary>
public sealed class MigrationTests
{
    [Fact]
    public async Task A_week_laid_out_before_several_categories_keeps_its_slots()
    {
        string connection = await Databases.EmptyAsync();
        Guid workspace = Guid.NewGuid(), rota = Guid.NewGuid(), category = Guid.NewGuid(), slot = Guid.NewGuid(), free = Guid.NewGuid();
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261124051142_Spine");
            await before.Database.ExecuteSqlAsync($"""
                insert into workspaces (id, slug, name, zone, settle_time, late_after, plan_stamp, settled_stamp) values ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0, -1);
                insert into rotas (workspace_id, id, name, zone, rank) values ({workspace}, {rota}, 'The week', 'Europe/Dublin', 0);
                insert into categories (workspace_id, id, name, colour, monogram, place, usual_channels) values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 0, '[]');
                insert into slots (workspace_id, id, rota_id, days, time, category_id, channels, place) values ({workspace}, {slot}, {rota}, '["monday"]', '09:00', {category}, '[]', 0);
                insert into slots (workspace_id, id, rota_id, days, time, category_id, channels, place) values ({workspace}, {free}, {rota}, '["friday"]', '10:00', null, '[]', 1);
                """);
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        Rota kept = await db.Rotas.Include(r => r.Slots).SingleAsync();
        Slot[] slots = [.. kept.Slots.OrderBy(s => s.Place)];
        Assert.Equal(1, kept.Version);
        Assert.Equal([new(category)], slots[0].Categories);
        Assert.Empty(slots[1].Categories);
        Assert.All(slots, s => Assert.Equal((Rhythm.Weeks, 1, true), (s.Rhythm, s.Every, s.Anchor < new NodaTime.LocalDate(2026, 1, 1))));
        Category settings = await db.Categories.SingleAsync();
        Assert.Equal((OrderRule.Usual, null, true), (settings.Order, settings.GapDays, settings.NewPostsRotate));
        Assert.Empty(settings.Hashtags);
    }
}
