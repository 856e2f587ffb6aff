using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>Turns prices into one next act, with the manners of the trade: what is free and in reach comes before going deeper; a part is looked
/// at before it is changed; nothing is handed over before outlet and door are proved; where no cause is worth naming, none is named.</summary>
internal sealed class Adviser(FaultModel model, Belief belief, double[] there, PricedActs acts, IReadOnlyList<PricedCheck> checks, DiagnosisRequest request)
{
    /// <summary>A check that saves less than this is not worth the walk to the machine.</summary>
    private const double WorthTheWalk = 0.5;

    /// <summary>Nor one that saves less than this share of what is to come.</summary>
    private const double WorthShare = 0.012;

    /// <summary>What moves the probability of the part in question by less than this on average tells nothing worth a minute.</summary>
    private const double Telling = 0.04;

    /// <summary>Nor what shows the part in question less often than this.</summary>
    private const double Pointing = 0.5;

    /// <summary>Another cause as likely as this is looked for too, where a check in reach shows it as plainly as that.</summary>
    private const double Plausible = 0.06;

    private const double Plainly = 0.7;

    /// <summary>What no look can tell any more is tried above these: a part that costs money, and work alone.</summary>
    private const double ReplaceUnseen = 0.35;

    private const double AdjustUnseen = 0.15;

    /// <summary>Sure enough to change a part without a further look.</summary>
    private const double Sure = 0.9;

    /// <summary>Sure enough to change a part that does not show its fault, once no check is left that could tell.</summary>
    private const double HiddenSure = 0.6;

    /// <summary>Below this no cause is worth naming.</summary>
    private const double Nameable = 0.12;

    /// <summary>A referral is named above this.</summary>
    private const double ReferSure = 0.5;

    /// <summary>What is thought through must be better by so many minutes, and by this share.</summary>
    private const double Clearly = 1;

    private const double ClearlyShare = 0.02;

    /// <summary>Sure enough to open for a part in order to change it, where one was to open in any case.</summary>
    private const double OpenedFor = 0.5;

    /// <summary>And by so many to go deeper before a check in reach.</summary>
    private const double Deeper = 4;

    private static readonly string[] ProvedFirst = ["supply", "door-hold"];

    internal (Advice Advice, Advice? RunnerUp) Advise()
    {
        var stop = Stop();
        var check = Check(stop);
        if (check is not null)
        {
            return (Of(check), stop);
        }
        var other = checks.FirstOrDefault(c => !c.Finding.Live && c.TeardownMinutes == 0 && acts.Turns[c.Finding.Id] > 0);
        return (stop, other is null ? null : Of(other));
    }

    /// <summary>Whether nothing that is thought through would turn it.</summary>
    internal bool Stands(Advice first) => Settled(first) || First(first) >= Sure || first.Kind == "refer";

    /// <summary>What thinking the job through puts before the first advice, within the manners of the trade: before checks in reach nothing is
    /// opened, nor a part changed that is not as good as certain; where the first advice opens or changes a part, another may be the better
    /// one.</summary>
    internal Advice Better(Advice first, Foreseer.Seen seen)
    {
        if (seen.Act is null || seen.Act == first.Id || seen.Instead - seen.Cost < Math.Max(Clearly, ClearlyShare * seen.Cost))
        {
            return first;
        }
        var gain = $"Thought through to the end of the job this comes out {(double.IsInfinity(seen.Instead) ? "clearly" : $"about {seen.Instead - seen.Cost:0} min")} better";
        if (!seen.IsCheck)
        {
            var fault = FaultOf(seen.Act);
            // Where the first advice changes a part unsurely, so may this; where it opens, a little surer; before a check in reach, as good as certain.
            var enough = first.Kind switch { "repair" or "bring" => model.Faults[fault].Action == "replace" ? AdjustUnseen * 2 : AdjustUnseen, "open" => OpenedFor, _ => Sure };
            return Sureness(fault) < enough ? first : Repair(fault, (kind, id, reason) => new(kind, id, seen.Cost, $"{reason} {gain} than what came first.", seen.Cost - first.ExpectedMoney / model.Catalog.Costs.RatePerHour * 60, first.ExpectedMoney));
        }
        if (checks.FirstOrDefault(c => c.Finding.Id == seen.Act) is not { } check || check.TeardownMinutes > 0 && first.Kind == "check" && Minutes(first) is { } near && seen.Instead - seen.Cost < Deeper + near)
        {
            return first;
        }
        return Of(check) with
        {
            ExpectedCost = seen.Cost,
            Reason = $"Takes {check.Minutes:0.#} min{(check.TeardownMinutes > 0 ? $" and {check.TeardownMinutes:0} min to open and close" : "")}. {gain}: what it tells decides what is looked at after it.",
        };
    }

