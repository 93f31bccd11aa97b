using System.Text.RegularExpressions;

namespace AbleLark.Core.Tests;

/// <summary>What rests on what: rooms (a folder, or a file beside the folders) don't go round in circles, and files of one room only where
/// it is said why.</summary>
public sealed partial class RoomTests
{
    /// <summary>Files of one room that need each other, and why they do.</summary>
    private static readonly Dictionary<string, string> Meant = new(StringComparer.Ordinal)
    {
        ["Core/Acts: Act, ActWords"] = "a code and its words",
        ["Core/Comparison: Circumstances, FairAnswers, Levels"] =
            "the model's levels are of its circumstances, and answers are told by both",
        [
            "Core/Content: ContentCheck, ContentFields, Field, FieldValues, Formats, MediaChecks, "
                + "MediaFields, Mentions, OfferFields, PostContent, ResolvedContent, ThreadField"
        ] = "a field says how it is checked, and what is checked is content made of fields",
        ["Core/Content: Fitter, Fitting"] = "how something is fitted, and what comes of it",
        ["Core/Deliveries: Delivery, SentFacts"] = "what was known at sending, kept with it",
        ["Core/Deliveries: SendingPlan, SendingStep"] = "a plan of steps; a step's state is read from the plan",
        ["Core/Findings: Finding, FindingWords"] = "a code and its words",
        ["Core/Imports: DateCell, DateLanguages"] = "a cell is read in a language, whose words make cells",
        ["Core/Imports: Doubles, ImportContext, ImportDraft, PlanningSheet, PostUpdate"] =
            "a draft is held against what is there, which says what of it is an update",
        ["Core/Imports: RowContent, RowDates, RowReader"] = "parts of one reader",
        ["Core/KeyDates: CalendarSource, KeyDate"] = "rows that name each other",
        ["Core/LineUps: LineUpDelivery, LineUpInput, OlderDeliveries"] = "one input, in three records",
        ["Core/Networks: MediaRules, NetworkRules"] = "rules, and a part of them that asks the whole",
        ["Core/Outlooks: SharedLineUp, WhatIf"] = "a state, and the trial that compares it",
        ["Core/Planning: DeliveryActs, PlaceActs, PlaceExchange, PlanDoor, Surroundings"] = "the door and what it parts its work into",
        ["Core/Planning: PlaceDecision, PlanChange"] = "a change holds decisions, which are made of changes",
        ["Core/Posts: Approval, Placeable, Post"] = "rows that name each other",
        ["Core/Reasons: Reason, ReasonWords"] = "a code and its words",
        ["Core/Rotation: BankIndex, Candidates, Lines"] =
            "a line is drawn from candidates, which are numbers in the bank, which keeps those of each line",
        ["Core/Rotation: ChannelDiary, TurnHistory"] = "what happened on a channel is kept by the history that reads it",
        ["Data/Damage: AsideKey, DamageLook"] = "by what is put aside, and the look that finds it",
        ["Data/Kinds: CalendarKinds, ContentKinds, DeliveryKinds, HistoryKinds, PeopleKinds, " + "SetUpKinds, StoredKind"] =
            "what a kind is, and the list of all",
        ["Server/Deliveries: DeliveryEndpoints, TakeDownEndpoints"] = "one address's answer shows what the other offers",
        ["Server/Demo: DemoPast, PastLife"] = "the past, and its living through",
        ["Server/Imports: BankGuard, Committing, ImportBooks, ImportCommit, ImportShowing, " + "ImportViews, ImportedPosts, OpenImport"] =
            "one open import, in parts",
        ["Server/Imports: ImportEndpoints, SheetMaking"] = "a request's record stands beside its address",
        ["Server/LineUps: LineUpEndpoints, LineUpViews"] = "a request's record stands beside its address",
        ["Server/Media: Film, Renditions"] = "a film is one kind of rendition, made by the others' recipe",
        ["Server/Media: MediaStore, UploadEndpoints"] = "a request's record stands beside its address",
        ["Server/Outgoing: Claims, Sending, StepCalls"] = "one machine, in three parts",
        ["Server/Outside: OutsideCounting, OutsideEndpoints"] = "a request's record stands beside its address",
        ["Server/Places: PlanActEndpoints, PlanActs"] = "a request's record stands beside its address",
        ["Server/Posts: PostEndpoints, PostPlanning"] = "a post is saved and planned by one request",
        ["Server/Results: GroupEndpoints, ResultsGroups"] = "a request's record stands beside its address",
        ["Server/Results: MeasuredQuery, MeasuredReader"] = "a question, and its reader",
    };

