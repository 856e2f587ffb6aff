using Idrum.Core.Basics;
using Idrum.Core.Machines;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Diagnosis;

/// <summary>What the shop's own jobs say of the minutes a layout's steps take.</summary>
/// <remarks>The logarithm of a step's minutes is its file's typical value, plus the pace of whoever works here (one for
/// the shop), plus what is
/// its own on these machines, plus chance: ln t = ln m + a + b + e with a ~ N(0, <see cref="PaceSigma"/>²), b ~ N(0,
/// <see cref="StepSigma"/>²)
/// and e ~ N(0, s²), s from the file's first and last decile. Normal means with known variances, so the posterior is
/// exact: a by its
/// precision-weighted mean over all steps, b shrunk towards nothing (Gelman and others, Bayesian Data Analysis, 3rd ed.
/// 2013, ch. 5.4).
/// The day's own pace (c ~ N(0, <see cref="DaySigma"/>²), one a job) is added to the variance of that mean, so that one
/// job, however many steps it
/// timed, moves the shop's pace by no more than one day can. A time further than <see cref="Outlying"/> of its own
/// standard deviations from the
/// file at the shop's usual pace (the median of all, once <see cref="LeastForUsual"/> jobs were timed) is left out and
/// named.</remarks>
public sealed class LearnedTimes
{
    /// <summary>Standard deviation of the logarithm of a person's pace before anything is known.</summary>
    public const double PaceSigma = 0.3;

    /// <summary>Standard deviation of the logarithm by which one step differs from its file.</summary>
    public const double StepSigma = 0.2;

    /// <summary>Standard deviation of the logarithm by which one job goes slower or quicker than another.</summary>
    public const double DaySigma = 0.3;

    /// <summary>Standard deviations from which on a time is left out.</summary>
    public const double Outlying = 3;

    /// <summary>Timed jobs from which on the shop's usual pace is the median of what was timed; before, the
    /// file's.</summary>
    public const int LeastForUsual = 5;

    private static readonly double Decile = Normal.InvCDF(0, 1, 0.9);
    private const double LeastSigma = 0.12;
    private readonly Dictionary<(string Layout, StepRef Step), (int N, double Mean)> seen;
    private readonly double pace;
    private readonly double paceVariance;

    private LearnedTimes(
        Dictionary<(string, StepRef), (int, double)> seen,
        double pace,
        double paceVariance,
        IReadOnlyDictionary<string, int> jobs,
        IReadOnlyList<TimeLeftOut> leftOut
    )
    {
        (this.seen, this.pace, this.paceVariance, Jobs, LeftOut) = (seen, pace, paceVariance, jobs, leftOut);
    }

    /// <summary>How many closed jobs timed steps of a layout, by its id.</summary>
    public IReadOnlyDictionary<string, int> Jobs { get; }

    /// <summary>Times that do not count, by job.</summary>
    public IReadOnlyList<TimeLeftOut> LeftOut { get; }

    /// <summary>The shop's pace against the files: 1.2 takes a fifth longer.</summary>
    public double Pace => Math.Exp(pace);

