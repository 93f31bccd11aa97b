using AbleLark.Server;

WebApplication app = LarkServer.Create(args);
await app.RunAsync();