    [Theory]
    [InlineData("AbleLark.Core")]
    [InlineData("AbleLark.Data")]
    [InlineData("AbleLark.Server")]
    [InlineData("AbleLark.Sheets")]
    public void Rooms_do_not_go_round_in_circles(string project)
    {
        Dictionary<string, HashSet<string>> files = UsesInCSharp(project);
        Dictionary<string, HashSet<string>> rooms = files
            .GroupBy(f => RoomOf(f.Key))
            .ToDictionary(g => g.Key, g => g.SelectMany(f => f.Value.Select(u => RoomOf(u))).Where(r => r != g.Key).ToHashSet());
        Assert.Contains(rooms, r => r.Value.Count > 0);
        Assert.Empty(Circles(rooms));
    }

    [Fact]
    public void Rooms_of_the_page_do_not_go_round_in_circles()
    {
        Dictionary<string, HashSet<string>> files = UsesInPage();
        // Folders within a folder are rooms of their own, and so are files beside folders.
        foreach (int depth in new[] { 1, 2 })
        {
            Dictionary<string, HashSet<string>> rooms = files
                .GroupBy(f => RoomOf(f.Key, depth))
                .ToDictionary(g => g.Key, g => g.SelectMany(f => f.Value.Select(u => RoomOf(u, depth))).Where(r => r != g.Key).ToHashSet());
            Assert.Contains(rooms, r => r.Key.StartsWith("desk", StringComparison.Ordinal) && r.Value.Count > 0);
            Assert.Empty(Circles(rooms));
        }
    }

    [Fact]
    public void Files_need_each_other_only_where_it_is_said_why()
    {
        string[] found =
        [
            .. new[] { "Core", "Data", "Server", "Sheets" }.SelectMany(p => CirclesOfFiles(p, UsesInCSharp($"AbleLark.{p}"))),
            .. CirclesOfFiles("web", UsesInPage()),
        ];
        Assert.Equal(string.Join('\n', Meant.Keys.Order(StringComparer.Ordinal)), string.Join('\n', found.Order(StringComparer.Ordinal)));
    }

    private static IEnumerable<string> CirclesOfFiles(string project, Dictionary<string, HashSet<string>> uses) =>
        Circles(uses)
            .Select(c => $"{project}/{Path.GetDirectoryName(c[0])}: {string.Join(", ", c.Select(Path.GetFileNameWithoutExtension))}");

    private static string RoomOf(string file) => RoomOf(file, 1);

    private static string RoomOf(string file, int depth)
    {
        string[] parts = file.Split('/');
        return string.Join('/', parts.Take(Math.Min(depth, Math.Max(parts.Length - 1, 1))));
    }

    /// <summary>By file, which files of the project hold the types that it names. Types are known by their names, where these are said once
    /// in the project, and only where their namespace can be seen.</summary>
    private static Dictionary<string, HashSet<string>> UsesInCSharp(string project)
    {
        string folder = Path.Combine(Repository.Root, "src", project);
        Dictionary<string, string> texts = Directory
            .GetFiles(folder, "*.cs", SearchOption.AllDirectories)
            .Select(f => Path.GetRelativePath(folder, f))
            .Where(f => f.Split('/')[0] is not ("obj" or "bin" or "Migrations"))
            .ToDictionary(f => f, f => Unread().Replace(File.ReadAllText(Path.Combine(folder, f)), ""));
        Dictionary<string, string> namespaces = texts.ToDictionary(t => t.Key, t => Namespace().Match(t.Value).Groups[1].Value);
        Dictionary<string, string> homes = texts
            .SelectMany(t => Declared().Matches(t.Value).Select(m => (Type: m.Groups[1].Value, File: t.Key)))
            .Distinct()
            .GroupBy(d => d.Type)
            .Where(g => g.Count() == 1)
            .ToDictionary(g => g.Key, g => g.Single().File);
        return texts.ToDictionary(
            t => t.Key,
            t =>
            {
                HashSet<string> usings = [.. Using().Matches(t.Value).Select(m => m.Groups[1].Value)];
                string own = namespaces[t.Key];
                return Word()
                    .Matches(t.Value)
                    .Select(m => homes.GetValueOrDefault(m.Value))
                    .OfType<string>()
                    .Where(f => f != t.Key)
                    .Where(f =>
                        usings.Contains(namespaces[f])
                        || own == namespaces[f]
                        || own.StartsWith(namespaces[f] + ".", StringComparison.Ordinal)
                    )
                    .ToHashSet();
            }
        );
    }

