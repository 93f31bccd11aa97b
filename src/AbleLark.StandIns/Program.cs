using AbleLark.StandIns;

WebApplication app = await StandInApp.CreateAsync(args);
await app.RunAsync();
