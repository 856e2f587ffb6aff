using System.Runtime.CompilerServices;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>Ranks causes, prices checks and advises, for one layout.</summary>
/// <remarks>Expected costs after Heckerman, Breese and Rommelse, "Decision-theoretic troubleshooting", CACM 38(3),
/// 1995: one
/// observation is looked ahead; after it, causes are gone for in the order of probability over cost until the machine
/// is
/// right. Beyond the article: several faults may be there at once, opening is an act of its own that shows all in
/// reach, and what is
/// free and in reach comes before going deeper (<see cref="Adviser"/>).</remarks>
public sealed class Diagnostician
{
    private readonly TeardownPlanner whole;
    private readonly ConditionalWeakTable<TeardownPlanner, RepairCosts> repairs = [];

    /// <summary>Makes one.</summary>
    /// <param name="model">The fault model of the layout.</param>
    /// <param name="planner">A planner of the same layout.</param>
    public Diagnostician(FaultModel model, TeardownPlanner planner)
    {
        Model = model;
        whole = planner;
    }

    /// <summary>The model.</summary>
    public FaultModel Model { get; }

    /// <summary>Answers what it is and what to do next.</summary>
    /// <param name="request">What is known.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="ArgumentException">An unknown outcome of a known finding.</exception>
    public DiagnosisResult Diagnose(DiagnosisRequest request, CancellationToken cancellation = default)
    {
        var (belief, there, putRight) = Picture(request);
        var (planner, costs) = On(request);
        var priced = new PricedActs(Model, planner, costs, belief, request, putRight);
        var checks = priced.Checks(cancellation);
        var (advice, runnerUp) = AdviserOf(belief, there, putRight, priced, checks, request).Advise();
        return new()
        {
            Causes = Causes(belief, there, priced.Now.Minutes),
            SeveralAtOnce = belief.Several(),
            Together = Together(belief),
            Checks = checks,
            Advice = advice,
            RunnerUp = runnerUp,
            WalkRound = WalkRound(request),
            RuledOut = RuledOut(belief, there, request.Wear),
            Oddities = OddFindings.Find(belief, request.Wear, there),
        };
    }

    /// <summary>The advice alone, with what it rests on; quicker than the whole answer.</summary>
    /// <param name="request">What is known.</param>
    /// <param name="cancellation">Stops the work.</param>
    public (Advice Advice, IReadOnlyList<double> There, double Several) NextAct(
        DiagnosisRequest request,
        CancellationToken cancellation = default
    )
    {
        var (belief, there, putRight) = Picture(request);
        var (planner, costs) = On(request);
        var priced = new PricedActs(Model, planner, costs, belief, request, putRight);
        return (
            AdviserOf(belief, there, putRight, priced, priced.Checks(cancellation), request).Advise().Advice,
            there,
            belief.Several()
        );
    }

    /// <summary>What every act costs on average from here, beside the advice: for whoever practises.</summary>
    /// <param name="request">What is known.</param>
    /// <param name="cancellation">Stops the work.</param>
    public ActPrices Prices(DiagnosisRequest request, CancellationToken cancellation = default)
    {
        var (belief, there, putRight) = Picture(request);
        var (planner, costs) = On(request);
        var priced = new PricedActs(Model, planner, costs, belief, request, putRight);
        var checks = priced.Checks(cancellation);
        return new(
            AdviserOf(belief, there, putRight, priced, checks, request).Advise().Advice,
            checks,
            Enumerable
                .Range(0, Model.Faults.Count)
                .Where(f => !putRight[f])
                .ToDictionary(f => Model.Faults[f].Id, priced.GoingFor),
            there
        );
    }

