using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>The posterior against an enumeration written here from the words of docs/models.md alone: every set of up
/// to three faults that speak,
/// every state of the machine, every subset of the wear that may be silent, multiplied out. No shared code.</summary>
public class PosteriorTests
{
    private static readonly MachineDoes[] States =
    [
        MachineDoes.Runs,
        MachineDoes.Stands,
        MachineDoes.Hums,
        MachineDoes.Dead,
    ];

    /// <summary>A small catalogue on the parts of a shipped machine: acute faults and wear, states, companions, soft
    /// complaints, looks at a part.</summary>
    private static DiagnosisCatalog RandomCatalog(Random random)
    {
        string[] kinds = ["belt", "idler-pulley", "drum-roller"];
        var n = random.Next(4, 7);
        double P(double most) => Math.Round(random.NextDouble() * most, 3);
        var faults = Enumerable
            .Range(0, n)
            .Select(i => new Fault
            {
                Id = "f" + i,
                Name = "f" + i,
                Kinds = [kinds[random.Next(3)]],
                Nature = i % 2 == 0 ? FaultNature.Acute : FaultNature.Wear,
                Incidence = random.Next(1, 200),
                Ageing = random.Next(3) / 2.0,
                Silent = i % 2 == 0 ? 0 : P(0.4),
                Does =
                    random.Next(2) == 0
                        ? []
                        : [new(States[random.Next(1, 4)], P(0.5)), new(States[random.Next(1, 4)], P(0.4))],
                With = random.Next(2) == 0 ? [] : [new("f" + random.Next(n), 0.5 + random.NextDouble() * 3)],
                Fix = "fix",
                FixMinutes = 5,
                Action = FaultAction.Replace,
            })
            .Select(f => f with { With = [.. f.With.Where(w => w.Fault != f.Id)] })
            .ToList();
        Finding Some(int i, FindingGroup group)
        {
            var grades = random.Next(1, 3);
            IReadOnlyList<double> Grades(double most) => [.. Enumerable.Range(0, grades).Select(_ => P(most / grades))];
            var outcomes = Enumerable.Range(0, grades + 1).Select(k => new Outcome("o" + k, "o" + k)).ToList();
            var limited = group != FindingGroup.Inside && random.Next(3) == 0;
            return new()
            {
                Id = group.Word() + i,
                Group = group,
                Name = "x",
                Do = "x",
                Minutes = 1,
                Told = group == FindingGroup.Complaint ? 0.2 + P(0.8) : 0.7,
                At = group == FindingGroup.Inside ? [kinds[random.Next(3)]] : [],
                States = limited ? [.. States.Where(_ => random.Next(2) == 0).DefaultIfEmpty(MachineDoes.Runs)] : [],
                Otherwise =
                    limited && random.Next(2) == 0
                        ? new Dictionary<MachineDoes, string> { [States[random.Next(4)]] = "o1" }
                        : new Dictionary<MachineDoes, string>(),
                Outcomes = outcomes,
                Leak = [.. Grades(0.2).Select(p => p + 0.001)],
                Causes =
                [
                    new("because", faults.Where(_ => random.Next(2) == 0).ToDictionary(f => f.Id, _ => Grades(0.9))),
                ],
            };
        }
        List<Finding> findings =
        [
            .. Enumerable.Range(0, 3).Select(i => Some(i, FindingGroup.Complaint)),
            .. Enumerable.Range(0, 3).Select(i => Some(i, FindingGroup.Outside)),
            .. Enumerable.Range(0, 4).Select(i => Some(i, FindingGroup.Inside)),
        ];
        findings.Add(
            findings[0] with
            {
                Id = "tells",
                Tells = States[random.Next(1, 4)],
                States = [],
                Otherwise = new Dictionary<MachineDoes, string>(),
                Outcomes = [new("no", "no"), new("yes", "yes")],
                Leak = [0.01],
                Causes = [],
            }
        );
        return new(
            faults,
            findings,
            TestShop.Shop.Catalog.Costs,
            new(0.05 + random.NextDouble(), 0.1 + random.NextDouble(), 0.02)
        );
    }