    private double? Minutes(Advice check) => checks.FirstOrDefault(c => c.Finding.Id == check.Id)?.Minutes;

    /// <summary>The check that comes first, or null where it is time to act.</summary>
    private PricedCheck? Check(Advice stop)
    {
        var near = checks.Where(c => c.TeardownMinutes == 0 && !c.Finding.Live).ToList();
        // Outlet and door before anybody is called for them, or any part is bought for a dead machine.
        if (stop.Kind is "refer" or "nothing-found" or "repair" or "bring" or "open" && belief.Does()[(int)MachineDoes.Dead] > 0.5 && stop.Id != "belt-broken" && First(stop) < Sure
            && near.Find(c => ProvedFirst.Contains(c.Finding.Id)) is { } first)
        {
            return ProvedFirst.Select(id => near.Find(c => c.Finding.Id == id)).OfType<PricedCheck>().FirstOrDefault() ?? first;
        }
        // What was seen to be gone is put right.
        if (Settled(stop))
        {
            return null;
        }
        var worth = acts.Stop.Cost - Math.Max(WorthTheWalk, WorthShare * acts.Stop.Cost);
        var saving = near.Where(c => c.ExpectedCost < worth && acts.Turns[c.Finding.Id] > 0.005).MinBy(c => c.ExpectedCost);
        if (saving is not null)
        {
            // Of checks that save about the same, what is seen before what is told, and the quickest.
            return near.Where(c => c.ExpectedCost < Math.Min(worth, saving.ExpectedCost + 0.4) && acts.Turns[c.Finding.Id] > 0.005)
                .OrderBy(c => c.Finding.Group == "history").ThenBy(c => c.Finding.Minutes).ThenBy(c => c.ExpectedCost).FirstOrDefault(saving);
        }
        // Before a machine is opened or a part changed on less than certainty: what sees that part from outside, and what may turn the plan for nothing.
        if (First(stop) >= Sure)
        {
            return null;
        }
        var target = stop.Kind == "open" ? acts.Stop.First >= 0 ? Named(acts.Stop.First) : -1 : FaultOf(stop.Id);
        return near.Where(c => c.Minutes <= 3 && c.Finding.Group != "history" && c.ExpectedCost < acts.Stop.Cost + 3)
            .Select(c => (Check: c, Shows: Shows(c.Finding, target))).Where(c => c.Shows > 0).OrderByDescending(c => c.Shows).ThenBy(c => c.Check.ExpectedCost).Select(c => c.Check).FirstOrDefault();
    }

    /// <summary>How well a check in reach shows the part in question, or another likely cause that would make going there needless; 0 where not.</summary>
    private double Shows(Finding finding, int target)
    {
        var shows = target >= 0 && Points(finding, target) >= Pointing && acts.Informs(finding, target) >= Telling ? Points(finding, target) : 0;
        for (var f = 0; f < there.Length; f++)
        {
            if (f != target && there[f] >= Plausible && Points(finding, f) >= Plainly && acts.Informs(finding, f) >= Telling)
            {
                shows = Math.Max(shows, Points(finding, f) * there[f]);
            }
        }
        return shows;
    }

    /// <summary>How surely a fault shows in a check.</summary>
    private double Points(Finding finding, int fault) => finding.Links.Where(l => l.Fault == model.Faults[fault].Id && model.Layout.Holds(l.When)).Sum(l => l.P.Sum());

    /// <summary>Whether a look has settled what is to be done.</summary>
    private bool Settled(Advice stop) => stop.Kind is "repair" or "bring" && FaultOf(stop.Id) is >= 0 and var f && Seen(f);

