using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Shop;

namespace Idrum.Core.Practice;

/// <summary>An exercise: a customer calls, checks cost minutes, opening shows what it shows. It is the same for the same seed and acts, so
/// that only those are kept.</summary>
/// <remarks>Each decision is held against the expected cost of what <see cref="Diagnostician"/> advises from the same knowledge, never
/// against what came of it: <c>lost = max(0, E[cost | act] − E[cost | advice])</c>, both by one step ahead as in
/// <see cref="RepairOrder"/>. That advice is the best way known, not proved to be the best there is; who beats it loses nothing.</remarks>
public sealed class Exercise
{
    /// <summary>Minutes below which two acts count as equally good.</summary>
    public const double AsGood = 0.5;

    private readonly PracticeJob job;
    private readonly List<Decision> decisions = [];
    private readonly List<string> wrong = [];
    private readonly List<string> slips = [];
    private readonly List<(string FindingId, string Say)> readings = [];
    private ActPrices? prices;
    private (Fault Fault, HandsOn Hands, int Done)? closing;

    private Exercise(ExerciseSpec spec, MachineKnowledge knowledge)
    {
        Spec = spec;
        Knowledge = knowledge;
        job = BareJob(spec, knowledge);
        Clairvoyant = PracticeJob.Clairvoyant(knowledge, job.Machine);
        Hidden = job.Machine.Speaking;
    }

    /// <summary>The job of an exercise, without any reckoning.</summary>
    /// <param name="spec">What is practised.</param>
    /// <param name="knowledge">The machine's kind.</param>
    public static PracticeJob BareJob(ExerciseSpec spec, MachineKnowledge knowledge)
    {
        var truth =
            spec.Level != 3
                ? knowledge.Diagnostician.Model
                : new FaultModel(
                    knowledge.Layout,
                    OtherWorld.Of(knowledge.Diagnostician.Model.Catalog, 0.5, new Random(spec.Seed))
                );
        var random = new Random(unchecked(spec.Seed * 31 + spec.Level));
        if (spec.Faults.Count > 0)
        {
            return new(knowledge, new(truth, Worn(random), spec.Faults, random), spec.Seed);
        }
        var machine = new SimulatedMachine(truth, Worn(random), random);
        for (var tries = 0; spec.Level == 1 && machine.Speaking.Count != 1 && tries < 200; tries++)
        {
            machine = new SimulatedMachine(truth, Worn(random), random);
        }
        return new(knowledge, machine, spec.Seed);
    }

    // As a customer says how old it is: in tenths.
    private static double Worn(Random random) => Math.Round(0.5 + random.NextDouble(), 1);

    /// <summary>What is practised.</summary>
    public ExerciseSpec Spec { get; }

    /// <summary>The machine's kind.</summary>
    public MachineKnowledge Knowledge { get; }

    /// <summary>Faults it had when the customer called; to be shown once it is over.</summary>
    public IReadOnlyList<FaultId> Hidden { get; }

    /// <summary>Faults that speak still; for its sound.</summary>
    public IReadOnlyList<FaultId> Speaking => job.Machine.Speaking;

    /// <summary>What it would have cost whoever had known them, minutes, money counted in: no way of working is below it on this machine.</summary>
    public double Clairvoyant { get; }

    /// <summary>What was decided, in order.</summary>
    public IReadOnlyList<Decision> Decisions => decisions;

    /// <summary>What is known: finding → outcome.</summary>
    public IReadOnlyDictionary<string, string> Evidence => job.Evidence;

    /// <summary>Whether the supply is off.</summary>
    public bool Isolated { get; private set; }

    /// <summary>Whether it stands open.</summary>
    public bool IsOpen => !job.Whole || closing is not null;

    /// <summary>What the hands do next, before it is closed; null where nothing of that is asked.</summary>
    public HandTask? ToDo => !Over && closing is { } c && c.Done < c.Hands.Tasks.Count ? c.Hands.Tasks[c.Done] : null;

    /// <summary>Whether the belt is laid as seen from behind.</summary>
    public bool FromBehind => closing?.Hands.Behind == true;

    /// <summary>What was measured and still holds: check and what the readings say.</summary>
    public IReadOnlyList<(string FindingId, string Say)> Readings =>
        [.. readings.Where(r => job.Request.Graded.Any(g => g.FindingId == r.FindingId))];

    /// <summary>What the hands did wrong, in sentences.</summary>
    public IReadOnlyList<string> Slips => slips;

    /// <summary>Why it was stopped as unsafe; empty where it was not.</summary>
    public string Unsafe { get; private set; } = "";

    /// <summary>Whether it has ended.</summary>
    public bool Over => job.Over || Unsafe.Length > 0;

