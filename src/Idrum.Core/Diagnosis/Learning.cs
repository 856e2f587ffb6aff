using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Diagnosis;

/// <summary>What the shop's own closed jobs make of the files: how often each fault comes, how often wear is there
/// silently, and what each
/// fault shows.</summary>
/// <remarks>Every figure of the files is a gamma prior on a rate: with a pseudo-count a, n seen where e were expected,
/// the figure is
/// multiplied by (a + n)/(a + e), the posterior mean (Gelman and others, Bayesian Data Analysis, 3rd ed. 2013, ch.
/// 2.6); over all faults
/// this is a Dirichlet on their shares. Incidence is pooled over layouts, and each layout is pulled towards the pool by
/// its own pseudo-count
/// (partial pooling): a job counts there by <see cref="Elsewhere"/> only, and moves a cause no further than <see
/// cref="MostElsewhere"/> times either way.
/// One job counts as <see cref="MostCauses"/> causes at most: where more were named, they share that. What was changed
/// on suspicion counts by the probability that it was it, given that the proof passed; a job and its
/// call-back are one machine and count half each; where no cause was found, all causes were expected and none
/// came.</remarks>
public sealed class Learning
{
    /// <summary>The files weigh as much as so many jobs of the shop.</summary>
    internal const double Jobs = 160;

    /// <summary>What the other layouts taught weighs as much as so many jobs of one layout.</summary>
    internal const double Pool = 120;

    /// <summary>What a file says of silent wear weighs as much as so many looks at the part.</summary>
    internal const double Looks = 40;

    /// <summary>A likelihood weighs as much as so many answers with the cause known.</summary>
    internal const double Answered = 20;

    /// <summary>A false alarm's rate weighs as much as so many answers.</summary>
    internal const double FalseAlarms = 60;

    /// <summary>A job on one layout counts so much on another: machines differ in what wears.</summary>
    internal const double Elsewhere = 0.25;

    /// <summary>What was met on other layouts makes a cause so many times as likely here, or as unlikely, at
    /// most.</summary>
    internal const double MostElsewhere = 3;

    /// <summary>One job counts as so many causes at most.</summary>
    internal const double MostCauses = 2;

    /// <summary>Jobs that teach at most, the newest: what was met before tells little that these do not, and machines change.</summary>
    public const int MostJobs = 2000;

    private const double Shown = 0.5;
    private readonly DiagnosisCatalog catalog;
    private readonly Func<string, FaultModel?> modelOf;
    private readonly Dictionary<(string Layout, double Wear), double[]> expected = [];
    private readonly Dictionary<
        (string Layout, int Fault, double Wear),
        List<(int Finding, int Outcome, double P)>
    > shows = [];
    private readonly Dictionary<FaultId, Tally> pooled = [];
    private readonly Dictionary<(string Layout, FaultId Fault), Tally> byLayout = [];
    private readonly Dictionary<string, Tally> silent = [];
    private readonly Dictionary<(string Finding, FaultId Fault, int Grade), Tally> links = [];
    private readonly Dictionary<(string Finding, int Grade), Tally> leaks = [];
    private readonly Tally nothing = new();

    private Learning(DiagnosisCatalog catalog, Func<string, FaultModel?> modelOf) =>
        (this.catalog, this.modelOf) = (catalog, modelOf);

    /// <summary>Learns from lessons; the order does not matter.</summary>
    /// <param name="catalog">What the files say.</param>
    /// <param name="modelOf">The fault model of a layout by the files; null where the shop has no such layout.</param>
    /// <param name="lessons">Lessons of closed jobs.</param>
    /// <param name="cancellation">Stops the work.</param>
    public static Learned From(
        DiagnosisCatalog catalog,
        Func<string, FaultModel?> modelOf,
        IReadOnlyList<JobLesson> lessons,
        CancellationToken cancellation = default
    )
    {
        var learning = new Learning(catalog, modelOf);
        var cameBack = lessons.Where(l => l.CallBackOf.Length > 0).Select(l => l.CallBackOf).ToHashSet();
        var (used, unknown, suspected, callBacks) = (0, 0, 0, 0);
        var crowded = new List<CrowdedJob>();
        foreach (var lesson in lessons)
        {
            cancellation.ThrowIfCancellationRequested();
            if (modelOf(lesson.LayoutId) is not { } model)
            {
                continue;
            }
            var half = lesson.CallBackOf.Length > 0 || cameBack.Contains(lesson.Number);
            var causes = learning.CausesOf(lesson, model, cameBack.Contains(lesson.Number));
            if (causes.Sum(c => c.Weight) > MostCauses + 0.5)
            {
                crowded.Add(new(lesson.Number, causes.Count));
            }
            var share = Math.Min(1, MostCauses / Math.Max(1e-9, causes.Sum(c => c.Weight)));
            causes = [.. causes.Select(c => c with { Weight = c.Weight * share })];
            used++;
            unknown += causes.Count == 0 ? 1 : 0;
            suspected += causes.Any(c => !c.Shown) ? 1 : 0;
            callBacks += lesson.CallBackOf.Length > 0 ? 1 : 0;
            learning.Count(lesson, model, causes, half ? 0.5 : 1);
        }
        return learning.Result(new(used, unknown, suspected, callBacks) { Crowded = crowded });
    }

