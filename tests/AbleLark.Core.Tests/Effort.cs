using System.Globalization;
using System.Runtime.CompilerServices;

namespace AbleLark.Core.Tests;

/// <summary>How hard tests by property try: LARK_EFFORT is quick, full (the default) or bench. A failure names its seed.</summary>
internal static class Effort
{
    private static readonly double Times = Environment.GetEnvironmentVariable("LARK_EFFORT") switch
    {
        "quick" => 0.1,
        "bench" => 10,
        _ => 1,
    };

    /// <summary>So many tries, where full effort makes <paramref name="full"/>.</summary>
    public static int Of(int full) => Math.Max(1, (int)(full * Times));

    /// <summary>Tries something with the seeds from 0 on.</summary>
    public static void Each(int full, Action<int> attempt)
    {
        for (int seed = 0; seed < Of(full); seed++)
        {
            try
            {
                attempt(seed);
            }
            catch (Exception e)
            {
                throw new Xunit.Sdk.XunitException(string.Create(CultureInfo.InvariantCulture, $"With seed {seed}: {e.Message}"), e);
            }
        }
    }

    /// <summary>What CsCheck tries where a test doesn't say how often.</summary>
    [ModuleInitializer]
    internal static void SetIterations() =>
        Environment.SetEnvironmentVariable("CsCheck_Iter", Of(100).ToString(CultureInfo.InvariantCulture));
}