    /// <summary>Whether it ended with the machine right.</summary>
    public bool Right => Unsafe.Length == 0 && job.Over && !job.GivenUp;

    /// <summary>Minutes so far.</summary>
    public double Minutes => job.Machine.Minutes;

    /// <summary>Parts bought so far, in the shop's currency.</summary>
    public double Money => job.Machine.Money;

    /// <summary>Names of parts that were changed and had been good.</summary>
    public IReadOnlyList<string> Wrong => wrong;

    /// <summary>Minutes lost by decisions, on average, in all.</summary>
    public double Lost => decisions.Sum(d => d.Lost);

    /// <summary>Marks of 100: what the best way known would have cost from the start, over that and what was lost. An unsafe act leaves
    /// none.</summary>
    public double Marks => Unsafe.Length > 0 ? 0 : Math.Round(100 * Expected / (Expected + Lost));

    /// <summary>What the best way known was expected to cost when the customer called.</summary>
    public double Expected { get; private set; }

    /// <summary>Prices of what can be done now.</summary>
    public ActPrices Prices => prices ??= Knowledge.Diagnostician.Prices(KnownWithPower);

    /// <summary>Wear of the machine relative to ten years of average use; the customer says how old it is.</summary>
    public double Wear => job.Machine.Wear;

    /// <summary>What is known, with the supply as each act needs it: switching it costs nothing here.</summary>
    public DiagnosisRequest KnownWithPower => job.Request with { Isolated = false };

    /// <summary>Begins one, and does again what was done in it.</summary>
    /// <param name="spec">What is practised.</param>
    /// <param name="knowledge">The machine's kind, by the files: an exercise does not change with what the shop learns.</param>
    /// <param name="moves">What was done so far.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="ArgumentException">A move that this machine does not know: the layout was changed since.</exception>
    public static Exercise Of(
        ExerciseSpec spec,
        MachineKnowledge knowledge,
        IEnumerable<ExerciseMove> moves,
        CancellationToken cancellation = default
    )
    {
        var exercise = new Exercise(spec, knowledge);
        exercise.Expected = exercise.Prices.Advice.ExpectedCost;
        foreach (var move in moves)
        {
            cancellation.ThrowIfCancellationRequested();
            if (exercise.Try(move) is { Length: > 0 } why)
            {
                throw new ArgumentException(why, nameof(moves));
            }
        }
        return exercise;
    }

    /// <summary>Makes one more move.</summary>
    /// <param name="move">The move.</param>
    /// <returns>Why it cannot be made, in words, and nothing is changed; empty where it was made.</returns>
    public string Try(ExerciseMove move)
    {
        var why = Refused(move);
        if (why.Length == 0)
        {
            Do(move);
        }
        return why;
    }

    /// <summary>Why a move cannot be made now, in words; empty where it can.</summary>
    public string Refused(ExerciseMove move)
    {
        var model = Knowledge.Diagnostician.Model;
        return Over ? "This exercise has ended."
            : closing is not null && move.Kind != MoveKind.Hands ? $"First it is put together. {ToDo?.Ask}"
            : move.Kind switch
            {
                MoveKind.Hands => Hand(move.Id) is null ? "That is no answer to what is to be done now." : "",
                MoveKind.Measure => Refused(new ExerciseMove(MoveKind.Check, move.Id)) is { Length: > 0 } no ? no
                : ReadInstead.Of(Knowledge.Handbook.Gauging, Knowledge.Layout, move.Id).Count == 0
                    ? "That is not measured."
                : "",
                MoveKind.Isolate => Isolated ? "The supply is off already." : "",
                MoveKind.Power => Isolated ? "" : "The supply is on.",
                MoveKind.HandOver or MoveKind.End => "",
                MoveKind.Check => model.Catalog.FindFinding(move.Id) is not { } f
                || model.Findings.All(x => x.Id != f.Id)
                    ? "There is no such check on this machine."
                : Evidence.ContainsKey(f.Id) || job.Request.Graded.Any(g => g.FindingId == f.Id)
                    ? "That is known already."
                : f.Runs && !job.Whole ? "It can only run when it is closed."
                : f.Runs && Isolated ? "The supply is off: put it on first."
                : job.MinutesTo(f) is null ? "That cannot be reached."
                : "",
                MoveKind.Open => Knowledge.Layout.FindPart(move.Id) is null
                    ? "There is no such part on this machine."
                    : "",
                MoveKind.Repair => model.Faults.All(f => f.Id != move.Id) ? "There is no such fault on this machine."
                : job.PutRight.Contains(move.Id) ? "That was put right already."
                : "",
                _ => "That is no act of an exercise.",
            };
    }

