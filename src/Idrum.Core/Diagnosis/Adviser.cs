using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Diagnosis;

/// <summary>Turns prices into one next act, with the manners of the trade: what is done first is done first; what is
/// free and in reach comes before going
/// deeper; a part is changed once it was looked at itself; nothing is handed over before outlet and door are proved;
/// once all suspects were seen good
/// it ends, and where no cause is worth naming, none is named.</summary>
/// <param name="model">The machine's model.</param>
/// <param name="belief">What is believed.</param>
/// <param name="speaks">Probability that each fault speaks, those put right left out: what is worn beside it is no
/// reason to go there.</param>
/// <param name="shown">Probability of each fault as it stands in the list of causes.</param>
/// <param name="acts">What each act costs.</param>
/// <param name="checks">The checks, priced.</param>
/// <param name="request">What is known.</param>
/// <param name="suspects">What the complaint makes one look for.</param>
internal sealed class Adviser(
    FaultModel model,
    Belief belief,
    double[] speaks,
    double[] shown,
    PricedActs acts,
    IReadOnlyList<PricedCheck> checks,
    DiagnosisRequest request,
    Suspects suspects
)
{
    private static readonly string[] ProvedFirst = ["supply", "door-hold"];

    private readonly AdviceConstants limits = AdviceConstants.Usual;
    private readonly IReadOnlyDictionary<string, string> told = request.Told;
    private readonly List<PricedCheck> near = [.. checks.Where(c => c.TeardownMinutes == 0 && !c.Finding.Live)];

    internal (Advice Advice, Advice? RunnerUp) Advise()
    {
        var stop = Stop();
        if (First(stop) is { } first)
        {
            return (first, stop);
        }
        if (Check(stop) is { } check)
        {
            return (Of(check), stop);
        }
        var other = near.Find(c => acts.Turns[c.Finding.Id] > 0);
        return (stop, other is null ? null : Of(other));
    }

    /// <summary>Whether nothing that is thought through would turn it.</summary>
    internal bool Stands(Advice advice) =>
        First(Stop()) is not null
        || Settled(advice)
        || Sureness(advice) >= limits.Sure
        || advice.Kind is AdviceKind.Refer or AdviceKind.NothingFound;

    /// <summary>What thinking the job through puts before the first advice, within the manners of the trade: before
    /// checks in reach nothing is
    /// opened, and no part is changed that was not looked at; where the first advice opens or changes a part, another
    /// may be the better one.</summary>
    internal Advice Better(Advice first, Foreseer.Seen seen)
    {
        if (
            seen.Act is null
            || seen.Act == first.Id
            || seen.Instead - seen.Cost < Math.Max(limits.ClearlyMinutes, limits.ClearlyShare * seen.Cost)
        )
        {
            return first;
        }
        var gain =
            $"Thought through to the end of the job this comes out {(double.IsInfinity(seen.Instead) ? "clearly" : $"about {seen.Instead - seen.Cost:0} min")} better";
        if (!seen.IsCheck)
        {
            var fault = FaultOf(seen.Act);
            return
                MayChange(fault)
                && (
                    first.Kind is AdviceKind.Repair or AdviceKind.Bring or AdviceKind.Open
                    || speaks[fault] >= limits.Sure
                )
                ? Repair(fault, (kind, id, reason) =>
                    new(
                        kind,
                        id,
                        seen.Cost,
                        $"{reason} {gain} than what came first.",
                        seen.Cost - first.ExpectedMoney / model.Catalog.Costs.RatePerHour * 60,
                        first.ExpectedMoney
                    )
                )
                : first;
        }
        if (
            checks.FirstOrDefault(c => c.Finding.Id == seen.Act) is not { } check
            || check.TeardownMinutes > 0
                && (
                    FreeLook() is not null
                    || first.Kind == AdviceKind.Check
                        && seen.Instead - seen.Cost < limits.Deeper + near.Find(c => c.Finding.Id == first.Id)?.Minutes
                )
        )
        {
            return first;
        }
        return Of(check) with
        {
            ExpectedCost = seen.Cost,
            Reason =
                $"Takes {check.Minutes:0.#} min{(check.TeardownMinutes > 0 ? $" and {check.TeardownMinutes:0} min to open and close" : "")}. {gain}: what it tells decides what is looked at after it.",
        };
    }

    /// <summary>What is done before anything else: what was seen to be so is acted on, what the trade does first is
    /// done first, and one knows what the machine
    /// does.</summary>
    private Advice? First(Advice stop)
    {
        if (Known("supply") == "dead")
        {
            return null;
        }
        if (Settled(stop))
        {
            return null;
        }
        foreach (var move in model.Catalog.Moves.Where(m => m.Hold(told)))
        {
            if (
                move.Checks.Select(id => near.Find(c => c.Finding.Id == id)).FirstOrDefault(c => c is not null) is
                { } check
            )
            {
                return Of(check) with
                {
                    Reason =
                        $"{move.Why} {Takes(check)}{(check.Tells.Count > 0 ? $": it shows whether “{Wording.Inside(check.Tells[0])}”" : "")}.",
                };
            }
        }
        return
            KnownFindings.Stopped(model, told) is null
            && belief.Does().Max() < limits.StateKnown
            && near.Find(c => c.Finding.Id == "start-listen") is { } start
            ? Of(start) with
            {
                Reason = $"Before anything else: what does it do? {Takes(start)}.",
            }
            : null;
    }

    /// <summary>The check that comes first, or null where it is time to act.</summary>
    private PricedCheck? Check(Advice stop)
    {
        if (Known("supply") == "dead" || Settled(stop) || stop.Kind == AdviceKind.NothingFound && Done())
        {
            return null;
        }
        // Outlet and door before anybody is called for them, or any part is bought for a dead machine.
        if (
            stop.Kind
                is AdviceKind.Refer
                    or AdviceKind.NothingFound
                    or AdviceKind.Repair
                    or AdviceKind.Bring
                    or AdviceKind.Open
            && belief.Does()[(int)MachineDoes.Dead] > 0.5
            && stop.Id != "belt-broken"
            && ProvedFirst.Select(id => near.Find(c => c.Finding.Id == id)).OfType<PricedCheck>().FirstOrDefault()
                is { } first
        )
        {
            return first;
        }
        var worth = acts.Stop.Cost - Worth();
        var saving = near.Where(c => c.ExpectedCost < worth && acts.Turns[c.Finding.Id] > 0.005)
            .MinBy(c => c.ExpectedCost);
        if (saving is not null)
        {
            // Of checks that save about the same, what is seen before what is told, and the quickest.
            return near.Where(c =>
                    c.ExpectedCost < Math.Min(worth, saving.ExpectedCost + limits.AsGood)
                    && acts.Turns[c.Finding.Id] > 0.005
                )
                .OrderBy(c => c.Finding.Group == FindingGroup.History)
                .ThenBy(c => c.Finding.Minutes)
                .ThenBy(c => c.ExpectedCost)
                .FirstOrDefault(saving);
        }
        // Before a machine is opened or a part changed: what shows the likeliest cause from here, then what sees the
        // part in question or another likely one.
        if (FreeLook() is { } free)
        {
            return free;
        }
        if (Sureness(stop) >= limits.Sure)
        {
            return null;
        }
        var target =
            stop.Kind == AdviceKind.Open
                ? acts.Stop.First >= 0
                    ? Named(acts.Stop.First)
                    : -1
                : FaultOf(stop.Id);
        return near.Where(c =>
                c.Minutes <= limits.Quick
                && c.Finding.Group != FindingGroup.History
                && c.ExpectedCost < acts.Stop.Cost + limits.Quick
            )
            .Select(c => (Check: c, Shows: Shows(c.Finding, target)))
            .Where(c => c.Shows > 0)
            .OrderByDescending(c => c.Shows)
            .ThenBy(c => c.Check.ExpectedCost)
            .Select(c => c.Check)
            .FirstOrDefault();
    }

    /// <summary>What a check must save, minutes: little at first, more with every one made in vain, so that it
    /// ends.</summary>
    private double Worth()
    {
        var made =
            belief.Known.Count(k =>
                model.Findings[k.Finding].Group is not (FindingGroup.Complaint or FindingGroup.Before)
            ) + belief.Graded.Count;
        var patience = 1 + Math.Max(0, made - limits.Patient) / limits.Patience;
        return Math.Max(limits.WorthMinutes * patience * patience, limits.WorthShare * acts.Stop.Cost);
    }

    /// <summary>A quick check from here that shows the likeliest cause plainly and was not made.</summary>
    private PricedCheck? FreeLook()
    {
        var likeliest = Array.IndexOf(speaks, speaks.Max());
        return suspects.SeenBad(likeliest)
            ? null
            : near.Where(c =>
                    c.Minutes <= limits.Quick
                    && c.Finding.Group is FindingGroup.Outside or FindingGroup.Inside
                    && suspects.Points(c.Finding, likeliest) >= limits.Pointing
                )
                .OrderByDescending(c => suspects.Points(c.Finding, likeliest))
                .ThenBy(c => c.Minutes)
                .FirstOrDefault();
    }

    /// <summary>How well a check in reach shows the part in question, or another likely cause that would make going
    /// there needless; 0 where not.</summary>
    private double Shows(Finding finding, int target)
    {
        var shows =
            target >= 0
            && suspects.Points(finding, target) >= limits.Pointing
            && acts.Informs(finding, target) >= limits.Telling
                ? suspects.Points(finding, target)
                : 0;
        for (var f = 0; f < speaks.Length; f++)
        {
            if (
                f != target
                && speaks[f] >= limits.Plausible
                && suspects.Points(finding, f) >= limits.Plainly
                && acts.Informs(finding, f) >= limits.Telling
            )
            {
                shows = Math.Max(shows, suspects.Points(finding, f) * speaks[f]);
            }
        }
        return shows;
    }

    /// <summary>Whether a look has settled what is to be done.</summary>
    private bool Settled(Advice stop) =>
        stop.Kind is AdviceKind.Repair or AdviceKind.Bring && FaultOf(stop.Id) is >= 0 and var f && MayChange(f);

    /// <summary>Whether a fault may be put right on what is known: its part was looked at itself, or a sign that sees
    /// it is as good as certain; a hidden one by its
    /// own measurement, or as a stated suspicion once every other was seen good.</summary>
    private bool MayChange(int fault)
    {
        var f = model.Faults[fault];
        if (suspects.SeenBad(fault))
        {
            return Work(fault) >= limits.SeenEnough;
        }
        if (Spared(f))
        {
            return false;
        }
        if (f.Hidden)
        {
            return speaks[fault] >= limits.HiddenSure && !Tellable(fault) && Others(fault).All(suspects.SeenGood);
        }
        return suspects.SignOf(fault)
            && (
                Work(fault) >= limits.Sure
                || f.Action != FaultAction.Replace && f.FromOutside && speaks[fault] >= limits.SeenEnough
            );
    }

    /// <summary>Whether the trade looks at something in reach before a fault is put right: cloth in the blower before the
    /// motor.</summary>
    private bool Spared(Fault fault) =>
        model.Catalog.Moves.Any(m =>
            m.Spares.Contains(fault.Id.Value) && m.Hold(told) && m.Checks.Any(c => near.Exists(n => n.Finding.Id == c))
        );

    /// <summary>Probability that the same work on the same part puts it right.</summary>
    private double Work(int fault) =>
        Math.Min(
            1,
            Enumerable
                .Range(0, speaks.Length)
                .Where(i =>
                    i == fault
                    || model.Faults[i].Action == FaultAction.Replace
                        && model.Faults[fault].Action == FaultAction.Replace
                        && model.Faults[i].Kinds.SequenceEqual(model.Faults[fault].Kinds)
                )
                .Sum(i => speaks[i])
        );

    /// <summary>Other causes that are still likely and could have been looked at.</summary>
    private IEnumerable<int> Others(int fault) =>
        Enumerable
            .Range(0, speaks.Length)
            .Where(i =>
                i != fault
                && speaks[i] >= limits.Plausible
                && model.Faults[i] is { Hidden: false, Action: not FaultAction.Refer }
            );

    private double Sureness(Advice advice) =>
        advice.Kind is AdviceKind.Repair or AdviceKind.Bring or AdviceKind.Refer && FaultOf(advice.Id) is >= 0 and var f
            ? speaks[f]
            : 0;

    private int FaultOf(string id) => model.Faults.ToList().FindIndex(f => f.Id == id);

    private string? Known(string findingId) => told.GetValueOrDefault(findingId);

    /// <summary>What would be done if nothing more were checked in reach.</summary>
    private Advice Stop()
    {
        var choice = acts.Stop;
        var minutes = choice.Cost - choice.Money / model.Catalog.Costs.RatePerHour * 60;
        Advice Make(AdviceKind kind, string id, string reason) =>
            new(kind, id, choice.Cost, reason, minutes, choice.Money);
        if (Known("supply") == "dead" && FaultOf("no-supply") >= 0)
        {
            return Make(
                AdviceKind.Refer,
                "no-supply",
                "The outlet is dead or lacks a leg: an electrician’s work. Nothing in the machine is opened for it."
            );
        }
        var outside = Enumerable
            .Range(0, speaks.Length)
            .Where(i => model.Faults[i].Action == FaultAction.Refer)
            .OrderByDescending(i => speaks[i])
            .ToList();
        if (Done())
        {
            return outside.Count > 0 && speaks[outside[0]] >= limits.ReferAfter && Proved()
                ? HandOver(outside[0], Make)
                : NothingFound(Make);
        }
        // What is not drum-drive work: named once outlet and door are proved, and nothing else is likely that a look
        // could still show.
        if (
            outside.Count > 0
            && (
                outside.Sum(i => speaks[i]) >= limits.ReferSure
                || choice.First >= 0 && model.Faults[choice.First].Action == FaultAction.Refer
            )
        )
        {
            // What is this trade's and still likely comes before the machine is handed over: it may be there beside
            // what is not.
            var inside = Enumerable
                .Range(0, speaks.Length)
                .Where(i => model.Faults[i].Action != FaultAction.Refer)
                .OrderByDescending(i => speaks[i])
                .FirstOrDefault(
                    i =>
                        Look(i) is not null
                            ? speaks[i] >= limits.Plausible && Pays(i) > limits.Pays
                            : speaks[i] > speaks[outside[0]]
                                && speaks[i] * model.Catalog.Costs.ReferMinutes > acts.Now.Minutes[i],
                    -1
                );
            var going =
                inside >= 0 && (speaks[outside[0]] < limits.Sure || speaks[inside] >= limits.Nameable)
                    ? Going(inside, Make)
                    : null;
            return going is { Kind: not AdviceKind.NothingFound } ? going
                : outside.Sum(i => speaks[i]) >= limits.ReferSure && Proved() ? HandOver(outside[0], Make)
                : NothingFound(Make);
        }
        var gone = choice.First >= 0 && speaks.Max() >= limits.Nameable ? Going(choice.First, Make) : null;
        // Where going for the cheapest leads nowhere, what pays best to look at is gone for.
        return gone is { Kind: not AdviceKind.NothingFound } ? gone
            : Unlooked() is >= 0 and var left ? Going(left, Make)
            : gone ?? NothingFound(Make);
    }

    /// <summary>The suspect not looked at yet whose look pays best against handing the machine over; -1 where none
    /// does.</summary>
    private int Unlooked() =>
        suspects
            .All.Where(f => !suspects.SeenGood(f) && speaks[f] >= limits.Plausible / 2)
            .Select(f => (Fault: f, Pays: Pays(f)))
            .Where(f => f.Pays > limits.Pays)
            .OrderByDescending(f => f.Pays)
            .Select(f => f.Fault)
            .FirstOrDefault(-1);

    /// <summary>How often going to look at a fault, and at all that is seen there, pays what handing the machine over
    /// wrongly would cost; 0 where there is no look.</summary>
    private double Pays(int fault) =>
        Look(fault) is not { } look
            ? 0
            : Enumerable
                .Range(0, speaks.Length)
                .Where(g => g == fault || look.TeardownMinutes > 0 && acts.Now.Sees[fault][g] && Look(g) is not null)
                .Sum(g => speaks[g])
                * model.Catalog.Costs.ReferMinutes
                / (look.TeardownMinutes + look.Minutes);

    /// <summary>Whether all that the complaint points to was seen good, and nothing else is likely either.</summary>
    private bool Done() =>
        suspects.All.Any()
        && Enumerable
            .Range(0, speaks.Length)
            .Where(f => model.Faults[f].Action != FaultAction.Refer)
            .All(f => speaks[f] < limits.Nameable)
        && suspects.All.All(f =>
            suspects.SeenGood(f) || speaks[f] < limits.Plausible && Look(f) is null || speaks[f] < limits.Forgotten
        );

    /// <summary>What was seen bad and may be the cause too is put right before the machine is handed over for
    /// another.</summary>
    private Advice HandOver(int outside, Func<AdviceKind, string, string, Advice> make) =>
        Tried() is >= 0 and var f && suspects.SeenBad(f) ? Repair(f, make) : Refer(outside, make);

    private Advice Refer(int fault, Func<AdviceKind, string, string, Advice> make)
    {
        var proved = belief.Does()[(int)MachineDoes.Dead] > 0.5 ? " Outlet and door were proved." : "";
        return make(
            AdviceKind.Refer,
            model.Faults[fault].Id,
            $"{model.Faults[fault].Name}: outside drum-drive work.{proved}{Excluded()} Hand it over with what is known."
        );
    }

    /// <summary>What was seen good, with what a look misses.</summary>
    private string Excluded()
    {
        var good = suspects
            .All.Where(suspects.SeenGood)
            .Select(f => $"{Wording.Inside(model.Faults[f].Name)} (a look misses {OneIn(suspects.Missed(f))})")
            .Take(4)
            .ToList();
        return good.Count == 0 ? "" : $" Seen good: {string.Join(", ", good)}.";
    }

    private static string OneIn(double p) => p <= 0.005 ? "hardly any" : $"one in {Math.Round(1 / p):0}";

    /// <summary>Going for a cause: what was seen is put right, what can be looked at is looked at, what cannot is tried
    /// where that is worth it.</summary>
    private Advice Going(int first, Func<AdviceKind, string, string, Advice> make)
    {
        List<int> sees =
        [
            first,
            .. Enumerable.Range(0, speaks.Length).Where(i => i != first && acts.Now.Sees[first][i]),
        ];
        sees.Sort((a, b) => speaks[b].CompareTo(speaks[a]));
        // What was found anywhere is put right before anything else is opened.
        var sure = sees.Concat(Enumerable.Range(0, speaks.Length).OrderByDescending(f => speaks[f]))
            .FirstOrDefault(MayChange, -1);
        if (sure >= 0)
        {
            return Repair(sure, make);
        }
        var shows = sees.FindIndex(f => speaks[f] >= limits.Plausible / 2 && Look(f) is not null);
        if (shows >= 0)
        {
            var (fault, look) = (sees[shows], Look(sees[shows])!);
            if (look.TeardownMinutes == 0)
            {
                // In reach already: it is looked at, not opened for.
                return Of(look);
            }
            // The one that lies deepest: there all of its kind are in reach.
            var part = model.Layout.PartsOfKind(look.Finding.At).MaxBy(acts.MinutesToSee)!;
            var more = near.Exists(c => acts.Turns[c.Finding.Id] > 0.02) ? "" : "Nothing in reach tells more. ";
            return make(
                AdviceKind.Open,
                part.Id,
                $"{more}{look.TeardownMinutes:0} min to open and close; then one sees whether it is “{Wording.Inside(model.Faults[fault].Name)}” ({Share(shown[fault])}), and all else in reach there."
            );
        }
        // No look tells any more: the likeliest of what is worth trying, in reach here or not.
        var left = sees.Concat(
                Enumerable
                    .Range(0, speaks.Length)
                    .Where(f => model.Faults[f].Action != FaultAction.Refer && Look(f) is null)
                    .OrderByDescending(f => speaks[f])
            )
            .FirstOrDefault(Suspected, -1);
        return left >= 0 ? Repair(left, make) : NothingFound(make);
    }

    private Advice Repair(int fault, Func<AdviceKind, string, string, Advice> make)
    {
        var f = model.Faults[fault];
        var how =
            suspects.SeenBad(fault) ? "It was seen."
            : f.Hidden ? "A suspicion: no look tells it."
            : Share(shown[fault]) + ".";
        return Lacks(f)
            ? make(
                AdviceKind.Bring,
                f.Id,
                $"{f.Name}: {how} The part is not here: take it along, with what wears beside it."
            )
            : make(
                AdviceKind.Repair,
                f.Id,
                $"{f.Name}: {how} {(acts.Now.Opening[fault] > 0 ? $"{acts.Now.Opening[fault]:0} min to open and close from here." : "It can be done from here.")}"
            );
    }

    /// <summary>A look that would show a fault and was not had yet: the nearest.</summary>
    private PricedCheck? Look(int fault) =>
        checks
            .Where(c =>
                !c.Finding.Live && suspects.IsLook(c.Finding, fault) && suspects.Points(c.Finding, fault) >= 0.5
            )
            .OrderBy(c => c.TeardownMinutes)
            .ThenByDescending(c => suspects.Points(c.Finding, fault))
            .FirstOrDefault();

    private Advice NothingFound(Func<AdviceKind, string, string, Advice> make)
    {
        var open = Done()
            ? null
            : near.Find(c =>
                acts.Turns[c.Finding.Id] > 0.01 && c.ExpectedCost < acts.Stop.Cost + 2 - Worth() + limits.WorthMinutes
            );
        return open is not null ? Of(open)
            : Tried() is >= 0 and var f ? Repair(f, make)
            : make(
                AdviceKind.NothingFound,
                "unknown",
                $"No cause explains what was found well enough to name it.{Excluded()} Write down what was ruled out, and hand it over with that."
            );
    }

    /// <summary>What is tried before the machine is handed over, dearer than trying: what was seen bad though it may
    /// not be the cause, then what is still
    /// suspected; -1 where nothing is.</summary>
    private int Tried()
    {
        var worth = Enumerable
            .Range(0, speaks.Length)
            .Where(f =>
                model.Faults[f].Action != FaultAction.Refer
                && speaks[f] * model.Catalog.Costs.ReferMinutes > acts.Now.Minutes[f]
            )
            .OrderByDescending(f => speaks[f])
            .ToList();
        return worth.Concat([-1]).First(f => f < 0 || suspects.SeenBad(f) || Suspected(f));
    }

    /// <summary>Whether a fault that no look can tell any more is likely enough to be tried: work alone sooner than a
    /// part, a part that was seen good or shows nothing
    /// only with every other seen good that it pays to look at.</summary>
    private bool Suspected(int fault) =>
        Look(fault) is null
        && (
            model.Faults[fault] is var f && f.Action != FaultAction.Replace ? speaks[fault] >= limits.AdjustUnseen
            : f.Hidden || suspects.SeenGood(fault)
                ? speaks[fault] >= limits.HiddenSure
                    && !Tellable(fault)
                    && Others(fault).All(o => suspects.SeenGood(o) || Pays(o) < limits.Pays)
            : speaks[fault] >= limits.ReplaceUnseen
        );

    /// <summary>Named is the likeliest of what one then sees: opened for a baffle, one looks at the rollers
    /// first.</summary>
    private int Named(int first)
    {
        var sees = acts.Now.Sees[first];
        for (var i = 0; i < speaks.Length; i++)
        {
            first = sees[i] && speaks[i] > speaks[first] ? i : first;
        }
        return first;
    }

    /// <summary>Whether a check without live parts could still tell a hidden fault.</summary>
    private bool Tellable(int fault) =>
        checks.Any(c => !c.Finding.Live && c.Finding.At.Count > 0 && suspects.Points(c.Finding, fault) >= 0.5);

    /// <summary>Whether a dead machine's outlet and door were found good.</summary>
    private bool Proved() =>
        belief.Does()[(int)MachineDoes.Dead] <= 0.5
        || ProvedFirst.All(id =>
            model.IndexOfFinding(id) is var f
            && (f < 0 || Known(id) is { } said && model.Findings[f].IndexOf(said) == 0)
        );

    private bool Lacks(Fault fault) =>
        fault.Action == FaultAction.Replace
        && request.AtHand is { } here
        && model
            .Layout.PartsOfKind(fault.Kinds)
            .Where(p => p.Wears)
            .Any(p => !here.Contains(p.Id) && !request.Fitted.Contains(p.Id));

    private static string Takes(PricedCheck check) =>
        $"Takes {check.Minutes:0.#} min{(check.TeardownMinutes > 0 ? $" and {check.TeardownMinutes:0} min to open and close" : "")}";

    private Advice Of(PricedCheck check)
    {
        var saves = acts.Stop.Cost - check.ExpectedCost;
        var shows =
            check.Tells.Count > 1
                ? $": it shows whether “{Wording.Inside(check.Tells[0])}” or “{Wording.Inside(check.Tells[1])}”"
            : check.Tells.Count > 0 ? $": it shows whether “{Wording.Inside(check.Tells[0])}”"
            : "";
        return new(
            AdviceKind.Check,
            check.Finding.Id,
            check.ExpectedCost,
            $"{Takes(check)}{(saves > 0.5 ? $", saves about {saves:0} min" : "")}{shows}.",
            check.ExpectedCost - acts.Stop.Money / model.Catalog.Costs.RatePerHour * 60,
            acts.Stop.Money
        );
    }

    private static string Share(double p) =>
        p >= 0.95 ? "as good as certain" : $"so in {Math.Max(1, Math.Round(10 * p)):0} of 10 such machines";
}
