using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

Console.WriteLine("dotnet ef migrations add NAME --project src/AbleLark.Data --startup-project tools/AbleLark.Design");

/// <summary>The model, for the tool that writes migrations; it asks no database.</summary>
internal sealed class LarkDbDesign : IDesignTimeDbContextFactory<LarkDatabase>
{
    public LarkDatabase CreateDbContext(string[] args) =>
        new((DbContextOptions<LarkDatabase>)new DbContextOptionsBuilder<LarkDatabase>().UseLark("Host=127.0.0.1").Options);
}