    private sealed record Counted(int Fault, double Weight, bool Shown);

    private sealed class Tally
    {
        internal double Seen { get; set; }

        internal double Expected { get; set; }

        internal double Ratio(double prior) => Math.Clamp((prior + Seen) / (prior + Expected), 0.1, 10);

        internal void Add(double seen, double expected) => (Seen, Expected) = (Seen + seen, Expected + expected);
    }

    private static Tally In<T>(Dictionary<T, Tally> tallies, T key)
        where T : notnull => tallies.TryGetValue(key, out var tally) ? tally : tallies[key] = new();

    /// <summary>Causes with the weight they count by.</summary>
    private List<Counted> CausesOf(JobLesson lesson, FaultModel model, bool cameBack)
    {
        var causes = new List<Counted>();
        double[]? there = null;
        foreach (
            var cause in lesson
                .Causes.Where(c => c.Decision is Decided.Change or Decided.HandOver)
                .DistinctBy(c => c.FaultId)
        )
        {
            var f = model.Faults.ToList().FindIndex(x => x.Id == cause.FaultId);
            if (f < 0)
            {
                continue;
            }
            if (SeenBad(lesson, model, f))
            {
                causes.Add(new(f, 1, true));
                continue;
            }
            there ??= Diagnostician.There(model.Believe(lesson.Wear, Known(lesson, model)));
            var p = Math.Clamp(there[f], 0.02, 0.98);
            // Had it been something else, the proof would have shown it all but as often as a fault slips through; who
            // came back was wrong.
            var slips = catalog.Costs.CallBackShare;
            causes.Add(
                new(
                    f,
                    cameBack ? p * slips / (p * slips + 1 - p)
                        : lesson.Proved && cause.Decision == Decided.Change ? p / (p + (1 - p) * slips)
                        : p,
                    false
                )
            );
        }
        return causes;
    }

    /// <summary>What a lesson knows; an answer that the catalog does not have any more is passed over.</summary>
    private static List<(int Finding, int Outcome)> Known(JobLesson lesson, FaultModel model) =>
        KnownFindings.Places(
            model,
            lesson.Answers.Where(a => model.Catalog.FindFinding(a.Key)?.IndexOf(a.Value) >= 0).ToDictionary(),
            true
        );

    /// <summary>Whether a look at its own part showed it.</summary>
    private static bool SeenBad(JobLesson lesson, FaultModel model, int fault) =>
        Looked(lesson, model, fault).Any(l => l.Outcome > 0 && l.P[l.Outcome - 1] >= Shown);

    /// <summary>Looks at the part of a fault.</summary>
    private static IEnumerable<(Finding Finding, int Outcome, IReadOnlyList<double> P)> Looked(
        JobLesson lesson,
        FaultModel model,
        int fault
    )
    {
        var f = model.Faults[fault];
        return model
            .Findings.Where(x =>
                x.Group is FindingGroup.Inside or FindingGroup.Outside
                && lesson.Answers.ContainsKey(x.Id)
                && x.SeesKinds.Intersect(f.Kinds).Any()
            )
            .Select(x =>
                (
                    x,
                    x.IndexOf(lesson.Answers[x.Id]),
                    x.Links.FirstOrDefault(l => l.Fault == f.Id && model.Layout.Holds(l.When))?.P ?? []
                )
            )
            .Where(x => x.Item2 >= 0 && x.Item3.Count > 0 && x.Item3.Sum() >= Shown);
    }

    private void Count(JobLesson lesson, FaultModel model, List<Counted> causes, double weight)
    {
        var rates = Expected(lesson, model);
        for (var f = 0; f < model.Faults.Count; f++)
        {
            var seen = weight * causes.Where(c => c.Fault == f).Sum(c => c.Weight);
            In(pooled, model.Faults[f].Id).Add(seen, weight * rates[f]);
            In(byLayout, (lesson.LayoutId, model.Faults[f].Id)).Add(seen, weight * rates[f]);
        }
        nothing.Add(causes.Count == 0 ? weight : 0, weight * rates[^1]);
        Silent(lesson, model, causes);
        if (causes is [{ Shown: true }] && weight == 1)
        {
            Likelihoods(lesson, model, causes[0].Fault);
        }
    }