    [Fact]
    public void On_random_models_the_posterior_equals_direct_enumeration()
    {
        var (silent, soft) = (0, 0);
        for (var seed = 0; seed < 80; seed++)
        {
            var random = new Random(seed);
            var layout = TestShop.Machine("ostrel-ot50").Layout;
            var catalog = RandomCatalog(random);
            Assert.Empty(catalog.Check(TestShop.Shop.Words));
            var model = new FaultModel(layout, catalog);
            var diagnostician = new Diagnostician(model, TestShop.Machine("ostrel-ot50").Planner);
            var wear = 0.2 + random.NextDouble() * 2;
            var findings = catalog
                .Findings.Where(_ => random.Next(2) == 0)
                .ToDictionary(f => f.Id, f => f.Outcomes[random.Next(f.Outcomes.Count)].Id);
            var told = random.Next(2) == 0;
            var stopped = Stopped(catalog, findings);
            var (there, several) = Direct(catalog, findings, wear, told, stopped);
            var r = diagnostician.Diagnose(new(findings, [], wear, ComplaintsTold: told));
            Assert.Equal(several, r.SeveralAtOnce, 1e-9);
            foreach (var cause in r.Causes)
            {
                Assert.True(
                    Math.Abs(there[cause.Fault.Id] - cause.Probability) < 1e-9,
                    $"seed {seed}: {cause.Fault.Id} {cause.Probability} instead of {there[cause.Fault.Id]}"
                );
            }
            // The order in which findings came does not matter.
            var turned = diagnostician.Diagnose(new(findings.Reverse().ToDictionary(), [], wear, ComplaintsTold: told));
            Assert.All(r.Causes, c =>
                Assert.Equal(c.Probability, turned.Causes.Single(t => t.Fault.Id == c.Fault.Id).Probability, 1e-9)
            );
            // A weight is what the odds change by when that finding is taken out.
            if (findings.Keys.FirstOrDefault() is { } one)
            {
                var without = Direct(
                    catalog,
                    findings.Where(f => f.Key != one).ToDictionary(),
                    wear,
                    false,
                    stopped
                ).There;
                var alone = Direct(catalog, findings, wear, false, stopped).There;
                var said = diagnostician.Diagnose(new(findings, [], wear)).Causes[0];
                double Odds(double p) => p / (1 - p);
                if (alone[said.Fault.Id] is > 1e-6 and < 1 - 1e-6)
                {
                    Assert.Equal(
                        10 * Math.Log10(Odds(alone[said.Fault.Id]) / Odds(without[said.Fault.Id])),
                        said.Because.Single(w => w.FindingId == one).Decibans,
                        0.011
                    );
                }
            }
            silent += catalog.Faults.Any(f =>
                f.Silent > 0 && findings.Keys.Any(k => catalog.FindFinding(k)!.At.Intersect(f.Kinds).Any())
            )
                ? 1
                : 0;
            soft +=
                told && model.Findings.Any(f => f.Group == FindingGroup.Complaint && !findings.ContainsKey(f.Id))
                    ? 1
                    : 0;
        }
        Assert.True(silent > 40 && soft > 20, $"{silent} with silent wear looked at, {soft} with soft noes");
    }

    /// <summary>What the machine is told to do instead of running.</summary>
    private static MachineDoes? Stopped(DiagnosisCatalog catalog, Dictionary<string, string> findings) =>
        findings
            .Where(f => f.Value == "yes")
            .Select(f => catalog.FindFinding(f.Key)!.Tells)
            .FirstOrDefault(t => t is not null);

