namespace Idrum.Core.Listening;

/// <summary>A sound, or what was felt, laid round one turn of a part: where in the turn it is loud.</summary>
/// <param name="Hz">Turns a second, over the whole.</param>
/// <param name="Turns">Whole turns that were laid over each other.</param>
/// <param name="Levels">Level by place in the turn, over its mean; <see cref="Places"/> of them, the loudest first.</param>
/// <param name="Errors">Standard error of each.</param>
/// <param name="Peaks">Places that stand out, share of a turn after the loudest, rising; empty where none does.</param>
/// <param name="Moments">When the loudest place came by, s from the beginning; empty where none stands out.</param>
public sealed record OnceRound(
    double Hz,
    int Turns,
    IReadOnlyList<double> Levels,
    IReadOnlyList<double> Errors,
    IReadOnlyList<double> Peaks,
    IReadOnlyList<double> Moments
)
{
    /// <summary>Places in a turn.</summary>
    public const int Places = 48;

    /// <summary>Fewest turns that say anything.</summary>
    public const int FewestTurns = 6;

    // How many standard errors above the mean a place must stand: of 48 places of a sound without rhythm the highest stands at some three.
    private const double StandsOut = 4.5;

    // And how much above the mean: what is less is not seen in the picture either.
    private const double Above = 1.15;

    // And how much beside the loudest.
    private const double Beside = 0.4;

    /// <summary>Lays a level round the turn of a part, and of others that turn with it.</summary>
    /// <param name="seconds">Times of the levels, s, rising; they need not be even.</param>
    /// <param name="levels">Levels, not negative, any unit.</param>
    /// <param name="hz">Turns a second of the part whose rhythm was found.</param>
    /// <param name="ratios">Turns of each wanted part in one turn of that part; 1 for itself.</param>
    /// <returns>One for each ratio; null where too few turns were heard.</returns>
    /// <remarks>The speed wanders: the phase of the part's strongest harmonic is followed (complex demodulation over four
    /// turns), a cubic laid through it, weighted by strength, and the turn reckoned from that; so little freedom does not
    /// bend a sound without rhythm into one. Levels are taken over their own mean of a second and a half or a turn and a
    /// half, cut at three times it, as for the rhythm.</remarks>
    public static IReadOnlyList<OnceRound?> Of(
        IReadOnlyList<double> seconds,
        IReadOnlyList<double> levels,
        double hz,
        IReadOnlyList<double> ratios
    )
    {
        if (!(hz > 0) || seconds.Count < 2 * Places)
        {
            return [.. ratios.Select(_ => (OnceRound?)null)];
        }
        var level = OverOwnMean(seconds, levels, Math.Max(0.75, 0.75 / hz));
        var turned = Followed(seconds, level, hz);
        return [.. ratios.Select(r => Laid(seconds, level, [.. turned.Select(t => t * r)]))];
    }

    /// <summary>What it says, in a sentence.</summary>
    /// <param name="what">The part, as "the drum".</param>
    public string Words(string what)
    {
        var places = Peaks.Count switch
        {
            0 => $"No place in the turn of {what} stands out",
            1 => $"Once in each turn of {what}",
            2 => $"Twice in each turn of {what}, {Math.Min(Peaks[1], 1 - Peaks[1]) * 360:0} degrees apart",
            _ when Even => $"{Peaks.Count} times in each turn of {what}, evenly",
            var n => $"{n} times in each turn of {what}, unevenly",
        };
        return Peaks.Count == 0
            ? $"{places}, in {Turns} turns."
            : $"{places}: loudest {Levels[0]:0.0} times the mean, over {Turns} turns.";
    }

    private bool Even =>
        Peaks.Append(1).Zip(Peaks, (next, at) => next - at).All(gap => Math.Abs(gap * Peaks.Count - 1) < 0.15);

    private static double[] OverOwnMean(IReadOnlyList<double> seconds, IReadOnlyList<double> levels, double reach)
    {
        var own = new double[levels.Count];
        var (first, last, sum) = (0, 0, 0.0);
        for (var i = 0; i < own.Length; i++)
        {
            for (; last < own.Length && seconds[last] <= seconds[i] + reach; last++)
            {
                sum += levels[last];
            }
            for (; seconds[first] < seconds[i] - reach; first++)
            {
                sum -= levels[first];
            }
            own[i] = Math.Min(levels[i] / Math.Max(sum / (last - first), 1e-12), 3);
        }
        return own;
    }

    // Harmonics that are tried: what knocks has dozens, the first few carry it.
    private const int Harmonics = 6;

    private static double[] Followed(IReadOnlyList<double> seconds, double[] level, double hz)
    {
        var length = seconds[^1] - seconds[0];
        var window = Math.Clamp(4 / hz, 1, Math.Max(1, length / 4));
        var (best, most) = (Phases(seconds, level, hz, 1, window), -1.0);
        for (var h = 1; h <= Harmonics; h++)
        {
            var phases = Phases(seconds, level, hz, h, window);
            var power = phases.Sum(p => p.Weight * p.Weight);
            (best, most) = power > most ? (phases, power) : (best, most);
        }
        // Unwrapped from one window to the next; a turn's zero is free.
        var (at, turns, weights) = (new List<double>(), new List<double>(), new List<double>());
        foreach (var (middle, phase, weight) in best)
        {
            var turn =
                turns.Count == 0 ? phase : phase + Math.Round((turns[^1] - phase) * best[0].Steps) / best[0].Steps;
            at.Add(middle);
            turns.Add(turn);
            weights.Add(weight);
        }
        if (at.Count < 5 || weights.Sum() <= 0)
        {
            return [.. seconds.Select(s => hz * s)];
        }
        var cubic = MathNet.Numerics.Fit.PolynomialWeighted([.. at], [.. turns], [.. weights], 3);
        return
        [
            .. seconds.Select(s => hz * s + MathNet.Numerics.Polynomial.Evaluate(Math.Clamp(s, at[0], at[^1]), cubic)),
        ];
    }

    private readonly record struct Phase(double Middle, double Turn, double Weight, int Steps)
    {
        public void Deconstruct(out double middle, out double turn, out double weight) =>
            (middle, turn, weight) = (Middle, Turn, Weight);
    }

    private static List<Phase> Phases(
        IReadOnlyList<double> seconds,
        double[] level,
        double hz,
        int harmonic,
        double window
    )
    {
        var phases = new List<Phase>();
        var start = 0;
        for (var middle = seconds[0] + window / 2; middle <= seconds[^1] - window / 2 + 1e-9; middle += window / 2)
        {
            while (seconds[start] < middle - window / 2)
            {
                start++;
            }
            var (re, im, all) = (0.0, 0.0, 0.0);
            for (var i = start; i < level.Length && seconds[i] <= middle + window / 2; i++)
            {
                var taper = 0.5 + 0.5 * Math.Cos(2 * Math.PI * (seconds[i] - middle) / window);
                var (sin, cos) = Math.SinCos(2 * Math.PI * harmonic * hz * seconds[i]);
                re += taper * (level[i] - 1) * cos;
                im -= taper * (level[i] - 1) * sin;
                all += taper;
            }
            if (all > 0)
            {
                phases.Add(
                    new(
                        middle,
                        Math.Atan2(im, re) / (2 * Math.PI * harmonic),
                        Math.Sqrt(re * re + im * im) / all,
                        harmonic
                    )
                );
            }
        }
        return phases;
    }

    private static OnceRound? Laid(IReadOnlyList<double> seconds, double[] level, double[] turned)
    {
        var turns = (int)(turned[^1] - turned[0]);
        if (turns < FewestTurns)
        {
            return null;
        }
        // Each turn has one say at each place: readings within a passing are not independent of each other.
        var (sums, squares, counts) = (new double[Places], new double[Places], new int[Places]);
        var (place, sum, count) = (-1L, 0.0, 0);
        for (var i = 0; i <= level.Length; i++)
        {
            var now = i < level.Length ? (long)Math.Floor(turned[i] * Places) : long.MaxValue;
            if (now != place && count > 0)
            {
                var p = (int)(((place % Places) + Places) % Places);
                var mean = sum / count;
                sums[p] += mean;
                squares[p] += mean * mean;
                counts[p]++;
                (sum, count) = (0, 0);
            }
            if (i < level.Length)
            {
                (place, sum, count) = (now, sum + level[i], count + 1);
            }
        }
        if (counts.Any(c => c < 2))
        {
            return null;
        }
        var means = sums.Select((s, p) => s / counts[p]).ToArray();
        var all = means.Average();
        var spread = Math.Sqrt(
            Enumerable
                .Range(0, Places)
                .Average(p => Math.Max(0, squares[p] / counts[p] - means[p] * means[p]) * counts[p] / (counts[p] - 1))
        );
        var errors = counts.Select(c => spread / Math.Sqrt(c) / all).ToArray();
        var top = Array.IndexOf(means, means.Max());
        double[] levels = [.. Enumerable.Range(0, Places).Select(p => means[(top + p) % Places] / all)];
        double[] error = [.. Enumerable.Range(0, Places).Select(p => errors[(top + p) % Places])];
        var peaks = PeaksOf(levels, error);
        return new(
            (turned[^1] - turned[0]) / (seconds[^1] - seconds[0]),
            turns,
            levels,
            error,
            peaks,
            peaks.Count == 0 ? [] : Passings(seconds, turned, (top + 0.5) / Places)
        );
    }

    /// <summary>Places that stand out and are parted from the next by a dip to half their height.</summary>
    private static List<double> PeaksOf(double[] levels, double[] errors)
    {
        // What is small beside the loudest is its echo.
        var least = Math.Max(Above, 1 + Beside * (levels.Max() - 1));
        bool Stands(int p) => levels[p] > least && levels[p] - 1 > StandsOut * errors[p];
        var peaks = new List<int>();
        foreach (var p in Enumerable.Range(0, Places).Where(Stands).OrderByDescending(p => levels[p]))
        {
            if (peaks.All(q => Dips(q, p) && Dips(p, q)))
            {
                peaks.Add(p);
            }
        }
        return [.. peaks.Order().Select(p => (double)p / Places)];

        bool Dips(int from, int to)
        {
            var half = 1 + (Math.Min(levels[from], levels[to]) - 1) / 2;
            for (var p = from; p != to; p = (p + 1) % Places)
            {
                if (levels[p] < half)
                {
                    return true;
                }
            }
            return false;
        }
    }

    private static List<double> Passings(IReadOnlyList<double> seconds, double[] turned, double place)
    {
        var passings = new List<double>();
        for (var i = 1; i < turned.Length; i++)
        {
            if (Math.Floor(turned[i] - place) > Math.Floor(turned[i - 1] - place))
            {
                passings.Add(seconds[i]);
            }
        }
        return passings;
    }
}
