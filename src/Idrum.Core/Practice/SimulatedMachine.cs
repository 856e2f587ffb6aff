using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Practice;

/// <summary>A machine with hidden faults: it answers any check with honest noise, lets minutes and money pass, shows
/// what opening shows, and is
/// right once all that speaks is put right. Its world may differ from the model that is asked for advice.</summary>
public sealed class SimulatedMachine
{
    private const int MostTries = 2000;
    private readonly FaultModel truth;
    private readonly Random random;
    private readonly Dictionary<int, MachineDoes> doing = [];
    private readonly HashSet<int> silent = [];
    private readonly Dictionary<string, int> answers = [];

    /// <summary>Draws a machine that a customer complains of.</summary>
    /// <param name="truth">The world it is drawn from.</param>
    /// <param name="wear">Wear relative to ten years of average use.</param>
    /// <param name="random">Seeded.</param>
    public SimulatedMachine(FaultModel truth, double wear, Random random)
    {
        (this.truth, this.random, Wear) = (truth, random, wear);
        var prior = truth.Prior(wear);
        for (var tries = 0; tries < MostTries && Complaints.Count == 0; tries++)
        {
            Draw(truth.Sets[truth.SetOf[Pick(prior)]]);
        }
    }

    /// <summary>A machine with faults that are named: they speak, and a customer complains of them where they can be heard.</summary>
    /// <param name="truth">The world.</param>
    /// <param name="wear">Wear relative to ten years of average use.</param>
    /// <param name="faults">Ids of this world; a set its model knows.</param>
    /// <param name="random">Seeded.</param>
    /// <exception cref="ArgumentException">The model has no such set of faults.</exception>
    public SimulatedMachine(FaultModel truth, double wear, IReadOnlyCollection<FaultId> faults, Random random)
    {
        (this.truth, this.random, Wear) = (truth, random, wear);
        var named = truth
            .Faults.Select((f, i) => (f.Id, i))
            .Where(f => faults.Contains(f.Id))
            .Select(f => f.i)
            .ToArray();
        if (named.Length != faults.Count)
        {
            throw new ArgumentException("The model has no such faults.", nameof(faults));
        }
        for (var tries = 0; tries < MostTries && Complaints.Count == 0; tries++)
        {
            Draw(truth.Sets[truth.IndexOfSet(named)]);
        }
    }

    /// <summary>Its wear.</summary>
    public double Wear { get; }

    /// <summary>Complaint ids the customer mentioned; at least one.</summary>
    public IReadOnlyList<string> Complaints { get; private set; } = [];

    /// <summary>Minutes passed so far.</summary>
    public double Minutes { get; private set; }

    /// <summary>Money spent on parts so far, in the shop's currency.</summary>
    public double Money { get; private set; }

    /// <summary>Ids of the faults that speak still.</summary>
    public IReadOnlyList<FaultId> Speaking => [.. doing.Keys.Select(f => truth.Faults[f].Id)];

    /// <summary>Whether nothing speaks any more.</summary>
    public bool Right => doing.Count == 0;

    /// <summary>Whether a fault is there, speaking or not.</summary>
    public bool Has(FaultId faultId) =>
        truth.Faults.ToList().FindIndex(f => f.Id == faultId) is >= 0 and var f
        && (doing.ContainsKey(f) || silent.Contains(f));

    /// <summary>What it does when it is started.</summary>
    public MachineDoes Does => doing.Count == 0 ? MachineDoes.Runs : doing.Values.Max();

    /// <summary>Lets time pass and money go.</summary>
    public void Spend(double minutes, double money = 0) => (Minutes, Money) = (Minutes + minutes, Money + money);

    /// <summary>The answer to a check. Asked twice, it says the same until something was put right.</summary>
    /// <param name="findingId">The finding; must be of this machine's world.</param>
    /// <returns>Outcome id.</returns>
    public string Answer(string findingId)
    {
        var f = truth.IndexOfFinding(findingId);
        if (!answers.TryGetValue(findingId, out var outcome))
        {
            answers[findingId] = outcome = Sample(f);
        }
        return truth.Findings[f].Outcomes[outcome].Id;
    }