    /// <summary>P(fault is there) for each fault, and P(two or more speak).</summary>
    private static (Dictionary<string, double> There, double Several) Direct(
        DiagnosisCatalog catalog,
        Dictionary<string, string> findings,
        double wear,
        bool told,
        MachineDoes? stopped
    )
    {
        var faults = catalog.Faults;
        var n = faults.Count;
        double Factor(int a, int b) =>
            (
                faults[a].Nature == FaultNature.Acute && faults[b].Nature == FaultNature.Acute
                    ? catalog.World.TwoAcute
                    : 1
            )
            * faults[a].With.Where(w => w.Fault == faults[b].Id).Aggregate(1.0, (p, w) => p * w.Factor)
            * faults[b].With.Where(w => w.Fault == faults[a].Id).Aggregate(1.0, (p, w) => p * w.Factor);
        var looked = faults
            .Select(f =>
                findings.Keys.Any(k =>
                    catalog.FindFinding(k)! is { Group: FindingGroup.Inside } look
                    && look.At.Intersect(f.Kinds).Any()
                    && Clustered(catalog, look, f)
                )
            )
            .ToArray();
        var there = new double[n];
        var (all, several) = (0.0, 0.0);
        for (var s = 0; s < 1 << n; s++)
        {
            var set = Enumerable.Range(0, n).Where(i => (s >> i & 1) == 1).ToList();
            if (set.Count > 3)
            {
                continue;
            }
            var prior = set.Count == 0 ? catalog.World.NothingWrong : Math.Pow(catalog.World.Beside, set.Count - 1);
            foreach (var i in set)
            {
                prior *= faults[i].Incidence / 1000 * Math.Pow(wear, faults[i].Ageing);
                foreach (var j in set.Where(j => j < i))
                {
                    prior *= Factor(i, j);
                }
            }
            for (var t = 0; t < 1 << n; t++)
            {
                if ((t & s) != 0 || Enumerable.Range(0, n).Any(i => (t >> i & 1) == 1 && faults[i].Silent == 0))
                {
                    continue;
                }
                var p = prior;
                for (var i = 0; i < n; i++)
                {
                    if ((s >> i & 1) == 0 && faults[i].Silent > 0)
                    {
                        var q = Math.Min(0.6, faults[i].Silent * Math.Pow(wear, faults[i].Ageing));
                        var odds = set.Aggregate(q / (1 - q), (o, f) => o * Factor(f, i));
                        p *= (t >> i & 1) == 1 ? odds / (1 + odds) : 1 / (1 + odds);
                    }
                }
                for (var d = 0; d < 4; d++)
                {
                    // The state is the worst that any fault brings about.
                    double UpTo(int k) =>
                        k < 0
                            ? 0
                            : set.Aggregate(1.0, (c, f) =>
                                c * (1 - faults[f].Does.Where(x => Array.IndexOf(States, x.State) > k).Sum(x => x.P))
                            );
                    var weight = p * (UpTo(d) - UpTo(d - 1));
                    foreach (var f in catalog.Findings)
                    {
                        weight *=
                            findings.TryGetValue(f.Id, out var outcome)
                                ? Likelihood(catalog, f, f.IndexOf(outcome), set, t, d, stopped)
                            : told && f.Group == FindingGroup.Complaint
                                ? 1 - (1 - Likelihood(catalog, f, 0, set, t, d, null)) * f.Told
                            : 1;
                    }
                    all += weight;
                    several += set.Count > 1 ? weight : 0;
                    for (var i = 0; i < n; i++)
                    {
                        there[i] += (s >> i & 1) == 1 || looked[i] && (t >> i & 1) == 1 ? weight : 0;
                    }
                }
            }
        }
        return (Enumerable.Range(0, n).ToDictionary(i => faults[i].Id.Value, i => there[i] / all), several / all);
    }

