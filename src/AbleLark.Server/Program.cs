using AbleLark.Server;
using AbleLark.Server.Backups;

if (args is [AfterRestore.Command, ..])
    return await AfterRestore.RunAsync(args);
WebApplication app = LarkServer.Create(args);
await app.RunAsync();
return 0;