    /// <summary>Puts a fault right. A part that is changed takes everything of its kind that a new part cures with
    /// it.</summary>
    /// <returns>Whether anything was there to be put right.</returns>
    public bool Repair(Fault fault)
    {
        var cured = Enumerable
            .Range(0, truth.Faults.Count)
            .Where(i =>
                truth.Faults[i].Id == fault.Id
                || fault.Action == FaultAction.Replace
                    && truth.Faults[i].Action != FaultAction.Refer
                    && truth.Faults[i].Kinds.Count > 0
                    && truth.Faults[i].Kinds.All(fault.Kinds.Contains)
            )
            .ToList();
        var there = cured.Where(i => doing.ContainsKey(i) || silent.Contains(i)).Select(i => truth.Faults[i]).ToList();
        var before = Does;
        foreach (var i in cured)
        {
            doing.Remove(i);
            silent.Remove(i);
        }
        // What has nothing to do with it stays as it was: a roller that was seen sound is sound still.
        foreach (
            var id in answers
                .Keys.Where(id => there.Exists(f => Shows(truth.Findings[truth.IndexOfFinding(id)], f, Does != before)))
                .ToList()
        )
        {
            answers.Remove(id);
        }
        return there.Count > 0;
    }

    /// <summary>Whether a finding may come out otherwise once a fault is put right.</summary>
    /// <param name="finding">The finding.</param>
    /// <param name="fault">The fault.</param>
    /// <param name="doesOther">Whether the machine now does something else when it is started.</param>
    public static bool Shows(Finding finding, Fault fault, bool doesOther) =>
        finding.Links.Any(l => l.Fault == fault.Id)
        || doesOther && (finding.Tells is not null || finding.States.Count > 0);

    private void Draw(int[] speaking)
    {
        doing.Clear();
        silent.Clear();
        answers.Clear();
        foreach (var f in speaking)
        {
            var p = Enumerable
                .Range(0, 4)
                .Select(k =>
                    truth.Faults[f].Does.Where(d => truth.Layout.Holds(d.When) && (int)d.State == k).Sum(d => d.P)
                )
                .ToArray();
            p[0] = 1 - p.Sum();
            doing[f] = (MachineDoes)Pick(p);
        }
        foreach (var cluster in truth.Local)
        {
            var mask = Pick(cluster.Prior(Wear)[cluster.GroupOfSet[SetIndex()]]);
            silent.UnionWith(cluster.Wear.Where((_, i) => (mask >> i & 1) == 1));
        }
        Complaints =
        [
            .. Enumerable
                .Range(0, truth.Findings.Count)
                .Where(f => truth.Findings[f].Group == FindingGroup.Complaint)
                .Where(f =>
                    (answers[truth.Findings[f].Id] = Sample(f)) > 0 && random.NextDouble() < truth.Findings[f].Told
                )
                .Select(f => truth.Findings[f].Id),
        ];
    }

    private int SetIndex() => truth.IndexOfSet([.. doing.Keys.Order()]);

    private int Sample(int finding)
    {
        var set = SetIndex();
        if (truth.ClusterOf[finding] is >= 0 and var c)
        {
            var cluster = truth.Local[c];
            var mask = cluster.Wear.Select((w, i) => silent.Contains(w) ? 1 << i : 0).Sum();
            return Pick([
                .. truth
                    .Findings[finding]
                    .Outcomes.Select((_, o) => cluster.Likelihood(finding, o, cluster.GroupOfSet[set], mask)),
            ]);
        }
        return Pick([.. truth.Findings[finding].Outcomes.Select((_, o) => truth.LikelihoodOf(finding, o, set, Does))]);
    }

    private int Pick(double[] weights)
    {
        var at = random.NextDouble() * weights.Sum();
        for (var i = 0; i < weights.Length; i++)
        {
            at -= weights[i];
            if (at < 0)
            {
                return i;
            }
        }
        return weights.Length - 1;
    }
}
