using System.Globalization;
using System.Reflection;
using System.Text.Json.Serialization.Metadata;
using AbleLark.Data;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Calendars;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.Channels;
using AbleLark.Server.Checks;
using AbleLark.Server.Contacts;
using AbleLark.Server.Deliveries;
using AbleLark.Server.Demo;
using AbleLark.Server.Desk;
using AbleLark.Server.Health;
using AbleLark.Server.Hours;
using AbleLark.Server.Imports;
using AbleLark.Server.KeyDates;
using AbleLark.Server.LineUps;
using AbleLark.Server.Links;
using AbleLark.Server.Live;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Outlooks;
using AbleLark.Server.Outside;
using AbleLark.Server.Overview;
using AbleLark.Server.Pauses;
using AbleLark.Server.Places;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Results;
using AbleLark.Server.Rotas;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using AbleLark.Server.Tokens;
using AbleLark.Server.Vocabulary;
using AbleLark.Server.Work;
using AbleLark.Server.Workspaces;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace AbleLark.Server;

/// <summary>Puts the server together: settings, database, capabilities, background work.</summary>
public static class LarkServer
{
    /// <param name="args">Settings as for any ASP.NET Core program; `ConnectionStrings:Lark` and `Lark:DataFolder` are needed.</param>
    /// <param name="more">Puts other services in place of the usual ones, for tests.</param>
    public static WebApplication Create(string[] args, Action<IServiceCollection>? more = null)
    {
        // Words and figures are written the same on every machine, whatever its locale.
        CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
        WebApplicationBuilder builder = WebApplication.CreateBuilder(
            new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory }
        );
        // The build runs the program once to write the OpenAPI document; there is no database then.
        bool describing = Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";
        Observing.AddLog(builder);
        builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = MediaLimits.MostRequestBytes);
        LarkSettings settings = builder.Configuration.GetSection("Lark").Get<LarkSettings>() ?? new();
        builder.Services.Configure<LarkSettings>(builder.Configuration.GetSection("Lark"));
        AddPlatform(builder, settings);
        builder.Services.AddCapabilities();
        Observing.AddMetrics(builder.Services, builder.Configuration, settings);
        more?.Invoke(builder.Services);
        if (!describing)
        {
            builder.Services.AddHostedService<DatabaseStart>();
            builder.Services.AddHostedService(s => s.GetRequiredService<LiveNews>());
            builder.Services.AddHostedService<LockWatch>();
            if (settings.BackgroundWork)
                AddLoops(builder.Services, settings);
        }

        WebApplication app = builder.Build();
        app.UseNamedProxies(settings);
        app.UseLarkHeaders();
        app.UseHsts();
        app.UseExceptionHandler();
        app.UseStatusCodePages();
        app.UseOwnHostAlone(settings);
        app.UseFrontEnd(settings);
        app.UseAuthentication();
        app.UseAuthorization();
        app.UseWorkspaceGate();
        app.UseDamageRetry();
        app.UseUploadLimit();
        Map(app, settings);
        return app;
    }

    private static void AddPlatform(WebApplicationBuilder builder, LarkSettings settings)
    {
        IServiceCollection services = builder.Services;
        NpgsqlConnectionStringBuilder connection = new(builder.Configuration.GetConnectionString("Lark") ?? "Host=127.0.0.1");
        // Compiling a question (jit) costs seconds, and gains less than that over hundreds of thousands of rows; what a workspace's past
        // adds up to is gathered in memory (work_mem) and not on disk.
        connection.Options = $"{connection.Options} -c lock_timeout={settings.LockWaitSeconds}s -c jit=off -c work_mem=32MB".TrimStart();
        services.AddSingleton<HeldLocks>();
        services.AddDbContext<LarkDb, LarkDatabase>(
            (s, o) =>
                o.UseLark(connection.ConnectionString)
                    .AddInterceptors(s.GetRequiredService<HeldLocks>(), s.GetRequiredService<DamagedRows>())
        );
        services
            .AddIdentityCore<Person>(o =>
            {
                o.UseLarkTables();
                o.User.RequireUniqueEmail = true;
                o.Password.RequiredLength = 10;
                o.Password.RequireNonAlphanumeric = o.Password.RequireUppercase = o.Password.RequireDigit = false;
                // An account is never closed: whoever tries too often waits (see SignInLimits).
                o.Lockout.AllowedForNewUsers = false;
            })
            .AddEntityFrameworkStores<LarkDb>()
            .AddSignInManager();
        const string either = "either";
        services
            .AddAuthentication(either)
            .AddPolicyScheme(
                either,
                null,
                o =>
                    o.ForwardDefaultSelector = c => TokenScheme.Concerns(c.Request) ? TokenScheme.Name : IdentityConstants.ApplicationScheme
            )
            .AddScheme<Microsoft.AspNetCore.Authentication.AuthenticationSchemeOptions, TokenScheme>(TokenScheme.Name, null)
            .AddIdentityCookies();
        services.ConfigureApplicationCookie(o =>
        {
            o.Cookie.Name = "able-lark";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Lax;
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
            o.ExpireTimeSpan = TimeSpan.FromDays(7);
            // An API answers with a status; the front end shows the sign-in form.
            o.Events.OnRedirectToLogin = c => Answer(c.Response, StatusCodes.Status401Unauthorized);
            o.Events.OnRedirectToAccessDenied = c => Answer(c.Response, StatusCodes.Status403Forbidden);
        });
        services
            .AddOptions<CookieAuthenticationOptions>(IdentityConstants.ApplicationScheme)
            .Configure<SessionTickets>((o, tickets) => o.SessionStore = tickets);
        services.AddHsts(o => o.MaxAge = TimeSpan.FromDays(365));
        services.AddAuthorization();
        string keys = Path.Combine(settings.DataFolder.Length > 0 ? settings.DataFolder : Path.GetTempPath(), "keys");
        services.AddDataProtection().SetApplicationName("able-lark").PersistKeysToFileSystem(new DirectoryInfo(keys));
        services
            .AddOptions<Microsoft.AspNetCore.Http.Json.JsonOptions>()
            .Configure<TimeAhead>((o, time) => BoundedDates.AddTo(o.SerializerOptions, time));
        // A call that is under way when the server is asked to stop gets its answer.
        services.Configure<HostOptions>(o => o.ShutdownTimeout = TimeSpan.FromSeconds(settings.NetworkTimeoutSeconds + 10));
        services.ConfigureHttpJsonOptions(o =>
        {
            LarkJson.Configure(o.SerializerOptions);
            o.SerializerOptions.Converters.Add(new CleanStringConverter());
            o.SerializerOptions.TypeInfoResolver = (
                o.SerializerOptions.TypeInfoResolver ?? new DefaultJsonTypeInfoResolver()
            ).WithAddedModifier(FullLists.Modify);
            o.SerializerOptions.RespectNullableAnnotations = true;
            o.SerializerOptions.RespectRequiredConstructorParameters = true;
        });
        services.Configure<Microsoft.AspNetCore.Http.Features.FormOptions>(o => o.MultipartBodyLengthLimit = MediaLimits.MostRequestBytes);
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.AddValidation();
        services.AddProblemDetails(o => o.CustomizeProblemDetails = ProblemWords.Complete);
        services.AddExceptionHandler<ProblemHandler>();
        services.AddResponseCompression(o => o.EnableForHttps = true);
        services.AddOpenApi("v1", OpenApiShapes.Configure);

        static Task Answer(HttpResponse response, int status)
        {
            response.StatusCode = status;
            return Task.CompletedTask;
        }
    }

    /// <summary>A loop for each kind of work, so that none waits for another.</summary>
    private static void AddLoops(IServiceCollection services, LarkSettings settings)
    {
        services.AddHostedService<BackgroundLoop<SchedulingWork>>();
        services.AddHostedService<BackgroundLoop<SendingLoop>>();
        services.AddHostedService<BackgroundLoop<FigurePull>>();
        services.AddHostedService<BackgroundLoop<AudiencePull>>();
        services.AddHostedService<BackgroundLoop<OutsidePull>>();
        services.AddHostedService<BackgroundLoop<CalendarPull>>();
        services.AddHostedService<BackgroundLoop<MediaTidying>>();
        services.AddHostedService<LineUpWarming>();
        if (settings.Demo)
            services.AddHostedService<DemoClockLoop>();
    }

    private static void Map(WebApplication app, LarkSettings settings)
    {
        app.MapHealth();
        if (settings.PrometheusMetrics)
            app.MapPrometheusScrapingEndpoint("/metrics");
        app.MapOpenApi("/openapi/{documentName}.json");
        app.MapConnectCallback();
        app.MapFeed();
        RouteGroupBuilder api = app.MapGroup("/api");
        // Nothing is an answer, too: it is written as such.
        api.AddEndpointFilter(async (context, next) => await next(context) ?? TypedResults.Text("null", "application/json"));
        api.MapSession();
        api.MapConnectOutcome();
        api.MapLive();
        api.MapNetworks();
        api.MapVocabulary();
        api.MapDemo(settings.Demo);
        RouteGroupBuilder workspace = api.MapWorkspaceGroup();
        workspace.MapWorkspaces();
        workspace.MapChannels();
        workspace.MapCategories();
        workspace.MapRotas();
        workspace.MapPauses();
        workspace.MapPosts();
        workspace.MapApprovals();
        workspace.MapPostPlanning();
        workspace.MapPictures();
        workspace.MapPresence();
        workspace.MapVersions();
        workspace.MapWordings();
        workspace.MapHashtags();
        workspace.MapWalls();
        workspace.MapMedia();
        workspace.MapUploads();
        workspace.MapLinks();
        workspace.MapImports();
        workspace.MapLineUp();
        workspace.MapOccurrences();
        workspace.MapPlanActs();
        workspace.MapExchange();
        workspace.MapDensity();
        workspace.MapBooking();
        workspace.MapOutlook();
        workspace.MapDeliveries();
        workspace.MapFound();
        workspace.MapRest();
        workspace.MapPosted();
        workspace.MapTakingDown();
        workspace.MapContacts();
        workspace.MapChannelGroups();
        workspace.MapSavedFilters();
        workspace.MapNotes();
        workspace.MapKeyDates();
        workspace.MapFeeds();
        workspace.MapNeeds();
        workspace.MapResults();
        workspace.MapCurves();
        workspace.MapOutside();
        workspace.MapMix();
        workspace.MapFigureSheets();
        workspace.MapFollowers();
        workspace.MapActivity();
        workspace.MapHours();
        workspace.MapChanges();
        workspace.MapTokens();
        api.MapOverview();
        api.MapFallback(() => Answers.NotFound());
    }
}
