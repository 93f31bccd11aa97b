using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data;

public static class LarkDbSetup
{
    /// <summary>Points a context at PostgreSQL, with NodaTime types and snake_case names.</summary>
    public static DbContextOptionsBuilder UseLark(this DbContextOptionsBuilder options, string connection) =>
        options.UseNpgsql(connection, npgsql => npgsql.UseNodaTime()).UseSnakeCaseNamingConvention();
}
