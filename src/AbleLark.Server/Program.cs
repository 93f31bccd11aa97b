using AbleLark.Data;
using AbleLark.Server;
using AbleLark.Server.Backups;

if (args is [AfterRestore.Command, ..])
    return await AfterRestore.RunAsync(args);
WebApplication app = LarkServer.Create(args);
try
{
    await app.RunAsync();
    return 0;
}
catch (UnknownFormException e)
{
    await Console.Error.WriteLineAsync($"lark: {e.Message}");
    return UnknownForm;
}

internal sealed partial class Program
{
    /// <summary>The exit code when the database has another form than this program knows; it is left as it is.</summary>
    internal const int UnknownForm = 3;
}