    /// <summary>Whether a move opens the machine, or goes into it.</summary>
    private bool Opens(ExerciseMove move) =>
        move.Kind switch
        {
            MoveKind.Check or MoveKind.Measure => Knowledge.Diagnostician.Model.Catalog.FindFinding(move.Id) is { } f
                && job.MinutesTo(f) > 0,
            MoveKind.Open => true,
            MoveKind.Repair => Knowledge.Diagnostician.Model.Catalog.FindFault(move.Id)
                is { FromOutside: false, Action: not FaultAction.Refer },
            _ => false,
        };

    private void Do(ExerciseMove move)
    {
        var model = Knowledge.Diagnostician.Model;
        if (!Isolated && Opens(move))
        {
            Unsafe =
                "It was opened with the supply on. Plug out (or switched off and secured), gas shut, then the screwdriver.";
            decisions.Add(new(move, 0, "", "", false, 0));
            return;
        }
        if (move.Kind == MoveKind.Power && !job.Whole)
        {
            Unsafe = "Power came on while it stood open.";
            decisions.Add(new(move, 0, "", "", false, 0));
            return;
        }
        if (
            move.Kind is MoveKind.Check or MoveKind.Measure
            && model.Catalog.FindFinding(move.Id) is { Runs: true }
            && model.BarsRunning(job.Request) is { } first
        )
        {
            Unsafe = $"It was run too early. {first.Why}";
            decisions.Add(new(move, 0, "", "", false, 0));
            return;
        }
        if (move.Kind is MoveKind.Isolate or MoveKind.Power)
        {
            Isolated = move.Kind == MoveKind.Isolate;
            decisions.Add(new(move, 0, "", "", false, 0));
            return;
        }
        if (move.Kind == MoveKind.Hands)
        {
            Handle(move);
            return;
        }
        var (lost, better, why, ahead) = Worth(move);
        var before = Minutes;
        var good = job.Wrong;
        switch (move.Kind)
        {
            case MoveKind.Check:
                job.Check(model.Catalog.FindFinding(move.Id)!);
                break;
            case MoveKind.Measure:
                var check = model.Catalog.FindFinding(move.Id)!;
                readings.AddRange(job.Measure(check).Select(r => (check.Id, r.Say)));
                break;
            case MoveKind.Open:
                job.OpenTo([Knowledge.Layout.FindPart(move.Id)!]);
                break;
            case MoveKind.Repair:
                var fault = model.Catalog.FindFault(move.Id)!;
                var hands = new HandsOn(Knowledge, fault, job.OutFor(fault), unchecked(Spec.Seed + decisions.Count));
                if (Spec.Level == ExerciseSpec.ByHand && hands.Tasks.Count > 0)
                {
                    closing = (fault, hands, 0);
                    break;
                }
                job.Repair(fault);
                // It was closed and run to prove it.
                Isolated = false;
                break;
            case MoveKind.HandOver:
                job.HandOver();
                Isolated = false;
                break;
            default:
                job.End();
                break;
        }
        if (job.Wrong > good)
        {
            wrong.Add(model.Catalog.FindFault(move.Id)!.Name);
        }
        prices = null;
        decisions.Add(new(move, lost, better, why, ahead, Minutes - before));
    }

    private HandResult? Hand(string said) =>
        closing is { } c && ToDo is { } task && said.Split(':', 2) is [var kind, var answer] && kind == task.Kind
            ? c.Hands.Judge(kind, answer)
            : null;

    /// <summary>What the hands did, and once all of it is done the machine closed and proved.</summary>
    private void Handle(ExerciseMove move)
    {
        var (fault, hands, done) = closing!.Value;
        var result = Hand(move.Id)!;
        if (result.Wrong.Length > 0)
        {
            slips.Add(result.Wrong);
        }
        if (result.Unsafe.Length > 0)
        {
            Unsafe = result.Unsafe;
            decisions.Add(new(move, 0, "", result.Wrong, false, 0));
            return;
        }
        var (before, good) = (Minutes, job.Wrong);
        job.Machine.Spend(result.Minutes);
        closing = (fault, hands, done + 1);
        if (ToDo is null)
        {
            closing = null;
            job.Repair(fault);
            Isolated = false;
            prices = null;
            if (job.Wrong > good)
            {
                wrong.Add(fault.Name);
            }
        }
        decisions.Add(new(move, result.Minutes, "", result.Wrong, false, Minutes - before));
    }

