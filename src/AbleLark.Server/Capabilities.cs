using AbleLark.Core.Deliveries;
using AbleLark.Data.Damage;
using AbleLark.Server.Calendars;
using AbleLark.Server.Channels;
using AbleLark.Server.Checks;
using AbleLark.Server.Demo;
using AbleLark.Server.Desk;
using AbleLark.Server.Hours;
using AbleLark.Server.Imports;
using AbleLark.Server.KeyDates;
using AbleLark.Server.LineUps;
using AbleLark.Server.Links;
using AbleLark.Server.Live;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Outside;
using AbleLark.Server.Places;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using AbleLark.Server.Results;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server;

/// <summary>What the server is made of: each capability, and how long one of it lives.</summary>
internal static class Capabilities
{
    public static void AddCapabilities(this IServiceCollection services)
    {
        services.AddSingleton<IClock>(SystemClock.Instance);
        services.AddSingleton<TimeAhead>();
        services.AddSingleton<LoopHealth>();
        services.AddSingleton<CrashPoints>();
        services.AddSingleton(NetworkLoading.Load);
        services.AddSingleton<LiveNews>();
        services.AddHttpClient("demo").ConfigurePrimaryHttpMessageHandler(() => new HttpClientHandler { AllowAutoRedirect = false });
        services.AddHttpClient<INetworkProtocol, PlainProtocol>(
            (s, http) => http.Timeout = TimeSpan.FromSeconds(s.GetRequiredService<IOptions<LarkSettings>>().Value.NetworkTimeoutSeconds)
        );
        services.AddScoped<NetworkConnector>();
        services.AddSingleton<StepsOf>(SendingSteps.Of);
        services.AddScoped<BusinessClock>();
        services.AddScoped<ChannelTokens>();
        services.AddSingleton<IFileStore, FolderStore>();
        services.AddSingleton<Renditions>();
        services.AddSingleton<SentFiles>();
        services.AddScoped<MediaStore>();
        services.AddScoped<MediaLibrary>();
        services.AddSingleton<SafeReading>();
        services.AddSingleton<LinkReader>();
        services.AddScoped<PostChecking>();
        services.AddScoped<EarnedReader>();
        services.AddScoped<FigureKeeping>();
        services.AddSingleton<Comparisons>();
        services.AddScoped<MeasuredReader>();
        services.AddScoped<TotalsReader>();
        services.AddSingleton<SentTags>();
        services.AddScoped<ResultsGroups>();
        services.AddSingleton<KnownBanks>();
        services.AddSingleton<KnownScores>();
        services.AddSingleton<KnownPasts>();
        services.AddScoped<BankReader>();
        services.AddScoped<OlderReader>();
        services.AddScoped<LineUpReader>();
        services.AddScoped<ILineUpSource>(s => s.GetRequiredService<LineUpReader>());
        services.AddScoped<PlanActs>();
        services.AddScoped<PlanWriter>();
        services.AddScoped<SheetMoves>();
        services.AddScoped<PlanActScope>();
        services.AddScoped<LineUpViews>();
        services.AddScoped<LineUpCache>();
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton<LineUpSnapshots>();
        services.AddSingleton<HashtagCounts>();
        services.AddSingleton<HeavyReading>();
        services.AddSingleton<DamagedRows>();
        services.AddSingleton<DamageWatch>();
        services.AddSingleton<SessionTickets>();
        services.AddSingleton<UnknownAccounts>();
        services.AddSingleton<KnownDevices>();
        services.AddScoped<SignInLimits>();
        services.AddSingleton<ImportsInMemory>();
        services.AddSingleton<Committing>();
        services.AddScoped<ImportContexts>();
        services.AddScoped<ImportBooks>();
        services.AddScoped<ImportStart>();
        services.AddScoped<ImportCommit>();
        services.AddScoped<SheetMaking>();
        services.AddScoped<Scheduling>();
        services.AddScoped<Backoff>();
        services.AddScoped<Claims>();
        services.AddScoped<DuePreparation>();
        services.AddScoped<StepCalls>();
        services.AddScoped<Sending>();
        services.AddScoped<ChannelFigures>();
        services.AddScoped<ChannelAudienceReading>();
        services.AddScoped<GoodHours>();
        services.AddScoped<OutsideLook>();
        services.AddScoped<OutsideCounting>();
        services.AddScoped<KeyDateReader>();
        services.AddScoped<Following>();
        services.AddScoped<CalendarSources>();
        services.AddScoped<CalendarWriting>();
        AddWork<SchedulingWork>(services);
        AddWork<SendingLoop>(services);
        AddWork<FigurePull>(services);
        AddWork<AudiencePull>(services);
        AddWork<OutsidePull>(services);
        AddWork<CalendarPull>(services);
        AddWork<MediaTidying>(services);
        services.AddScoped<BackgroundPass>();
        services.AddScoped<DemoClock>();
        services.AddSingleton<StandInControl>();
        services.AddScoped<DemoPast>();
        services.AddScoped<DemoAfterPast>();
        services.AddScoped<DemoKeyDates>();
        services.AddScoped<DemoBeginning>();
        services.AddScoped<DemoData>();
    }

    private static void AddWork<T>(IServiceCollection services)
        where T : class, IBackgroundWork
    {
        services.AddSingleton<T>();
        services.AddSingleton<IBackgroundWork>(s => s.GetRequiredService<T>());
    }
}