    /// <summary>Thinks the job through to its end, cut down to what still matters, and says what would come next by
    /// that where it is
    /// clearly better than the first advice; larger and larger cuts until time or branches run out.</summary>
    /// <param name="request">What is known.</param>
    /// <param name="time">Time for it; the last cut that came to its end counts.</param>
    /// <param name="cancellation">Stops the work, as when the answer came first.</param>
    /// <returns>The better advice; the first one again where there is none.</returns>
    public Improved Improve(DiagnosisRequest request, TimeSpan time, CancellationToken cancellation = default)
    {
        var (belief, there, putRight) = Picture(request);
        var (planner, costs) = On(request);
        var priced = new PricedActs(Model, planner, costs, belief, request, putRight);
        var checks = priced.Checks(cancellation);
        var adviser = AdviserOf(belief, there, putRight, priced, checks, request);
        var first = adviser.Advise().Advice;
        if (adviser.Stands(first))
        {
            return new(first, true);
        }
        // Without a clock the branches alone bound it.
        using var late = planner.Clock is { } clock
            ? new CancellationTokenSource(time, clock)
            : new CancellationTokenSource();
        using var own = CancellationTokenSource.CreateLinkedTokenSource(cancellation, late.Token);
        var better = first;
        try
        {
            foreach (var (faults, most, branches) in Foreseer.Cuts)
            {
                if (
                    new Foreseer(Model, planner, costs, belief, putRight, priced, checks, request).Think(
                        faults,
                        most,
                        branches,
                        first,
                        own.Token
                    ) is
                    { } seen
                )
                {
                    better = adviser.Better(first, seen);
                }
            }
        }
        catch (OperationCanceledException) when (!cancellation.IsCancellationRequested)
        {
            return new(better, false);
        }
        return new(better, true);
    }

    private Adviser AdviserOf(
        Belief belief,
        double[] there,
        bool[] putRight,
        PricedActs priced,
        IReadOnlyList<PricedCheck> checks,
        DiagnosisRequest request
    ) =>
        new(
            Model,
            belief,
            Speaking(belief, putRight),
            there,
            priced,
            checks,
            request,
            new Suspects(Model, belief, request.Wear, request.Told)
        );

    /// <summary>What is believed, and nothing more.</summary>
    public (Belief Belief, IReadOnlyList<double> There) Believe(DiagnosisRequest request)
    {
        var (belief, there, _) = Picture(request);
        return (belief, there);
    }

    /// <summary>What is believed; what was put right in this job is out of the question, and as it was not enough,
    /// something else must be there.</summary>
    private (Belief Belief, double[] There, bool[] PutRight) Picture(DiagnosisRequest request)
    {
        var belief = Model.Believe(
            request.Wear,
            KnownFindings.Places(Model, request.Findings, request.ComplaintsTold),
            KnownFindings.Graded(Model, request.Graded, request.Findings)
        );
        var putRight = PutRight(request);
        if (putRight.Contains(true))
        {
            belief = request.HeardAgain ? belief.NoneOf(putRight) : belief.NotOnly(putRight);
        }
        var there = There(belief);
        for (var i = 0; i < there.Length; i++)
        {
            there[i] = putRight[i] ? 0 : there[i];
        }
        return (belief, there, putRight);
    }

    /// <summary>Probability that each fault is there: that it speaks, or was seen where it does not.</summary>
    internal static double[] There(Belief belief)
    {
        var there = belief.Speaks();
        var silent = belief.SilentlySeen();
        for (var i = 0; i < there.Length; i++)
        {
            there[i] = Math.Min(1, there[i] + silent[i]);
        }
        return there;
    }

    /// <summary>Probability that each fault speaks, those put right left out: what is worn beside it is no reason to go
    /// there.</summary>
    private static double[] Speaking(Belief belief, bool[] putRight) =>
        [.. belief.Speaks().Select((p, f) => putRight[f] ? 0 : p)];

    /// <summary>Faults whose parts were all changed in this job, and those cleaned or adjusted.</summary>
    private bool[] PutRight(DiagnosisRequest request) =>
        [
            .. Model.Faults.Select(f =>
                request.PutRight.Contains(f.Id)
                || f.Kinds.Count > 0
                    && request.Fitted.Count > 0
                    && Model.Layout.PartsOfKind(f.Kinds).ToList() is { Count: > 0 } parts
                    && parts.TrueForAll(p => request.Fitted.Contains(p.Id))
            ),
        ];

    private List<Cause> Causes(Belief belief, double[] there, double[] minutes)
    {
        Weight[] Against(string finding, Belief other)
        {
            var without = There(other);
            return
            [
                .. there.Select(
                    (p, i) =>
                        new Weight(finding, Math.Round(10 * Math.Log10(Odds(p) / Odds(p == 0 ? 0 : without[i])), 2))
                ),
            ];
        }
        var weights = Enumerable
            .Range(0, belief.Known.Count)
            .Where(k => belief.Known[k].Outcome >= 0)
            .Select(k => Against(KnownFindings.Answered(Model.Findings[belief.Known[k].Finding].Id), belief.Without(k)))
            .Concat(
                Enumerable
                    .Range(0, belief.Graded.Count)
                    .Select(g => Against(Model.Findings[belief.Graded[g].Finding].Id, belief.WithoutGraded(g)))
            )
            .ToList();
        return
        [
            .. Enumerable
                .Range(0, there.Length)
                .OrderByDescending(i => there[i])
                .Select(i => new Cause(
                    Model.Faults[i],
                    there[i],
                    [.. weights.Select(w => w[i]).OrderByDescending(w => Math.Abs(w.Decibans))],
                    Model.Faults[i].Action == FaultAction.Refer ? null : minutes[i]
                )),
        ];

        static double Odds(double p) => Math.Clamp(p, 1e-12, 1 - 1e-12) / (1 - Math.Clamp(p, 1e-12, 1 - 1e-12));
    }

