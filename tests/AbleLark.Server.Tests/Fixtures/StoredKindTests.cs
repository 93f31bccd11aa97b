using System.Reflection;
using System.Text.RegularExpressions;
using AbleLark.Data;
using AbleLark.Data.Kinds;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Every kind of row is declared once, and says of itself what it is called in the change log and what its changes are told
/// under, or why not.</summary>
public sealed partial class StoredKindTests
{
    [Fact]
    public void Every_table_has_its_declaration_and_its_set()
    {
        using LarkDb db = Databases.Open("Host=127.0.0.1;Database=none");
        Type[] stored =
        [
            .. db
                .Model.GetEntityTypes()
                .Select(t => t.ClrType)
                .Where(t => t.Namespace!.StartsWith("AbleLark", StringComparison.Ordinal) && t != typeof(AbleLark.Data.Rows.Person)),
        ];
        Assert.Equal(stored.OrderBy(t => t.FullName), StoredKinds.All.Select(k => k.Type).OrderBy(t => t.FullName));
        HashSet<Type> sets =
        [
            .. typeof(LarkDb)
                .GetProperties()
                .Where(p => p.PropertyType.IsGenericType && p.PropertyType.GetGenericTypeDefinition() == typeof(DbSet<>))
                .Select(p => p.PropertyType.GenericTypeArguments[0]),
        ];
        Assert.All(StoredKinds.All, k => Assert.Contains(k.Type, sets));
    }

    [Fact]
    public void Every_kind_says_how_it_is_logged_and_told_or_why_not()
    {
        Assert.All(
            StoredKinds.All,
            k =>
            {
                Assert.NotEqual(k.Log.Name is null, string.IsNullOrWhiteSpace(k.Log.WhyNot));
                Assert.NotEqual(k.Told.Topic is null, string.IsNullOrWhiteSpace(k.Told.WhyNot));
            }
        );
        // What a logged row refers to by its columns' names has to be found again by them.
        using LarkDb db = Databases.Open("Host=127.0.0.1;Database=none");
        foreach (StoredKind kind in StoredKinds.All.Where(k => k.Log.Name is not null))
        {
            IProperty[] properties = [.. db.Model.FindEntityType(kind.Type)!.GetProperties()];
            Assert.Equal(properties.Length, properties.Select(p => p.GetColumnName()).Distinct().Count());
            Assert.Equal(kind, StoredKinds.Logged(kind.Log.Name!));
        }
    }

    /// <summary>Names in the change log outlive types: whoever renames one has to rename what the log holds.</summary>
    [Fact]
    public void Names_in_the_change_log_stay() =>
        Assert.Equal(
            [
                "approval",
                "calendarNote",
                "calendarSource",
                "category",
                "channel",
                "channelGroup",
                "contact",
                "decision",
                "delivery",
                "keyDate",
                "keyDateKind",
                "keyDateTie",
                "lineMove",
                "media",
                "passedPlace",
                "pause",
                "post",
                "rota",
                "savedFilter",
                "slot",
                "workspace",
            ],
            StoredKinds.All.Select(k => k.Log.Name).OfType<string>().Order(StringComparer.Ordinal)
        );

    [Fact]
    public void The_page_knows_what_each_topic_makes_old()
    {
        string page = File.ReadAllText(Path.Combine(Repository(), "src/web/src/api/queries.ts"));
        string declared = Refreshes().Match(page).Groups[1].Value;
        Assert.Equal(
            Enum.GetNames<Topic>().Select(n => char.ToLowerInvariant(n[0]) + n[1..]).Append("clock").Order(StringComparer.Ordinal),
            TopicLine().Matches(declared).Select(m => m.Groups[1].Value).Order(StringComparer.Ordinal)
        );
    }

    private static string Repository()
    {
        for (DirectoryInfo? at = new(Path.GetDirectoryName(Assembly.GetExecutingAssembly().Location)!); at is not null; at = at.Parent)
        {
            if (File.Exists(Path.Combine(at.FullName, "AbleLark.slnx")))
                return at.FullName;
        }
        throw new DirectoryNotFoundException("The tests don't run inside the repository.");
    }

    [GeneratedRegex(@"const refreshes = \{(.*?)\n\}", RegexOptions.Singleline)]
    private static partial Regex Refreshes();

    [GeneratedRegex(@"^  (\w+): \[", RegexOptions.Multiline)]
    private static partial Regex TopicLine();
}