    /// <summary>Whether a look can tell of this wear at all: it or a look tied to it by the same wear links to
    /// it.</summary>
    private static bool Clustered(DiagnosisCatalog catalog, Finding look, Fault wear)
    {
        bool Sees(Finding f, Fault w) =>
            w.Silent > 0
            && f.Group == FindingGroup.Inside
            && f.At.Intersect(w.Kinds).Any()
            && f.Causes.Any(c => c.Of.ContainsKey(w.Id));
        HashSet<string> tied = [look.Id];
        while (
            catalog.Findings.FirstOrDefault(f =>
                !tied.Contains(f.Id)
                && catalog.Faults.Any(w => Sees(f, w) && tied.Any(t => Sees(catalog.FindFinding(t)!, w)))
            )
                is { } more
        )
        {
            tied.Add(more.Id);
        }
        return catalog.Faults.Any(w => Sees(look, w)) && tied.Any(t => Sees(catalog.FindFinding(t)!, wear));
    }

    private static double Likelihood(
        DiagnosisCatalog catalog,
        Finding f,
        int outcome,
        List<int> set,
        int silent,
        int does,
        MachineDoes? stopped
    )
    {
        var grades = f.Outcomes.Count - 1;
        if (f.Tells is not null)
        {
            var yes = States[does] == f.Tells ? 0.97 : f.Leak[0];
            return outcome == 1 ? yes : 1 - yes;
        }
        // What the customer heard is of before where the machine is known not to do now what it needs to be heard.
        var before =
            f.Group == FindingGroup.Complaint
            && outcome > 0
            && stopped is not null
            && !f.States.Contains(stopped.Value);
        if (f.States.Count > 0 && !f.States.Contains(States[does]) && !before)
        {
            var found = f.Otherwise.TryGetValue(States[does], out var o) ? f.IndexOf(o) : 0;
            return outcome == found ? 1 - 0.003 : 0.003 / grades;
        }
        // The grade is the largest that any cause, or chance, produces; silent wear only on its own part.
        double AtMost(int k)
        {
            double Below(IReadOnlyList<double> p) => 1 - p.Skip(k).Sum();
            var c = Below(f.Leak);
            for (var i = 0; i < catalog.Faults.Count; i++)
            {
                var fault = catalog.Faults[i];
                var speaks = set.Contains(i);
                var shows =
                    (silent >> i & 1) == 1 && f.Group == FindingGroup.Inside && fault.Kinds.Intersect(f.At).Any();
                if ((speaks || shows) && f.Causes[0].Of.TryGetValue(fault.Id, out var p))
                {
                    c *= Below(p);
                }
            }
            return c;
        }
        return outcome == 0 ? AtMost(0) : AtMost(outcome) - AtMost(outcome - 1);
    }

    [Fact]
    public void Nothing_runs_means_the_belt_on_a_machine_with_a_belt_switch_and_not_on_one_without()
    {
        double Belt(string layoutId, string complaint) =>
            TestShop
                .Machine(layoutId)
                .Diagnostician.Diagnose(new(new Dictionary<string, string> { [complaint] = "yes" }, []))
                .Causes.Single(c => c.Fault.Id == "belt-broken")
                .Probability;
        Assert.True(Belt("quenby-qd62", "nothing-runs") > 0.3);
        Assert.True(Belt("ostrel-ot50", "nothing-runs") < 0.1);
        Assert.True(Belt("ostrel-ot50", "drum-stands") > 0.5);
        Assert.True(Belt("quenby-qd62", "drum-stands") < 0.2);
    }

    [Fact]
    public void Faults_of_parts_the_layout_lacks_are_left_out()
    {
        var a = TestShop.Machine("ostrel-ot50").Diagnostician.Model;
        Assert.DoesNotContain(a.Faults, f => f.Id.Value is "belt-switch-fault" or "arm-bent");
        Assert.Contains(TestShop.Machine("quenby-qd62").Diagnostician.Model.Faults, f => f.Id == "belt-switch-fault");
        Assert.DoesNotContain(a.Findings, f => f.At.Contains("belt-switch"));
    }
}
