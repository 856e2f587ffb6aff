using Idrum.Core.Machines;

namespace Idrum.Core.Shop;

/// <summary>What the shop's own jobs say of the minutes a layout's steps take.</summary>
/// <remarks>The logarithm of a step's minutes is its file's typical value, plus the pace of whoever works here (one for the shop), plus what is
/// its own on these machines, plus chance: ln t = ln m + a + b + e with a ~ N(0, <see cref="PaceSigma"/>²), b ~ N(0, <see cref="StepSigma"/>²)
/// and e ~ N(0, s²), s from the file's first and last decile. Normal means with known variances, so the posterior is exact: a by its
/// precision-weighted mean over all steps, b shrunk towards nothing (Gelman and others, Bayesian Data Analysis, 3rd ed. 2013, ch. 5.4).</remarks>
public sealed class LearnedTimes
{
    /// <summary>Standard deviation of the logarithm of a person's pace before anything is known.</summary>
    public const double PaceSigma = 0.3;

    /// <summary>Standard deviation of the logarithm by which one step differs from its file.</summary>
    public const double StepSigma = 0.2;

    private const double Decile = 1.2815515655;
    private const double LeastSigma = 0.12;
    private readonly Dictionary<(string Layout, string Key), (int N, double Mean)> seen;
    private readonly double pace;
    private readonly double paceVariance;

    private LearnedTimes(Dictionary<(string, string), (int, double)> seen, double pace, double paceVariance, IReadOnlyDictionary<string, int> jobs)
    {
        (this.seen, this.pace, this.paceVariance, Jobs) = (seen, pace, paceVariance, jobs);
    }

    /// <summary>How many closed jobs timed steps of a layout, by its id.</summary>
    public IReadOnlyDictionary<string, int> Jobs { get; }

    /// <summary>The shop's pace against the files: 1.2 takes a fifth longer.</summary>
    public double Pace => Math.Exp(pace);

    /// <summary>Learns from lessons.</summary>
    /// <param name="lessons">Lessons of closed jobs with their timed steps.</param>
    /// <param name="layoutOf">The layout of an id by its file, or null.</param>
    public static LearnedTimes From(IReadOnlyList<JobLesson> lessons, Func<string, Layout?> layoutOf)
    {
        var sums = new Dictionary<(string Layout, string Key), (int N, double Sum)>();
        foreach (var lesson in lessons)
        {
            if (layoutOf(lesson.LayoutId) is not { } layout)
            {
                continue;
            }
            foreach (var (key, minutes) in lesson.Minutes)
            {
                if (MinutesOf(layout, key) is { Typical: > 0 } file && minutes > 0)
                {
                    var (n, sum) = sums.GetValueOrDefault((layout.Id, key));
                    sums[(layout.Id, key)] = (n + 1, sum + Math.Log(minutes / file.Typical));
                }
            }
        }
        var seen = sums.ToDictionary(s => s.Key, s => (s.Value.N, s.Value.Sum / s.Value.N));
        var (precision, weighted) = (1 / (PaceSigma * PaceSigma), 0.0);
        foreach (var ((layoutId, key), (n, mean)) in seen)
        {
            var sigma = Sigma(MinutesOf(layoutOf(layoutId)!, key)!.Value);
            var weight = 1 / (StepSigma * StepSigma + sigma * sigma / n);
            precision += weight;
            weighted += weight * mean;
        }
        return new(seen, weighted / precision, 1 / precision, lessons.Where(l => l.Minutes.Count > 0).GroupBy(l => l.LayoutId).ToDictionary(g => g.Key, g => g.Count()));
    }

    /// <summary>The minutes of one step as they are to be expected here: decile, median, decile.</summary>
    /// <param name="layoutId">Layout.</param>
    /// <param name="key">Operation id, or operation/step for the way back.</param>
    /// <param name="file">What the file says.</param>
    public Spread Of(string layoutId, string key, Spread file)
    {
        if (!(file.Typical > 0))
        {
            return file;
        }
        var sigma = Sigma(file);
        var (n, mean) = seen.GetValueOrDefault((layoutId, key));
        // Without timings the weight is 0: the shop's pace alone moves the step.
        var weight = n == 0 ? 0 : StepSigma * StepSigma / (StepSigma * StepSigma + sigma * sigma / n);
        var middle = Math.Log(file.Typical) + (1 - weight) * pace + weight * mean;
        var spread = Math.Sqrt(sigma * sigma + (1 - weight) * (1 - weight) * paceVariance + (1 - weight) * StepSigma * StepSigma);
        return new(Math.Exp(middle - Decile * spread), Math.Exp(middle), Math.Exp(middle + Decile * spread));
    }

    /// <summary>The layout with the minutes that are to be expected here; as it is where no job of it was timed.</summary>
    public Layout Apply(Layout layout) => !Jobs.ContainsKey(layout.Id) ? layout : layout with
    {
        Operations = [.. layout.Operations.Select(o => o with
        {
            Minutes = Rounded(Of(layout.Id, o.Id, o.Minutes)),
            Refit = [.. o.Refit.Select(s => s with { Minutes = Rounded(Of(layout.Id, $"{o.Id}/{s.Id}", s.Minutes)) })],
        })],
    };

    /// <summary>Tenths of a minute: nobody plans finer, and sums stay exact.</summary>
    private static Spread Rounded(Spread s) => new(Math.Round(s.Low, 1), Math.Round(s.Typical, 1), Math.Round(s.High, 1));

    private static double Sigma(Spread file) => Math.Max(LeastSigma, file is { Low: > 0 } ? Math.Log(file.High / file.Low) / (2 * Decile) : LeastSigma);

    private static Spread? MinutesOf(Layout layout, string key) => key.Split('/') switch
    {
        [var o] => layout.FindOperation(o)?.Minutes,
        [var o, var s] => layout.FindOperation(o)?.FindStep(s)?.Minutes,
        _ => null,
    };
}
