using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

Console.WriteLine("dotnet ef migrations add NAME --project src/AbleLark.Data --startup-project tools/AbleLark.Design");

/// <summary>The model, for the tool that writes migrations; it asks no database.</summary>
internal sealed class LarkDbDesign : IDesignTimeDbContextFactory<LarkDb>
{
    public LarkDb CreateDbContext(string[] args) =>
        new((DbContextOptions<LarkDb>)new DbContextOptionsBuilder<LarkDb>().UseLark("Host=127.0.0.1").Options);
}