    private List<Together> Together(Belief belief)
    {
        var ofSet = new double[Model.Sets.Count];
        for (var h = 0; h < belief.Weight.Length; h++)
        {
            ofSet[Model.SetOf[h]] += belief.Weight[h];
        }
        return
        [
            .. Enumerable
                .Range(0, ofSet.Length)
                .Where(s => ofSet[s] >= 0.01)
                .OrderByDescending(s => ofSet[s])
                .Select(s => new Together([.. Model.Sets[s].Select(f => Model.Faults[f])], ofSet[s])),
        ];
    }

    /// <summary>Faults that checks have made at least five times less likely than the complaint alone left them, and
    /// below one in fifty.</summary>
    private List<Fault> RuledOut(Belief belief, double[] there, double wear)
    {
        List<(int Finding, int Outcome)> told =
        [
            .. belief.Known.Where(k =>
                Model.Findings[k.Finding].Group is FindingGroup.Complaint or FindingGroup.Before
            ),
        ];
        if (told.Count == belief.Known.Count)
        {
            return [];
        }
        var complaint = There(Model.Believe(wear, told));
        return
        [
            .. Enumerable
                .Range(0, there.Length)
                .Where(i => there[i] < 0.02 && complaint[i] > 5 * there[i] && complaint[i] > 0.02)
                .OrderByDescending(i => complaint[i])
                .Select(i => Model.Faults[i]),
        ];
    }

    /// <summary>Plans and costs of the machine without what is not on it.</summary>
    private (TeardownPlanner Planner, RepairCosts Costs) On(DiagnosisRequest request)
    {
        var planner = whole.Without(request.Absent, []);
        return (planner, repairs.GetValue(planner, p => new(Model, p)));
    }

    private List<InReach> WalkRound(DiagnosisRequest request)
    {
        var planner = On(request).Planner;
        if (request.Done.Count == 0)
        {
            return [];
        }
        var places = Model
            .Layout.Parts.Select((p, i) => (p.Kind, i))
            .GroupBy(p => p.Kind)
            .ToDictionary(g => g.Key, g => g.Min(p => p.i));
        // Looks of seconds at parts that wear; what is measured or is no matter of the open machine is a check of its
        // own.
        var inside = Model.Findings.Where(f => f.Group == FindingGroup.Inside).SelectMany(f => f.SeesKinds).ToHashSet();
        var wears = Model.Layout.Parts.Where(p => p.Wears).Select(p => p.Kind).ToHashSet();
        bool Look(Finding f) =>
            f is { Runs: false, Live: false }
            && f.SeesKinds.Any(wears.Contains)
            && (f.Group == FindingGroup.Inside || !f.SeesKinds.Any(inside.Contains))
            && f.Links.Any(l =>
                l.P.Sum() >= 0.3 && Model.Catalog.FindFault(l.Fault) is { Hidden: false, Action: not FaultAction.Refer }
            );
        // Each part by itself: two of four rollers may lie open. What was put right or renewed needs no second look.
        var done = planner.Graph.SetOf(request.Done);
        var putRight = PutRight(request);
        var right = Model.Faults.Where((_, i) => putRight[i]).Select(f => f.Id).ToHashSet();
        return
        [
            .. Model
                .Findings.Where(f => Look(f) && !f.Links.All(l => right.Contains(l.Fault)))
                .Select(f => new InReach(
                    f,
                    [
                        .. Model
                            .Layout.PartsOfKind(f.SeesKinds)
                            .Where(p => !request.Fitted.Contains(p.Id) && planner.MinutesTo(p.SeenAfter, done) == 0)
                            .Select(p => p.Id),
                    ]
                ))
                .Where(r => r.PartIds.Count > 0)
                .OrderBy(r => r.Finding.SeesKinds.Min(k => places.GetValueOrDefault(k, int.MaxValue)))
                .ThenBy(r => r.Finding.Minutes),
        ];
    }
}