    private double[] Expected(JobLesson lesson, FaultModel model)
    {
        var key = (lesson.LayoutId, WornAbout(lesson));
        if (!expected.TryGetValue(key, out var rates))
        {
            // Nobody brings a machine of which nothing is complained.
            var any = model.Believe(key.Item2, []);
            var none = model.Believe(
                key.Item2,
                [
                    .. Enumerable
                        .Range(0, model.Findings.Count)
                        .Where(f => model.Findings[f].Group == FindingGroup.Complaint)
                        .Select(f => (f, -1)),
                ]
            );
            var (all, silent) = (With(any), With(none));
            expected[key] = rates = [
                .. all.Select((p, f) => Math.Max(0, (p - none.Evidence * silent[f]) / (1 - none.Evidence))),
            ];
        }
        return rates;

        // The faults, and last that nothing is wrong.
        static double[] With(Belief belief)
        {
            var nothing = 0.0;
            for (var h = 0; h < belief.Weight.Length; h++)
            {
                nothing += belief.Model.SetOf[h] == 0 ? belief.Weight[h] : 0;
            }
            return [.. belief.Speaks(), nothing];
        }
    }

    /// <summary>Wear that was looked at and was not the cause: there or not, as far as the look tells.</summary>
    private void Silent(JobLesson lesson, FaultModel model, List<Counted> causes)
    {
        for (var f = 0; f < model.Faults.Count; f++)
        {
            var fault = model.Faults[f];
            if (
                fault.Silent <= 0
                || causes.Exists(c => c.Fault == f)
                || Looked(lesson, model, f).FirstOrDefault() is not { Finding: { } look } seen
            )
            {
                continue;
            }
            var prior = Math.Min(0.6, fault.Silent * Math.Pow(Math.Clamp(lesson.Wear, 0.1, 3), fault.Ageing));
            var (yes, no) =
                seen.Outcome == 0
                    ? (1 - seen.P.Sum(), 1 - look.Leak.Sum())
                    : (seen.P[seen.Outcome - 1], look.Leak[seen.Outcome - 1]);
            In(silent, fault.Id).Add(prior * yes / (prior * yes + (1 - prior) * no), prior);
        }
    }

    /// <summary>What one known cause showed.</summary>
    private void Likelihoods(JobLesson lesson, FaultModel model, int fault)
    {
        var id = model.Faults[fault].Id;
        foreach (var (f, o, p) in Shows(lesson, model, fault))
        {
            var finding = model.Findings[f];
            var told = lesson.Answers.GetValueOrDefault(finding.Id);
            var outcome = told is null ? 0 : finding.IndexOf(told);
            if (outcome < 0 || told is null && finding.Group != FindingGroup.Complaint)
            {
                continue;
            }
            var tally = finding.Links.Any(l => l.Fault == id && model.Layout.Holds(l.When))
                ? In(links, (finding.Id, id, o))
                : In(leaks, (finding.Id, o));
            tally.Add(outcome == o ? 1 : 0, p);
        }
    }

    /// <summary>How often each finding is expected to come out as what, where one fault speaks alone; worked out once for machines worn
    /// about alike.</summary>
    private List<(int Finding, int Outcome, double P)> Shows(JobLesson lesson, FaultModel model, int fault)
    {
        var key = (lesson.LayoutId, fault, WornAbout(lesson));
        if (shows.TryGetValue(key, out var known))
        {
            return known;
        }
        var set = model.IndexOfSet([fault]);
        var hypotheses = Enumerable.Range(0, model.SetOf.Length).Where(h => model.SetOf[h] == set).ToList();
        var belief = model.Believe(key.Item3, []);
        var made = new List<(int, int, double)>();
        for (var f = 0; f < model.Findings.Count; f++)
        {
            var finding = model.Findings[f];
            if (finding.Tells is not null)
            {
                continue;
            }
            var rows = belief.Outcomes(f, hypotheses);
            for (var o = 1; o < finding.Outcomes.Count; o++)
            {
                made.Add(
                    (
                        f,
                        o,
                        hypotheses.Select((h, i) => model.Share[h] * rows[o][i]).Sum()
                            * (finding.Group == FindingGroup.Complaint ? finding.Told : 1)
                    )
                );
            }
        }
        return shows[key] = made;
    }

    private static double WornAbout(JobLesson lesson) => Math.Round(Math.Clamp(lesson.Wear, 0.1, 3), 1);