    /// <summary>Learns from lessons.</summary>
    /// <param name="lessons">Lessons of closed jobs with their timed steps.</param>
    /// <param name="layoutOf">The layout of an id by its file, or null.</param>
    public static LearnedTimes From(IReadOnlyList<JobLesson> lessons, Func<string, Layout?> layoutOf)
    {
        var times = lessons
            .Where(l => layoutOf(l.LayoutId) is not null)
            .SelectMany(l =>
                l.Minutes.Select(m => (Lesson: l, m.Key, Took: m.Value, File: MinutesOf(layoutOf(l.LayoutId)!, m.Key)))
            )
            .Where(t => t is { File.Typical: > 0, Took: > 0 })
            .Select(t =>
                (t.Lesson, t.Key, t.Took, File: t.File!.Value, Slower: Math.Log(t.Took / t.File!.Value.Typical))
            )
            .ToList();
        // By the median, which a few wild times do not move.
        var usual =
            times.Select(t => t.Lesson.Number).Distinct().Count() >= LeastForUsual
                ? Median([.. times.Select(t => t.Slower)])
                : 0;
        bool Out(double slower, Spread file) =>
            Math.Abs(slower - usual)
            > Outlying * Math.Sqrt(StepSigma * StepSigma + DaySigma * DaySigma + Sigma(file) * Sigma(file));
        var counted = times.Where(t => !Out(t.Slower, t.File)).ToList();
        var seen = counted
            .GroupBy(t => (t.Lesson.LayoutId, t.Key))
            .ToDictionary(g => g.Key, g => (g.Count(), g.Average(t => t.Slower)));
        var (precision, weighted) = (0.0, 0.0);
        foreach (var ((layoutId, key), (n, mean)) in seen)
        {
            var sigma = Sigma(MinutesOf(layoutOf(layoutId)!, key)!.Value);
            var weight = 1 / (StepSigma * StepSigma + sigma * sigma / n);
            precision += weight;
            weighted += weight * mean;
        }
        // The days' own pace does not average out over the steps of one job.
        var days = counted.Select(t => t.Lesson.Number).Distinct().Count();
        var known = precision > 0 ? 1 / (1 / precision + DaySigma * DaySigma / days) : 0;
        var total = known + 1 / (PaceSigma * PaceSigma);
        return new(
            seen,
            precision > 0 ? weighted / precision * known / total : 0,
            1 / total,
            counted
                .GroupBy(t => t.Lesson.LayoutId)
                .ToDictionary(g => g.Key, g => g.Select(t => t.Lesson.Number).Distinct().Count()),
            [
                .. times
                    .Where(t => Out(t.Slower, t.File))
                    .Select(t => new TimeLeftOut(
                        t.Lesson.Number,
                        t.Lesson.LayoutId,
                        t.Key,
                        t.Took,
                        t.File.Typical * Math.Exp(usual)
                    )),
            ]
        );
    }

    private static double Median(double[] of)
    {
        Array.Sort(of);
        return of.Length == 0 ? 0 : (of[(of.Length - 1) / 2] + of[of.Length / 2]) / 2;
    }

    /// <summary>The minutes of one step as they are to be expected here: decile, median, decile.</summary>
    /// <param name="layoutId">Layout.</param>
    /// <param name="step">An operation, or one of its steps for the way back.</param>
    /// <param name="file">What the file says.</param>
    public Spread Of(string layoutId, StepRef step, Spread file)
    {
        if (!(file.Typical > 0))
        {
            return file;
        }
        var sigma = Sigma(file);
        var (n, mean) = seen.GetValueOrDefault((layoutId, step));
        // Without timings the weight is 0: the shop's pace alone moves the step.
        var weight = n == 0 ? 0 : StepSigma * StepSigma / (StepSigma * StepSigma + sigma * sigma / n);
        var middle = Math.Log(file.Typical) + (1 - weight) * pace + weight * mean;
        var spread = Math.Sqrt(
            sigma * sigma + (1 - weight) * (1 - weight) * paceVariance + (1 - weight) * StepSigma * StepSigma
        );
        return new(Math.Exp(middle - Decile * spread), Math.Exp(middle), Math.Exp(middle + Decile * spread));
    }

    /// <summary>The layout with the minutes that are to be expected here; as it is where no job of it was
    /// timed.</summary>
    public Layout Apply(Layout layout) =>
        !Jobs.ContainsKey(layout.Id)
            ? layout
            : layout with
            {
                Operations =
                [
                    .. layout.Operations.Select(o =>
                        o with
                        {
                            Minutes = Rounded(Of(layout.Id, new(o.Id), o.Minutes)),
                            Refit =
                            [
                                .. o.Refit.Select(s =>
                                    s with
                                    {
                                        Minutes = Rounded(Of(layout.Id, new(o.Id, s.Id), s.Minutes)),
                                    }
                                ),
                            ],
                        }
                    ),
                ],
            };

    /// <summary>Tenths of a minute: nobody plans finer, and sums stay exact.</summary>
    private static Spread Rounded(Spread s) =>
        new(Math.Round(s.Low, 1), Math.Round(s.Typical, 1), Math.Round(s.High, 1));

    private static double Sigma(Spread file) =>
        Math.Max(LeastSigma, file is { Low: > 0 } ? Math.Log(file.High / file.Low) / (2 * Decile) : LeastSigma);

    private static Spread? MinutesOf(Layout layout, StepRef step) =>
        step.IsWhole ? layout.FindOperation(step.Operation)?.Minutes : step.In(layout)?.Minutes;
}

/// <summary>A time that does not count, as it is too far from what the step takes.</summary>
/// <param name="Job">Number of the job.</param>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Step">An operation, or one of its steps for the way back.</param>
/// <param name="Minutes">What was recorded.</param>
/// <param name="Usual">What the step usually takes here.</param>
public sealed record TimeLeftOut(string Job, string LayoutId, StepRef Step, double Minutes, double Usual);
