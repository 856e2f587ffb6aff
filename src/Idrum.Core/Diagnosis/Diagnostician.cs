using System.Numerics.Tensors;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>Ranks causes, prices checks and advises, for one layout.</summary>
/// <remarks>Expected costs after Heckerman, Breese and Rommelse, "Decision-theoretic troubleshooting", CACM 38(3), 1995: one
/// observation is looked ahead; after it, causes are repaired in the order of probability over cost until the machine is
/// right. Beyond the article: several faults may be present at once (enumerated), and whoever opens the machine for one cause
/// sees what else lies in reach.</remarks>
public sealed class Diagnostician
{
    private const double WorthTheWalk = 1;
    private readonly TeardownPlanner planner;
    private readonly RepairCosts repairs;

    /// <summary>Makes one.</summary>
    /// <param name="model">The fault model of the layout.</param>
    /// <param name="planner">A planner of the same layout.</param>
    public Diagnostician(NoisyOrModel model, TeardownPlanner planner)
    {
        Model = model;
        this.planner = planner;
        repairs = new(model, planner);
    }

    /// <summary>The model.</summary>
    public NoisyOrModel Model { get; }

    /// <summary>Answers what it is and what to do next.</summary>
    /// <param name="request">What is known.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="ArgumentException">An unknown outcome of a known finding.</exception>
    public DiagnosisResult Diagnose(DiagnosisRequest request, CancellationToken cancellation = default)
    {
        var known = Known(request);
        var prior = Model.Prior(request.Wear);
        var posterior = Model.Posterior(prior, known, out _);
        var marginals = Model.Marginals(posterior);
        var done = planner.Graph.SetOf(request.Done);
        var now = repairs.From(done);
        var sets = new RelevantSets(Model, Relevant(known));
        var probability = new double[sets.Remainders.Length];
        sets.Gather(posterior, probability);
        var stop = RepairSequence.Best(Model, sets, probability, now, repairs.From(Bits.None));
        var checks = Checks(request, known, posterior, done, stop.Cost, sets, cancellation);
        // A check that saves less than a minute is not worth the walk to the machine: stopping counts as that much cheaper.
        var options = checks.Select(c => Of(c, stop.Cost)).Append(Of(stop)).OrderBy(a => a.ExpectedCost - (a.Kind == "check" ? 0 : WorthTheWalk)).ToList();
        return new()
        {
            Causes = Causes(known, prior, marginals, now),
            SeveralAtOnce = Several(posterior),
            Checks = checks,
            Advice = options[0],
            RunnerUp = options.Count > 1 ? options[1] : null,
            Oddities = OddFindings.Find(Model, prior, posterior, known),
        };
    }

    private List<(int Finding, int Outcome)> Known(DiagnosisRequest request)
    {
        var known = new List<(int, int)>();
        foreach (var (id, outcome) in request.Findings)
        {
            var finding = Model.IndexOfFinding(id);
            if (finding < 0)
            {
                continue;
            }
            var place = Model.Findings[finding].IndexOf(outcome);
            if (place < 0)
            {
                throw new ArgumentException($"'{id}' has no outcome '{outcome}'.", nameof(request));
            }
            known.Add((finding, place));
        }
        return known;
    }

    private List<Cause> Causes(List<(int Finding, int Outcome)> known, double[] prior, double[] marginals, RepairCosts.Table now)
    {
        var weights = new Weight[known.Count][];
        for (var j = 0; j < known.Count; j++)
        {
            var without = Model.Marginals(Model.Posterior(prior, known.Where((_, k) => k != j), out _));
            weights[j] = [.. marginals.Select((m, i) => new Weight(Model.Findings[known[j].Finding].Id,
                Math.Round(10 * Math.Log10(Odds(m) / Odds(without[i])), 2)))];
        }
        return [.. Enumerable.Range(0, marginals.Length).OrderByDescending(i => marginals[i]).Select(i => new Cause(
            Model.Faults[i], marginals[i],
            [.. weights.Select(w => w[i]).OrderByDescending(w => Math.Abs(w.Decibans))],
            Model.Faults[i].Action == "refer" ? null : now.Minutes[i]))];

        static double Odds(double p) => Math.Clamp(p, 1e-12, 1 - 1e-12) / (1 - Math.Clamp(p, 1e-12, 1 - 1e-12));
    }

