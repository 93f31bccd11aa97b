namespace AbleLark.Core.Comparison;

/// <summary>What one post says: its share of the information and of the score, in its own columns.</summary>
internal sealed class PostShare(FairModel model)
{
    private readonly int[] _places = new int[model.Design.Columns];
    private readonly double[] _sums = new double[model.Design.Columns];
    private readonly double[] _scores = new double[model.Design.Columns];

    /// <summary>Columns that its deliveries take part in.</summary>
    public List<int> Own { get; } = [];

    /// <summary>u by place in <see cref="Own"/>.</summary>
    public double[] Score { get; private set; } = [];

    /// <summary>J by places in <see cref="Own"/>, row after row.</summary>
    public double[] Information { get; private set; } = [];

    public int Post { get; private set; }

    public void Look(int post)
    {
        Post = post;
        FairDesign design = model.Design;
        Own.Clear();
        (int from, int to) = (design.Rows.Starts[post], design.Rows.Starts[post + 1]);
        double weight = 0,
            residual = 0;
        for (int row = from; row < to; row++)
        {
            double w = model.Weights[row],
                we = w * model.Residuals[row];
            weight += w;
            residual += we;
            foreach (int column in design.Of(row))
            {
                if (column < 0)
                    continue;
                if (_sums[column] == 0)
                {
                    _places[column] = Own.Count;
                    Own.Add(column);
                }
                _sums[column] += w;
                _scores[column] += we;
            }
        }
        int n = Own.Count;
        Information = new double[n * n];
        for (int row = from; row < to; row++)
        {
            ReadOnlySpan<int> columns = design.Of(row);
            foreach (int a in columns)
            {
                if (a < 0)
                    continue;
                foreach (int b in columns)
                {
                    if (b >= 0)
                        Information[(_places[a] * n) + _places[b]] += model.Weights[row];
                }
            }
        }
        double kappa = model.Spread.TauSquared / (1 + (model.Spread.TauSquared * weight));
        Score = new double[n];
        for (int i = 0; i < n; i++)
        {
            Score[i] = _scores[Own[i]] - (kappa * _sums[Own[i]] * residual);
            for (int j = 0; j < n; j++)
                Information[(i * n) + j] -= kappa * _sums[Own[i]] * _sums[Own[j]];
        }
        foreach (int column in Own)
            (_sums[column], _scores[column]) = (0, 0);
    }
}
