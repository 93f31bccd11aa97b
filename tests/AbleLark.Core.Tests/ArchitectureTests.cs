using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Rotas;

namespace AbleLark.Core.Tests;

/// <summary>The Core stays pure: no I/O, no clock, no chance, nothing of the web or the database.</summary>
public sealed partial class ArchitectureTests
{
    private static readonly string Folder = Path.Combine(Repository.Root, "src/AbleLark.Core");

    [Fact]
    public void The_core_leans_on_the_platform_NodaTime_and_MathNet_alone()
    {
        // "netstandard" is the platform: counting coverage adds it.
        IEnumerable<string> others = typeof(Delivery)
            .Assembly.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => !n.StartsWith("System.", StringComparison.Ordinal) && n is not ("NodaTime" or "MathNet.Numerics" or "netstandard"));
        Assert.Empty(others);
    }

    [Fact]
    public void The_core_asks_no_clock_no_chance_no_file_and_no_network()
    {
        string[] offences =
        [
            .. Sources()
                .SelectMany(file => File.ReadLines(file).Select((line, i) => (file, line, number: i + 1)))
                .Where(x => ForbiddenPattern().IsMatch(x.line))
                .Select(x => $"{Path.GetRelativePath(Folder, x.file)}:{x.number}: {x.line.Trim()}"),
        ];
        Assert.Empty(offences);
    }

    /// <summary>A role knows nothing of the token by which somebody may come: only the caller is asked what they may.</summary>
    [Fact]
    public void What_somebody_may_is_asked_of_the_caller_and_nowhere_of_a_role()
    {
        string server = Path.Combine(Repository.Root, "src/AbleLark.Server");
        IEnumerable<string> asking = Directory
            .GetFiles(server, "*.cs", SearchOption.AllDirectories)
            .Select(f => Path.GetRelativePath(server, f))
            .Where(f => Path.GetDirectoryName(f)!.Split('/')[0] is not ("Access" or "Demo" or "obj" or "bin"))
            .Where(f => AskedOfARole().IsMatch(File.ReadAllText(Path.Combine(server, f))));
        Assert.Empty(asking);
    }

    [GeneratedRegex(@"\bRole\.(Owner|Planner|Writer|Client)\b|\bRole\(\)|[rR]ole(\.Value)?\.May\(|\bRights\.Of\(")]
    private static partial Regex AskedOfARole();

    /// <summary>What goes out when, and what is decided about places, is worked out by the door and written by whoever stands here. A
    /// delivery's state, time and post can't be changed from outside of the core at all.</summary>
    [Fact]
    public void Nothing_but_the_door_changes_the_plan()
    {
        string source = Path.Combine(Repository.Root, "src");
        string[] writers =
        [
            // The one writer, and scheduling, which leaves out what the database refuses.
            "AbleLark.Server/Planning/PlanWriter.cs",
            "AbleLark.Server/LineUps/Scheduling.cs",
            // Sending: what is due, who has claimed what, and what a restored backup can't know.
            "AbleLark.Server/Outgoing/DuePreparation.cs",
            "AbleLark.Server/Outgoing/Claims.cs",
            "AbleLark.Data/Backups/Restoring.cs",
            "AbleLark.Server/Results/FigurePull.cs",
            // What came about elsewhere: posted on the network itself, or in rows of a sheet for posts that are new.
            "AbleLark.Server/Outside/OutsideCounting.cs",
            "AbleLark.Server/Imports/ImportCommit.cs",
            // What an act did is taken back.
            "AbleLark.Data/Undoing/DeliveryUndoing.cs",
            "AbleLark.Data/Undoing/UndoRules.cs",
            "AbleLark.Data/Changes/Undo.cs",
            "AbleLark.Data/Posts/PostRemoval.cs",
        ];
        string[] writing =
        [
            .. Directory
                .GetFiles(source, "*.cs", SearchOption.AllDirectories)
                .Where(f => !GeneratedPattern().IsMatch(f))
                .Select(f => Path.GetRelativePath(source, f))
                .Where(f => !f.StartsWith("AbleLark.Core/", StringComparison.Ordinal) && !f.Contains("/Demo/", StringComparison.Ordinal))
                .Where(f => WritesPlan().IsMatch(File.ReadAllText(Path.Combine(source, f)))),
        ];
        Assert.Empty(writing.Except(writers));
        Assert.Contains("AbleLark.Server/Planning/PlanWriter.cs", writing);
        string[] guarded = ["Become", "BecomeAfter", "BecomeByPerson", "MoveTo", "GiveTo", "DealWith"];
        Assert.All(guarded, name => Assert.Null(typeof(Delivery).GetMethod(name, BindingFlags.Public | BindingFlags.Instance)));
        Assert.All(
            typeof(Decision).GetProperties().Select(p => p.GetSetMethod()).OfType<MethodInfo>(),
            set => Assert.Contains(typeof(IsExternalInit), set.ReturnParameter.GetRequiredCustomModifiers())
        );
    }

    [GeneratedRegex(
        @"\.(Deliveries|Decisions|LineMoves)\.(Add|AddRange|Remove|RemoveRange|ExecuteUpdate\w*|ExecuteDelete\w*)\("
            + @"|\bdb\.(Add|Remove)(Range)?\(|\b([cC]hange|answer)\.Apply\("
            + @"|(?i:(update|insert into|delete from) (deliveries|decisions|line_moves))"
    )]
    private static partial Regex WritesPlan();

    /// <summary>What open pages hear of is told in one place.</summary>
    [Fact]
    public void Changes_are_told_by_notifications_alone()
    {
        string source = Path.Combine(Repository.Root, "src");
        Assert.Equal(
            ["AbleLark.Data/Changes/ChangeNotification.cs"],
            Directory
                .GetFiles(source, "*.cs", SearchOption.AllDirectories)
                .Where(f => !GeneratedPattern().IsMatch(f))
                .Where(f => ToldByHand().IsMatch(File.ReadAllText(f)))
                .Select(f => Path.GetRelativePath(source, f))
        );
    }

    [GeneratedRegex(@"pg_notify\(|plan_stamp \+ 1")]
    private static partial Regex ToldByHand();

    [Fact]
    public void Files_stay_short_enough_for_one_idea()
    {
        IEnumerable<string> tooLong = Directory
            .GetFiles(Path.Combine(Repository.Root, "src"), "*.*", SearchOption.AllDirectories)
            .Where(f => Path.GetExtension(f) is ".cs" or ".ts" or ".tsx" && !GeneratedPattern().IsMatch(f))
            .Where(f => File.ReadLines(f).Count() > 320)
            .Select(f => Path.GetRelativePath(Repository.Root, f));
        Assert.Empty(tooLong);
    }

    [Fact]
    public void Lines_fit_beside_each_other_on_a_screen()
    {
        IEnumerable<string> tooWide = new[] { "src", "tests", "bench" }
            .SelectMany(f => Directory.GetFiles(Path.Combine(Repository.Root, f), "*.cs", SearchOption.AllDirectories))
            .Where(f => !GeneratedPattern().IsMatch(f))
            .SelectMany(f => File.ReadLines(f).Select((line, i) => (line, place: $"{Path.GetRelativePath(Repository.Root, f)}:{i + 1}")))
            .Where(l => l.line.Length > 140)
            .Select(l => l.place);
        Assert.Empty(tooWide);
    }

    [Fact]
    public void A_namespace_is_said_once_at_the_top_of_its_file()
    {
        string[] files =
        [
            .. new[] { "src", "tests", "bench", "tools" }
                .SelectMany(f => Directory.GetFiles(Path.Combine(Repository.Root, f), "*.cs", SearchOption.AllDirectories))
                .Where(f => !GeneratedPattern().IsMatch(f)),
        ];
        Assert.True(files.Length > 400, $"{files.Length} files");
        Assert.DoesNotContain(files, f => BlockNamespacePattern().IsMatch(File.ReadAllText(f)));
    }

    [GeneratedRegex(@"^namespace [\w.]+\s*(//.*)?\n?\s*\{", RegexOptions.Multiline)]
    private static partial Regex BlockNamespacePattern();

    private static IEnumerable<string> Sources() =>
        Directory.GetFiles(Folder, "*.cs", SearchOption.AllDirectories).Where(f => !GeneratedPattern().IsMatch(f));

    [GeneratedRegex(
        @"\bDateTime(Offset)?\.(Utc)?Now\b|SystemClock|\bnew Random\b|Random\.Shared"
            + @"|\bFile\.|\bDirectory\.|HttpClient|\basync\b|Environment\."
    )]
    private static partial Regex ForbiddenPattern();

    [GeneratedRegex(@"[\\/](obj|bin|node_modules|dist|Migrations)[\\/]|schema\.ts$")]
    private static partial Regex GeneratedPattern();
}
