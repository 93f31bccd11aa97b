namespace AbleLark.Server;

/// <summary>Settings of the server, from the section `Lark` (environment: Lark__DataFolder and so on).</summary>
public sealed class LarkSettings
{
    /// <summary>Folder for pictures and for the keys that encrypt channels' tokens.</summary>
    public string DataFolder { get; set; } = "";

    /// <summary>Folder of the built front end; empty serves the API alone.</summary>
    public string WebRoot { get; set; } = "";

    /// <summary>Folder of the networks' rules.</summary>
    public string NetworksFolder { get; set; } = Path.Combine(AppContext.BaseDirectory, "networks");

    /// <summary>Address of the service that plays the networks; each network's API lies under it by key.</summary>
    public string NetworksAddress { get; set; } = "http://127.0.0.1:5480";

    /// <summary>True gives a clock that can be moved and, in an empty database, the demo's data.</summary>
    public bool Demo { get; set; }

    /// <summary>The day on which an empty demo begins, such as 2028-02-29: at ten in the morning where its first client is. Empty:
    /// now.</summary>
    public string DemoBegins { get; set; } = "";

    /// <summary>Brings the database up to date when the server starts.</summary>
    public bool MigrateOnStart { get; set; } = true;

    /// <summary>Turns the background work off, for tests that drive it themselves.</summary>
    public bool BackgroundWork { get; set; } = true;

    /// <summary>Names by which the server is reached beside loopback, separated by commas; requests for others are refused.</summary>
    public string Hosts { get; set; } = "";

    /// <summary>Addresses of proxies before the server, or ranges such as 10.0.0.0/8, with commas between: only what these say of who asks
    /// and of HTTPS is believed.</summary>
    public string Proxies { get; set; } = "";

    /// <summary>Most gigabytes of pictures in one workspace.</summary>
    public int MediaGigabytes { get; set; } = 20;

    /// <summary>Sites that links are read from though they aren't on the open internet: `name=address:port` with commas between, `*.name`
    /// for all below it. For sample sites; empty reads from the open internet alone.</summary>
    public string LinkHosts { get; set; } = "";

    /// <summary>Seconds after which the page under a link, or a picture of it, is given up.</summary>
    public int LinkTimeoutSeconds { get; set; } = 8;

    /// <summary>Seconds between two looks for damaged rows in one workspace, where things fail again and again.</summary>
    public int DamageLookSeconds { get; set; } = 20;

    /// <summary>Seconds for which anything waits for a lock in the database that somebody else holds.</summary>
    public int LockWaitSeconds { get; set; } = 10;

    /// <summary>Seconds for which a transaction may hold a workspace's lock.</summary>
    public int LockHoldSeconds { get; set; } = 60;

    /// <summary>Seconds after which the reading of a calendar, sheet, page or picture that was brought is given up.</summary>
    public int ReadingSeconds { get; set; } = 20;

    /// <summary>Seconds between two signs of life on a line of news; with each it is asked again what the person may hear.</summary>
    public int HeartbeatSeconds { get; set; } = 20;

    /// <summary>Serves metrics at /metrics in the text format that Prometheus reads.</summary>
    public bool PrometheusMetrics { get; set; }

    /// <summary>Seconds for which a server process holds a delivery between two signs of life.</summary>
    public int LeaseSeconds { get; set; } = 60;

    /// <summary>Seconds after which a network that doesn't answer counts as silent; less than the lease.</summary>
    public int NetworkTimeoutSeconds { get; set; } = 15;
}