    private static Dictionary<string, HashSet<string>> UsesInPage()
    {
        string folder = Path.Combine(Repository.Root, "src/web/src");
        HashSet<string> files =
        [
            .. Directory
                .GetFiles(folder, "*.ts*", SearchOption.AllDirectories)
                .Select(f => Path.GetRelativePath(folder, f))
                .Where(f => !f.Contains(".test.", StringComparison.Ordinal)),
        ];
        return files.ToDictionary(
            f => f,
            f =>
                Import()
                    .Matches(File.ReadAllText(Path.Combine(folder, f)))
                    .Select(m =>
                        Path.GetRelativePath(folder, Path.GetFullPath(Path.Combine(folder, Path.GetDirectoryName(f)!, m.Groups[1].Value)))
                    )
                    .SelectMany(p => new[] { p, $"{p}.ts", $"{p}.tsx" })
                    .Where(files.Contains)
                    .ToHashSet()
        );
    }

    /// <summary>Whatever needs each other, in order: strongly connected parts, by Tarjan's algorithm (SIAM J. Comput. 1, 1972).</summary>
    private static List<string[]> Circles(Dictionary<string, HashSet<string>> uses)
    {
        Dictionary<string, (int Index, int Low)> seen = [];
        Stack<string> open = [];
        List<string[]> circles = [];
        foreach (string start in uses.Keys.Order(StringComparer.Ordinal))
        {
            if (!seen.ContainsKey(start))
                Visit(start);
        }
        return circles;

        int Visit(string node)
        {
            int index = seen.Count;
            seen[node] = (index, index);
            open.Push(node);
            foreach (string next in uses.GetValueOrDefault(node) ?? [])
            {
                int low =
                    !seen.TryGetValue(next, out var known) ? Visit(next)
                    : open.Contains(next) ? known.Index
                    : int.MaxValue;
                seen[node] = (index, Math.Min(seen[node].Low, low));
            }
            if (seen[node].Low != index)
                return seen[node].Low;
            List<string> circle = [];
            do circle.Add(open.Pop());
            while (circle[^1] != node);
            if (circle.Count > 1)
                circles.Add([.. circle.Order(StringComparer.Ordinal)]);
            return int.MaxValue;
        }
    }

    /// <summary>What a type's name may stand in without being used.</summary>
    [GeneratedRegex(@"//.*$|""(?:\\.|[^""\\\n])*""", RegexOptions.Multiline)]
    private static partial Regex Unread();

    [GeneratedRegex(@"^namespace ([\w.]+);", RegexOptions.Multiline)]
    private static partial Regex Namespace();

    [GeneratedRegex(@"^using ([\w.]+);", RegexOptions.Multiline)]
    private static partial Regex Using();

    [GeneratedRegex(
        @"^(?:public |internal |static |sealed |abstract |readonly |partial |ref )*"
            + @"(?:class|record struct|record|struct|enum|interface)\s+(\w+)",
        RegexOptions.Multiline
    )]
    private static partial Regex Declared();

    /// <summary>A name that isn't a member of something, nor a member that is declared.</summary>
    [GeneratedRegex(@"(?<![.\w])\w+(?!\w)(?! =>| \{ get)")]
    private static partial Regex Word();

    [GeneratedRegex(@"(?:from |import\()'(\.[^']+)'")]
    private static partial Regex Import();
}