    /// <summary>Faults that can produce one of the abnormal findings; all faults where nothing abnormal is known. A fault that
    /// produces none of them may be there too, but leaving it does not leave the complaint.</summary>
    private uint Relevant(List<(int Finding, int Outcome)> known)
    {
        var links = known.Where(k => k.Outcome > 0).SelectMany(k => Model.Findings[k.Finding].Links
            .Where(l => l.P[k.Outcome - 1] > 0.02 && Model.Layout.Holds(l.When)).Select(l => l.Fault)).ToHashSet();
        return Model.Faults.Select((f, i) => links.Count == 0 || links.Contains(f.Id) ? 1u << i : 0).Aggregate(0u, (m, b) => m | b);
    }

    private double Several(double[] posterior)
    {
        var sum = 0.0;
        for (var s = 0; s < posterior.Length; s++)
        {
            if (System.Numerics.BitOperations.PopCount(Model.Sets[s]) > 1)
            {
                sum += posterior[s];
            }
        }
        return sum;
    }

    private List<PricedCheck> Checks(DiagnosisRequest request, List<(int Finding, int Outcome)> known, double[] posterior, Bits done, double stopCost, RelevantSets sets, CancellationToken cancellation)
    {
        var answered = known.Select(k => k.Finding).ToHashSet();
        var priced = new List<PricedCheck>();
        var whole = repairs.From(Bits.None);
        var p = new double[posterior.Length];
        var probability = new double[sets.Remainders.Length];
        var marginals = new double[sets.Faults];
        for (var f = 0; f < Model.Findings.Count; f++)
        {
            cancellation.ThrowIfCancellationRequested();
            var finding = Model.Findings[f];
            if (answered.Contains(f) || request.ComplaintsTold && finding.Group == "complaint" || finding.Runs && (!done.IsEmpty || request.Isolated))
            {
                continue;
            }
            // Every part of each kind asked for must be in reach, so that "spin each roller" means each.
            var groups = Model.Layout.PartsOfKind(finding.At).SelectMany(p => p.SeenAfter).ToList();
            if (planner.MinutesTo(groups, done) is not { } open)
            {
                continue;
            }
            var after = open == 0 ? done : planner.StateAfter(groups, done);
            var costs = repairs.From(after);
            var expected = finding.Minutes + finding.RiskMinutes + open;
            var tells = new List<string>();
            for (var o = 0; o < finding.Outcomes.Count; o++)
            {
                TensorPrimitives.Multiply(posterior, Model.Likelihood(f, o), p);
                var weight = NoisyOrModel.Normalise(p);
                if (weight < 1e-9)
                {
                    continue;
                }
                sets.Gather(p, probability);
                expected += weight * RepairSequence.Best(Model, sets, probability, costs, whole).Cost;
                sets.Marginals(probability, marginals);
                tells.Add(Model.Faults[Array.IndexOf(marginals, marginals.Max())].Name);
            }
            priced.Add(new(finding, finding.Minutes, open, expected, [.. tells.Distinct()]));
        }
        var dead = priced.Any(c => !c.Finding.Live && c.ExpectedCost < stopCost);
        return [.. priced.Where(c => !(c.Finding.Live && dead)).OrderBy(c => c.Finding.Live).ThenBy(c => c.ExpectedCost)];
    }

    private static Advice Of(PricedCheck check, double stopCost)
    {
        var saves = stopCost - check.ExpectedCost;
        var tells = check.Tells.Count > 1
            ? $"it tells “{Lower(check.Tells[1])}” from “{Lower(check.Tells[0])}”"
            : $"it makes “{Lower(check.Tells.Count > 0 ? check.Tells[0] : "the cause")}” surer or rules it out";
        var open = check.TeardownMinutes > 0 ? $" and {check.TeardownMinutes:0} min to open and close" : "";
        return new("check", check.Finding.Id, check.ExpectedCost, saves > 0
            ? $"Takes {check.Minutes:0.#} min{open}, saves {saves:0.#} min on average: {tells}."
            : $"Costs {-saves:0.#} min more on average than stopping here: {tells}.");
    }

    private static Advice Of(RepairSequence.Choice stop) => stop.First is null
        ? new("refer", "unknown", stop.Cost, "No cause on this machine explains what was found; hand it over with what is known.")
        : new(stop.First.Action == "refer" ? "refer" : "repair", stop.First.Id, stop.Cost,
            stop.First.Action == "refer"
                ? $"Right in {stop.Share} of 10 such machines, and outside drum-drive work."
                : $"Right in {stop.Share} of 10 such machines; {stop.Cost:0} min expected, call-back counted in.");

    private static string Lower(string s) => s.Length > 1 && char.IsLower(s[1]) ? char.ToLowerInvariant(s[0]) + s[1..] : s;
}