    private double First(Advice stop) => stop.Kind is "repair" or "bring" or "refer" && FaultOf(stop.Id) is >= 0 and var f ? Sureness(f) : 0;

    /// <summary>Probability that the same work on the same part puts it right.</summary>
    private double Sureness(int fault) => Math.Min(1, Enumerable.Range(0, there.Length).Where(i => i == fault || model.Faults[i] is { Action: "replace" } && model.Faults[fault].Action == "replace" && model.Faults[i].Kinds.SequenceEqual(model.Faults[fault].Kinds)).Sum(i => there[i]));

    private int FaultOf(string id) => model.Faults.ToList().FindIndex(f => f.Id == id);

    /// <summary>What would be done if nothing more were checked in reach.</summary>
    private Advice Stop()
    {
        var choice = acts.Stop;
        var minutes = choice.Cost - choice.Money / model.Catalog.Costs.RatePerHour * 60;
        Advice Make(string kind, string id, string reason) => new(kind, id, choice.Cost, reason, minutes, choice.Money);
        // What is not drum-drive work: named once outlet and door are proved, and nothing else is likely that a look could still show.
        var outside = Enumerable.Range(0, there.Length).Where(i => model.Faults[i].Action == "refer").OrderByDescending(i => there[i]).ToList();
        if (outside.Count > 0 && (outside.Sum(i => there[i]) >= ReferSure || choice.First >= 0 && model.Faults[choice.First].Action == "refer"))
        {
            var inside = Enumerable.Range(0, there.Length).Where(i => model.Faults[i].Action != "refer").OrderByDescending(i => there[i]).FirstOrDefault(i => Look(i) is { } look && there[i] * model.Catalog.Costs.ReferMinutes > 1.5 * (look.TeardownMinutes + look.Minutes), -1);
            var going = inside >= 0 && there[outside[0]] < Sure ? Going(inside, Make) : null;
            return going is { Kind: not "nothing-found" } ? going
                : outside.Sum(i => there[i]) >= ReferSure && Proved() ? Make("refer", model.Faults[outside[0]].Id, $"{model.Faults[outside[0]].Name}: outside drum-drive work. Outlet and door were proved; hand it over with what is known.")
                : NothingFound(Make);
        }
        return choice.First < 0 || there.Max() < Nameable ? NothingFound(Make) : Going(choice.First, Make);
    }

    /// <summary>Going for a cause: what was seen is put right, what can be looked at is looked at, what cannot is tried where that is worth it.</summary>
    private Advice Going(int first, Func<string, string, string, Advice> make)
    {
        List<int> near = [first, .. Enumerable.Range(0, there.Length).Where(i => i != first && acts.Now.Sees[first][i])];
        near.Sort((a, b) => there[b].CompareTo(there[a]));
        var sure = near.FindIndex(f => Seen(f) || Sureness(f) >= Sure || model.Faults[f].Hidden && there[f] >= HiddenSure && !Tellable(f));
        if (sure >= 0)
        {
            return Repair(near[sure], make);
        }
        var shows = near.FindIndex(f => there[f] >= Plausible / 2 && Look(f) is not null);
        if (shows >= 0)
        {
            var (fault, look) = (near[shows], Look(near[shows])!);
            if (look.TeardownMinutes == 0)
            {
                // In reach already: it is looked at, not opened for.
                return Of(look);
            }
            // The one that lies deepest: there all of its kind are in reach.
            var part = model.Layout.PartsOfKind(look.Finding.At).MaxBy(acts.MinutesToSee)!;
            return make("open", part.Id, $"Nothing in reach tells more. {look.TeardownMinutes:0} min to open and close; then one sees whether it is “{Lower(model.Faults[fault].Name)}” ({Share(there[fault])}), and all else in reach there.");
        }
        // No look tells any more: the likeliest of what is worth trying, in reach here or not.
        var left = near.Concat(Enumerable.Range(0, there.Length).Where(f => model.Faults[f].Action != "refer" && Look(f) is null).OrderByDescending(f => there[f]))
            .FirstOrDefault(f => there[f] >= (model.Faults[f].Action == "replace" ? ReplaceUnseen : AdjustUnseen), -1);
        return left >= 0 ? Repair(left, make) : NothingFound(make);
    }