    private Learned Result(LearnedFrom from)
    {
        var all = catalog.Faults.Sum(f => f.Incidence);
        double Share(Fault f) => f.Incidence / all;
        double FromOthers(Fault f, double seen, double expected) =>
            Math.Clamp(
                (Jobs * Share(f) + Elsewhere * seen) / (Jobs * Share(f) + Elsewhere * expected),
                1 / MostElsewhere,
                MostElsewhere
            );
        double Pooled(Fault f) => pooled.GetValueOrDefault(f.Id) is { } all ? FromOthers(f, all.Seen, all.Expected) : 1;
        double Quiet(Fault f) => silent.GetValueOrDefault(f.Id)?.Ratio(Looks * f.Silent) ?? 1;
        // What the other layouts taught is the prior of each, so that no job counts twice.
        double Here(string layout, Fault f)
        {
            if (byLayout.GetValueOrDefault((layout, f.Id)) is not { } own)
            {
                return Pooled(f);
            }
            var others = FromOthers(f, pooled[f.Id].Seen - own.Seen, pooled[f.Id].Expected - own.Expected);
            return Math.Clamp((Pool * Share(f) * others + own.Seen) / (Pool * Share(f) + own.Expected), 0.1, 10);
        }
        IReadOnlyList<double> Moved(IReadOnlyList<double> p, Func<int, double> ratio)
        {
            var moved = p.Select((x, i) => x * ratio(i + 1)).ToList();
            return moved.Sum() is > 0.98 and var sum ? [.. moved.Select(x => x / sum * 0.98)] : moved;
        }
        var findings = catalog
            .Findings.Select(f =>
                f with
                {
                    Leak = Moved(f.Leak, o =>
                        leaks.GetValueOrDefault((f.Id, o))?.Ratio(FalseAlarms * f.Leak[o - 1]) ?? 1
                    ),
                    Causes =
                    [
                        .. f.Causes.Select(g =>
                            g with
                            {
                                Of = g.Of.ToDictionary(
                                    c => c.Key,
                                    c =>
                                        Moved(c.Value, o =>
                                            links.GetValueOrDefault((f.Id, c.Key, o))?.Ratio(Answered * c.Value[o - 1])
                                            ?? 1
                                        )
                                ),
                            }
                        ),
                    ],
                }
            )
            .ToList();
        var world = catalog.World with { NothingWrong = catalog.World.NothingWrong * nothing.Ratio(Jobs * 0.05) };
        DiagnosisCatalog For(Func<Fault, double> ratio) =>
            // Only what jobs can teach is set anew: what the trade does first stays as the files say it.
            catalog with
            {
                Faults =
                [
                    .. catalog.Faults.Select(f =>
                        f with
                        {
                            Incidence = f.Incidence * ratio(f),
                            Silent = f.Silent > 0 ? Math.Min(0.55, f.Silent * Quiet(f)) : 0,
                        }
                    ),
                ],
                Findings = findings,
                World = world,
            };
        var layouts = byLayout.Keys.Select(k => k.Layout).Distinct().ToDictionary(l => l, l => For(f => Here(l, f)));
        return new(
            For(Pooled),
            layouts,
            from,
            [
                .. catalog
                    .Faults.Where(f => pooled.ContainsKey(f.Id))
                    .Select(f => new LearnedFault(
                        f,
                        pooled[f.Id].Seen,
                        pooled[f.Id].Expected,
                        f.Incidence * Pooled(f),
                        byLayout
                            .Keys.Where(k => k.Fault == f.Id)
                            .ToDictionary(k => k.Layout, k => f.Incidence * Here(k.Layout, f)),
                        f.Silent * Quiet(f)
                    )),
            ],
            [
                .. links
                    .Select(l => (Key: l.Key, Tally: l.Value, Finding: catalog.FindFinding(l.Key.Finding)!))
                    .Select(l => new LearnedSign(
                        l.Finding,
                        catalog.FindFault(l.Key.Fault)!,
                        l.Finding.Outcomes[l.Key.Grade],
                        (int)Math.Round(l.Tally.Seen),
                        l.Tally.Expected,
                        P(catalog, l.Key),
                        P(findings.First(f => f.Id == l.Key.Finding), l.Key)
                    )),
            ]
        );
    }

    private static double P(DiagnosisCatalog of, (string Finding, FaultId Fault, int Grade) key) =>
        P(of.FindFinding(key.Finding)!, key);

    private static double P(Finding finding, (string Finding, FaultId Fault, int Grade) key) =>
        finding.Links.First(l => l.Fault == key.Fault).P[key.Grade - 1];
}