    /// <summary>What a move was worth before anybody knew what would come of it.</summary>
    private (double Lost, string Better, string Why, bool Ahead) Worth(ExerciseMove move)
    {
        var known = Prices;
        var advice = known.Advice;
        var price = move.Kind switch
        {
            MoveKind.Check => known.Checks.FirstOrDefault(c => c.Finding.Id == move.Id)?.ExpectedCost
                ?? advice.ExpectedCost + Knowledge.Diagnostician.Model.Catalog.FindFinding(move.Id)!.Minutes,
            MoveKind.Measure => (
                known.Checks.FirstOrDefault(c => c.Finding.Id == move.Id)?.ExpectedCost ?? advice.ExpectedCost
            ) + Math.Max(0, ReadMinutes(move.Id) - Knowledge.Diagnostician.Model.Catalog.FindFinding(move.Id)!.Minutes),
            MoveKind.Repair => known.Faults.GetValueOrDefault(move.Id, advice.ExpectedCost),
            MoveKind.Open => Knowledge
                .Diagnostician.Model.Faults.Where(f =>
                    known.Faults.ContainsKey(f.Id) && f.Kinds.Contains(Knowledge.Layout.FindPart(move.Id)!.Kind)
                )
                .Select(f => known.Faults[f.Id])
                .DefaultIfEmpty(advice.ExpectedCost + Knowledge.Diagnostician.Model.Catalog.Costs.ProveMinutes)
                .Min(),
            _ => GivingUp(known),
        };
        var same =
            advice.Id == move.Id
                && (
                    Follows(advice) == move.Kind
                    || advice.Kind == AdviceKind.Check
                        && move.Kind == MoveKind.Measure
                        && ReadMinutes(move.Id) <= ReadAsQuick(move.Id)
                )
            || move.Kind is MoveKind.HandOver or MoveKind.End && Follows(advice) == move.Kind;
        var lost = same ? 0 : price - advice.ExpectedCost;
        if (lost <= AsGood)
        {
            return (0, "", "", lost < -AsGood);
        }
        var words = Words(Follows(advice), advice.Id);
        var check = known.Checks.FirstOrDefault(c => c.Finding.Id == advice.Id && advice.Kind == AdviceKind.Check);
        return (
            lost,
            words,
            check is { } look && move.Kind != MoveKind.Check
                ? FormattableString.Invariant(
                    $"{words} would have told for {look.Minutes + look.TeardownMinutes:0.#} min what this costs {lost:0} min on average."
                )
            : check is not null
                ? FormattableString.Invariant($"{words} tells more for its minutes: {lost:0.#} min on average.")
            : FormattableString.Invariant($"{words} was {lost:0.#} min cheaper on average, by what was known then."),
            false
        );
    }

    /// <summary>Minutes of measuring what a check asks for.</summary>
    public double ReadMinutes(string findingId) =>
        ReadInstead.Of(Knowledge.Handbook.Gauging, Knowledge.Layout, findingId) is [var way, ..] ? way.Minutes : 0;

    private double ReadAsQuick(string findingId) =>
        Knowledge.Diagnostician.Model.Catalog.FindFinding(findingId)!.Minutes;

    /// <summary>Handing over, or giving up: right where it is another trade's, else it is found and put right by whoever comes.</summary>
    private double GivingUp(ActPrices known)
    {
        var (costs, model) = (Knowledge.Diagnostician.Model.Catalog.Costs, Knowledge.Diagnostician.Model);
        var theirs = Math.Min(
            1,
            Enumerable
                .Range(0, model.Faults.Count)
                .Where(f => model.Faults[f].Action == FaultAction.Refer)
                .Sum(f => known.There[f])
        );
        return (1 - theirs) * (costs.ReferMinutes + known.Advice.ExpectedCost);
    }

    /// <summary>The act that does what is advised.</summary>
    private static MoveKind Follows(Advice advice) =>
        advice.Kind switch
        {
            AdviceKind.Check => MoveKind.Check,
            AdviceKind.Open => MoveKind.Open,
            AdviceKind.Repair or AdviceKind.Bring => MoveKind.Repair,
            AdviceKind.Refer => MoveKind.HandOver,
            _ => MoveKind.End,
        };

    /// <summary>An act in words.</summary>
    public string Words(MoveKind kind, string id)
    {
        var catalog = Knowledge.Diagnostician.Model.Catalog;
        return kind switch
        {
            MoveKind.Check => catalog.FindFinding(id)?.Name ?? id,
            MoveKind.Measure => $"Measured: {Wording.Inside(catalog.FindFinding(id)?.Name ?? id)}",
            MoveKind.Hands => id.Split(':')[0] switch
            {
                "glue" => "Joined",
                "belt" => "Belt laid",
                "plugs" => "Plugs joined",
                _ => "Screws in",
            },
            MoveKind.Open => $"Open to the {Wording.Inside(Knowledge.Layout.FindPart(id)?.Name ?? id)}",
            MoveKind.Repair => $"Put right: {Wording.Inside(catalog.FindFault(id)?.Name ?? id)}",
            MoveKind.HandOver => "Hand it over",
            MoveKind.Isolate => "Supply off and secured",
            MoveKind.Power => "Supply on",
            _ => "End it: nothing found",
        };
    }
}
