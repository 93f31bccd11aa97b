using System.Globalization;
using AbleLark.Bench;
using AbleLark.Core.Content;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Rotation;
using AbleLark.Core.Text;
using NodaTime;

// Figures of the Core, each beside a calibration loop of the same run: machines differ, the ratio travels.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args is ["read-sheet", var file])
{
    // Milliseconds that the library takes which reads the cells, and nothing else.
    Console.WriteLine(Timing.Median(() => SheetReference.Read(file), runs: 5).ToString("0.0", CultureInfo.InvariantCulture));
    return;
}
string root = args.Length > 0 ? args[0] : Directory.GetCurrentDirectory();
double loop = Timing.Median(Calibration.Run);
if (args is [_, "comparison-speed"])
{
    Comparing.Speed(loop);
    return;
}
if (args is [_, "comparison"])
{
    Comparing.Run(loop);
    return;
}

// The first figure must not pay for code that is not yet compiled in full.
LineUpInput usual = Usual.AsRead(Usual.Workspace(root));
Timing.Median(() => LineUp.Project(usual, Usual.Start, Usual.Start + Duration.FromDays(84)), warmMilliseconds: 3000, runs: 1);
Instant now = Usual.Start;
Instant until = now + Duration.FromDays(84);
int places = LineUp.Project(usual, now, until).Count;
Figure.Print(
    $"line-up, usual workspace ({usual.Channels.Count} channels, {usual.Bank.Count} posts, {places} places in 12 weeks)",
    Timing.Median(() => LineUp.Project(usual, now, until)),
    "ms",
    loop,
    30
);

// What a what-if is in the core: two line-ups and their sums.
Figure.Print(
    "what-if, usual workspace, 12 weeks",
    Timing.Median(() => WhatIf.Try(new SharedLineUp(usual), usual, now, 84)),
    "ms",
    loop,
    100
);

Large.Run(root, loop);

Comparing.Run(loop);

Checking.Run(root, loop);

await Photographs.RunAsync(loop);

Random chance = new(1);
string[] texts =
[
    .. Enumerable
        .Range(0, 500)
        .Select(i =>
            $"Note {i} about https://marram.example.org/{i} and the tide at {chance.Next(24)}:00 🐦 #birds #sea "
            + new string('w', chance.Next(120))
        ),
];
Figure.Print(
    "counting and searching 500 texts",
    Timing.Median(() =>
    {
        foreach (string text in texts)
            TextCounter.Count(text, TextMeasure.Weighted, 280, 23);
    }),
    "ms",
    loop,
    50
);