    private Advice Repair(int fault, Func<string, string, string, Advice> make)
    {
        var f = model.Faults[fault];
        return Lacks(f) ? make("bring", f.Id, $"{f.Name}: {Share(Sureness(fault))}. The part is not here: take it along, with what wears beside it.")
            : make("repair", f.Id, $"{f.Name}: {Share(Sureness(fault))}. {(acts.Now.Opening[fault] > 0 ? $"{acts.Now.Opening[fault]:0} min to open and close from here." : "It can be done from here.")}");
    }

    /// <summary>A look that would show a fault and was not had yet: the nearest.</summary>
    private PricedCheck? Look(int fault) => checks.Where(c => !c.Finding.Live && c.Finding.At.Count > 0 && Points(c.Finding, fault) >= 0.5).OrderBy(c => c.TeardownMinutes).ThenByDescending(c => Points(c.Finding, fault)).FirstOrDefault();

    private Advice NothingFound(Func<string, string, string, Advice> make)
    {
        var open = checks.FirstOrDefault(c => !c.Finding.Live && c.TeardownMinutes == 0 && acts.Turns[c.Finding.Id] > 0.01 && c.ExpectedCost < acts.Stop.Cost + 2);
        return open is not null ? Of(open) : make("nothing-found", "unknown", "No cause explains what was found well enough to name it. Write down what was ruled out, and hand it over with that.");
    }

    /// <summary>Named is the likeliest of what one then sees: opened for a baffle, one looks at the rollers first.</summary>
    private int Named(int first)
    {
        var sees = acts.Now.Sees[first];
        for (var i = 0; i < there.Length; i++)
        {
            first = sees[i] && there[i] > there[first] ? i : first;
        }
        return first;
    }

    /// <summary>Whether a look at its own part found it.</summary>
    private bool Seen(int fault) => Sureness(fault) > 0.6 && belief.Known.Any(k => k.Outcome > 0 && model.Findings[k.Finding] is { Group: "inside" or "outside" } finding
        && finding.SeesKinds.Intersect(model.Faults[fault].Kinds).Any() && finding.Links.Any(l => l.Fault == model.Faults[fault].Id && l.P[k.Outcome - 1] >= 0.5));

    /// <summary>Whether a check without live parts could still tell a hidden fault.</summary>
    private bool Tellable(int fault) => checks.Any(c => !c.Finding.Live && c.Finding.At.Count > 0 && c.Finding.Links.Any(l => l.Fault == model.Faults[fault].Id && l.P.Sum() >= 0.5));

    private bool Proved() => ProvedFirst.All(id => model.IndexOfFinding(id) < 0 || belief.Known.Any(k => model.Findings[k.Finding].Id == id));

    private bool Lacks(Fault fault) => fault.Action == "replace" && request.AtHand is { } here && model.Layout.PartsOfKind(fault.Kinds).Where(p => p.Wears).Any(p => !here.Contains(p.Id) && !request.Fitted.Contains(p.Id));

    private Advice Of(PricedCheck check)
    {
        var saves = acts.Stop.Cost - check.ExpectedCost;
        var turn = check.Tells.Count > 1 ? $"it tells whether “{Lower(check.Tells[0])}” or “{Lower(check.Tells[1])}” comes first"
            : $"it makes “{Lower(check.Tells.Count > 0 ? check.Tells[0] : "the cause")}” surer or rules it out";
        var open = check.TeardownMinutes > 0 ? $" and {check.TeardownMinutes:0} min to open and close" : "";
        return new("check", check.Finding.Id, check.ExpectedCost, saves > 0.5
            ? $"Takes {check.Minutes:0.#} min{open}, saves about {saves:0} min: {turn}."
            : $"Takes {check.Minutes:0.#} min{open}: {turn}.", check.ExpectedCost - acts.Stop.Money / model.Catalog.Costs.RatePerHour * 60, acts.Stop.Money);
    }

    private static string Share(double p) => p >= 0.95 ? "as good as certain" : $"so in {Math.Max(1, Math.Round(10 * p)):0} of 10 such machines";

    private static string Lower(string s) => s.Length > 1 && char.IsLower(s[1]) ? char.ToLowerInvariant(s[0]) + s[1..] : s;
}
