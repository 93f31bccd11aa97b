using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Data;

public static class LarkDbSetup
{
    /// <summary>For contexts without an application around them: Identity reads the form of its tables from services.</summary>
    private static readonly IServiceProvider Alone = new ServiceCollection()
        .Configure<IdentityOptions>(UseLarkTables)
        .BuildServiceProvider();

    /// <summary>Points a context at PostgreSQL, with NodaTime types and snake_case names.</summary>
    public static DbContextOptionsBuilder UseLark(this DbContextOptionsBuilder options, string connection)
    {
        if (options.Options.FindExtension<CoreOptionsExtension>()?.ApplicationServiceProvider is null)
            options.UseApplicationServiceProvider(Alone);
        return options.UseNpgsql(connection, npgsql => npgsql.UseNodaTime()).UseSnakeCaseNamingConvention();
    }

    /// <summary>The form of Identity's tables, which the first migration made; an application says so to Identity as well.</summary>
    public static void UseLarkTables(this IdentityOptions options) => options.Stores.SchemaVersion = IdentitySchemaVersions.Version3;
}
