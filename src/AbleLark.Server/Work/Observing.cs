using Microsoft.Extensions.Configuration.Memory;
using Microsoft.Extensions.Logging.Console;
using OpenTelemetry.Metrics;

namespace AbleLark.Server.Work;

/// <summary>What the server tells whoever runs it: a log of one line each, and metrics.</summary>
public static class Observing
{
    /// <summary>Levels unless the settings say otherwise: what the application does and what goes wrong, not each statement and each
    /// call.</summary>
    private static readonly Dictionary<string, string?> Levels = new()
    {
        ["Logging:LogLevel:Default"] = "Information",
        ["Logging:LogLevel:Microsoft.AspNetCore"] = "Warning",
        // What fails in the database comes to us as an exception, and is dealt with or logged there, once.
        ["Logging:LogLevel:Microsoft.EntityFrameworkCore"] = "Critical",
        ["Logging:LogLevel:System.Net.Http.HttpClient"] = "Warning",
    };

    public static void AddLog(WebApplicationBuilder builder)
    {
        ((IConfigurationBuilder)builder.Configuration).Sources.Insert(0, new MemoryConfigurationSource { InitialData = Levels });
        builder.Logging.ClearProviders();
        builder.Logging.AddSimpleConsole(o =>
        {
            o.SingleLine = true;
            o.TimestampFormat = "yyyy-MM-ddTHH:mm:ss.fffZ ";
            o.UseUtcTimestamp = true;
            o.ColorBehavior = LoggerColorBehavior.Disabled;
        });
    }

    /// <summary>Metrics go by OTLP where its address is set (OTEL_EXPORTER_OTLP_ENDPOINT), and to `/metrics` where that is asked
    /// for.</summary>
    public static void AddMetrics(IServiceCollection services, IConfiguration configuration, LarkSettings settings) =>
        services
            .AddOpenTelemetry()
            .WithMetrics(m =>
            {
                m.AddMeter(LoopHealth.MeterName, "Microsoft.AspNetCore.Hosting", "System.Runtime", "Npgsql");
                if (configuration["OTEL_EXPORTER_OTLP_ENDPOINT"] is { Length: > 0 })
                    m.AddOtlpExporter();
                if (settings.PrometheusMetrics)
                    m.AddPrometheusExporter();
            });
}
