using AbleLark.Core.Comparison;
using MathNet.Numerics.LinearAlgebra;

namespace AbleLark.Tests.Shared;

/// <summary>How the method fares in many made-up workspaces of which the truth is known.</summary>
internal static class Acceptance
{
    private static readonly int[] SixAlike = [25, 25, 25, 25, 25, 25];

    /// <summary>So far apart that of two level categories one seems to earn 0.46 times the other.</summary>
    private static readonly (double First, double Second) Confounded = (-0.7, 0.7);

    /// <summary>Share of intervals that hold the truth.</summary>
    /// <param name="BySize">For each of <see cref="MadeUpWorkspace.Sizes"/>.</param>
    /// <param name="Plain">Of all, with plain clustered errors and the normal distribution in place of ours: too few.</param>
    public sealed record Coverage(double All, double[] BySize, double Plain);

    public static Coverage Intervals(int workspaces, int seed)
    {
        int[] held = new int[MadeUpWorkspace.Sizes.Length],
            told = new int[held.Length];
        int plain = 0;
        Each(
            workspaces,
            seed,
            chance => MadeUpWorkspace.Make(chance, MadeUpWorkspace.Sizes, Effects(chance), chance.Next(2) == 0 ? 0.3 : 0.6),
            (world, answer) =>
            {
                double[] plainErrors = PlainErrors(world.Rows);
                foreach (CategoryAnswer category in answer.Categories)
                {
                    if (category.Adjusted is not { } range)
                        continue;
                    double truth = world.Truth(category.Category);
                    told[category.Category]++;
                    if (!range.Excludes(truth))
                        held[category.Category]++;
                    if (Math.Abs(Math.Log(range.Value / truth)) <= 1.96 * plainErrors[category.Category])
                        plain++;
                }
            }
        );
        return new((double)held.Sum() / told.Sum(), [.. held.Zip(told, (h, t) => (double)h / t)], (double)plain / told.Sum());

        static double[] Effects(Random chance) => [.. MadeUpWorkspace.Sizes.Select(_ => 0.4 * MadeUpWorkspace.Normal(chance))];
    }

    /// <summary>Of two categories the first earns 1.6 times the second, but keeps to small pages and poor hours.</summary>
    /// <returns>Of workspaces whose raw ratio is at most 0.9: in what share the order is right, in what share it is said; and how
    /// many.</returns>
    public static (double Right, double Said, int Workspaces) Reversal(int workspaces, int seed)
    {
        int right = 0,
            said = 0,
            counted = 0;
        Each(
            workspaces,
            seed,
            chance => MadeUpWorkspace.Make(chance, SixAlike, [Math.Log(1.6), 0, 0.2, -0.2, 0.1, -0.1], 0.3, favour: Confounded),
            (_, answer) =>
            {
                if (answer.Categories[0].Raw / answer.Categories[1].Raw is not (<= 0.9))
                    return;
                counted++;
                PairAnswer? pair = answer.Pairs.FirstOrDefault(p => p.First == 0 && p.Second == 1);
                right += pair is null ? 0 : 1;
                said += pair?.Changes == true ? 1 : 0;
            }
        );
        return ((double)right / counted, (double)said / counted, counted);
    }

    /// <summary>Two categories that are level, though the first seems to earn half as much.</summary>
    /// <returns>Share of workspaces in which a change of their order is said, and the mean raw ratio.</returns>
    public static (double Said, double Raw) Level(int workspaces, int seed)
    {
        int said = 0;
        double raw = 0;
        Each(
            workspaces,
            seed,
            chance => MadeUpWorkspace.Make(chance, SixAlike, [0, 0, 0.2, -0.2, 0.1, -0.1], 0.3, favour: Confounded),
            (_, answer) =>
            {
                raw += Math.Log(answer.Categories[0].Raw!.Value / answer.Categories[1].Raw!.Value);
                if (answer.Pairs.Any(p => p.First < 2 && p.Second < 2 && p.Changes))
                    said++;
            }
        );
        return ((double)said / workspaces, Math.Exp(raw / workspaces));
    }

    /// <summary>Share of workspaces with any verdict where no category differs.</summary>
    public static double Nothing(int workspaces, int seed)
    {
        int any = 0;
        Each(
            workspaces,
            seed,
            chance => MadeUpWorkspace.Make(chance, MadeUpWorkspace.Sizes, new double[6], chance.Next(2) == 0 ? 0.3 : 0.6),
            (_, answer) => any += answer.Categories.Any(c => c.Verdict is Verdict.More or Verdict.Less) ? 1 : 0
        );
        return (double)any / workspaces;
    }

    /// <summary>Categories that hardly differ, with posts enough to say so.</summary>
    /// <returns>How many are said to be level, and the share of these that truly earn less than 0.8 or more than 1.25 times what the others
    /// do.</returns>
    public static (int Said, double Wrong) SaidLevel(int workspaces, int seed)
    {
        (int said, int wrong) = (0, 0);
        Each(
            workspaces,
            seed,
            chance => MadeUpWorkspace.Make(chance, [.. Enumerable.Repeat(90, 6)], Effects(chance), 0.3),
            (world, answer) =>
            {
                foreach (CategoryAnswer category in answer.Categories.Where(c => c.IsLevel))
                {
                    said++;
                    wrong += world.Truth(category.Category) is < 0.8 or > 1.25 ? 1 : 0;
                }
            }
        );
        return (said, (double)wrong / Math.Max(1, said));

        static double[] Effects(Random chance) => [.. Enumerable.Range(0, 6).Select(_ => 0.15 * MadeUpWorkspace.Normal(chance))];
    }

    private static void Each(int workspaces, int seed, Func<Random, MadeUpWorkspace> make, Action<MadeUpWorkspace, FairAnswer> look)
    {
        Lock one = new();
        Parallel.For(
            0,
            workspaces,
            i =>
            {
                MadeUpWorkspace world = make(new Random((seed * 100_003) + i));
                FairAnswer answer = FairComparison.Of(world.Rows, [d => d / 2], i);
                lock (one)
                    look(world, answer);
            }
        );
    }

    /// <summary>Clustered errors without any correction (CR0), of each category's ratio to the mean.</summary>
    private static double[] PlainErrors(FairRows rows)
    {
        FairModel model = FairModel.Fit(new(rows));
        FairDesign design = model.Design;
        Matrix<double> inverse = model.Information.Inverse();
        double[] weights = new double[rows.Categories];
        foreach (int category in rows.Category)
            weights[category] += Math.Exp(model.Beta[category]);
        double sum = weights.Sum();
        double[] squares = new double[rows.Categories];
        for (int post = 0; post < rows.Posts; post++)
        {
            int[] own = [.. Enumerable.Range(rows.Starts[post], rows.Starts[post + 1] - rows.Starts[post])];
            double kappa = model.Spread.TauSquared / (1 + (model.Spread.TauSquared * own.Sum(r => model.Weights[r])));
            double residual = own.Sum(r => model.Weights[r] * model.Residuals[r]);
            var score = Vector<double>.Build.Dense(design.Columns);
            foreach (int row in own)
            {
                foreach (int column in design.Of(row))
                {
                    if (column >= 0)
                        score[column] += model.Weights[row] * (model.Residuals[row] - (kappa * residual));
                }
            }
            Vector<double> change = inverse * score;
            double mean = Enumerable.Range(0, weights.Length).Sum(c => weights[c] / sum * change[c]);
            for (int category = 0; category < squares.Length; category++)
                squares[category] += Math.Pow(change[category] - mean, 2);
        }
        return [.. squares.Select(Math.Sqrt)];
    }
}
