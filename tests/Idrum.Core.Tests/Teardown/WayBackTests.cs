using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Whether the way back can be done, checked from the words of the format and of the trade: nothing here asks
/// the planner how it
/// came to its order.</summary>
public class WayBackTests
{
    /// <summary>Machines of every shipped layout that between them meet each value of a varying fact or school together
    /// with each value of
    /// every other: the machine as the file has it first, then greedily whichever covers most pairs not met yet.
    /// <c>./idrum bench layouts</c>
    /// runs every distinct machine.</summary>
    public static TheoryData<string, string> Machines
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var layout in TestShop.Shop.Layouts)
            {
                var choices = layout
                    .Facts.Where(f => f.Varies && f.Id != "console-place")
                    .Select(f =>
                        (
                            f.Id,
                            Values: (
                                f.Values is { Count: > 0 } met
                                    ? met
                                    : [.. TestShop.Shop.Words.FindFact(f.Id)!.Values.Select(v => v.Id)]
                            )
                                .OrderBy(v => v != f.Value)
                                .ToArray()
                        )
                    )
                    .Concat(layout.Schools.Select(s => (s.Id, Values: s.Options.Select(o => o.Id).ToArray())))
                    .ToArray();
                foreach (var machine in Pairwise([.. choices.Select(c => c.Values.Length)]))
                {
                    data.Add(layout.Id, string.Join(' ', choices.Select((c, i) => $"{c.Id}={c.Values[machine[i]]}")));
                }
            }
            return data;
        }
    }

    private static List<int[]> Pairwise(int[] sizes)
    {
        var open = new HashSet<(int, int, int, int)>();
        for (var a = 0; a < sizes.Length; a++)
        {
            for (var b = a + 1; b < sizes.Length; b++)
            {
                open.UnionWith(
                    Enumerable
                        .Range(0, sizes[a])
                        .SelectMany(va => Enumerable.Range(0, sizes[b]).Select(vb => (a, va, b, vb)))
                );
            }
        }
        var machines = new List<int[]>();
        void Take(int[] machine)
        {
            machines.Add(machine);
            open.RemoveWhere(p => machine[p.Item1] == p.Item2 && machine[p.Item3] == p.Item4);
        }
        Take(new int[sizes.Length]);
        while (open.Count > 0)
        {
            var machine = Enumerable.Repeat(-1, sizes.Length).ToArray();
            var (a, va, b, vb) = open.Order().First();
            (machine[a], machine[b]) = (va, vb);
            for (var i = 0; i < sizes.Length; i++)
            {
                if (machine[i] < 0)
                {
                    machine[i] = Enumerable
                        .Range(0, sizes[i])
                        .MaxBy(v =>
                            open.Count(p =>
                                (p.Item1 == i && p.Item2 == v && machine[p.Item3] == p.Item4)
                                || (p.Item3 == i && p.Item4 == v && machine[p.Item1] == p.Item2)
                            )
                        );
                }
            }
            Take(machine);
        }
        return machines;
    }

    private static Layout Machine(string layoutId, string said)
    {
        var values = said.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(v => v.Split('='))
            .ToDictionary(v => v[0], v => v[1]);
        return TestShop.Shop.FindLayout(layoutId)!.For(values, values);
    }

    private static IEnumerable<PartId[]> SinglesAndPairs(Layout layout)
    {
        var wear = layout.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
        var pairs = wear.SelectMany((a, i) => wear.Skip(i + 1).Select(b => new[] { a, b }));
        return wear.Select(a => new[] { a }).Concat(TestSize.Every(3, pairs));
    }

    /// <summary>One machine with what was removed and which steps are done, judged by the words of the format
    /// alone.</summary>
    private sealed class Judge(Layout machine, IReadOnlyCollection<OperationId> removed)
    {
        private readonly HashSet<string> done = [];

        private bool StillOut(OperationId operation) =>
            removed.Contains(operation) && !done.Any(k => k.StartsWith(operation + "/", StringComparison.Ordinal));

        /// <summary>Of each group it was reached through, one really removed member is still out and is itself still
        /// reached; a pair that is
        /// not mirrored asks for nothing. What is not on this machine was passed through where what stood in its way
        /// was removed: it is never in the
        /// way itself, but what it was reached through is.</summary>
        private bool Reached(OperationId root, OperationId operation, HashSet<OperationId> path) =>
            Here(machine, operation)
                .Needs.Select(g => g.Where(m => removed.Contains(m) || Passed(machine, m, removed)).ToList())
                .Where(g => g.Count > 0)
                .All(g =>
                    g.Any(m =>
                        !path.Contains(m)
                        && (
                            !removed.Contains(m)
                            || StillOut(m)
                            || machine.NotMirrored.Any(p => p.Operation == root && p.Through == m)
                        )
                        && Reached(root, m, [.. path, m])
                    )
                );

        public string? WhyNot(RefitMove move)
        {
            var step = move.Step;
            bool There(string key) =>
                removed.Any(o => o == key.Split('/')[0])
                && machine.FindOperation(key.Split('/')[0])!.FindStep(key.Split('/')[1]) is not null;
            return done.Contains(move.Ref.ToString()) ? "done already"
                : !Reached(move.Operation.Id, move.Operation.Id, [move.Operation.Id]) ? "its place is no longer reached"
                : step.After.Select(s => s.ToString()).FirstOrDefault(k => There(k) && !done.Contains(k)) is { } first
                    ? $"comes after {first}"
                : step.Before.Select(s => s.ToString()).FirstOrDefault(k => There(k) && done.Contains(k)) is { } late
                    ? $"comes before {late}"
                : step.DirectlyAfter is { Length: > 0 } leader
                && There($"{move.Operation.Id}/{leader}")
                && !done.Contains($"{move.Operation.Id}/{leader}")
                    ? $"follows {leader}"
                : Moves(machine, removed)
                    .Find(m =>
                        m.Ref != move.Ref
                        && m.Step.DirectlyAfter.Length > 0
                        && done.Contains($"{m.Operation.Id}/{m.Step.DirectlyAfter}")
                        && !done.Contains(m.Ref.ToString())
                    )
                    is { } held
                    ? $"{held.Ref.ToString()} follows at once"
                : step.StillOut.FirstOrDefault(o => machine.FindOperation(o) is not null && !StillOut(o)) is { } inNow
                    ? $"{inNow} must still be out"
                : null;
        }

        public void Do(string key) => done.Add(key);

        public void Undo(string key) => done.Remove(key);
    }

    /// <summary>An operation of the machine, or one that only its file has.</summary>
    internal static Operation Here(Layout machine, OperationId id) =>
        machine.FindOperation(id) ?? machine.Passed.Single(o => o.Id == id);

    /// <summary>Whether an operation that is not on this machine is passed through: whatever stood in its way is out,
    /// or passed through in its turn.</summary>
    internal static bool Passed(Layout machine, OperationId id, IEnumerable<OperationId> done) =>
        machine.Passed.FirstOrDefault(o => o.Id == id) is { } gone
        && gone.Needs.All(g => g.Any(m => done.Contains(m) || Passed(machine, m, done)));

    private static List<RefitMove> Moves(Layout machine, IEnumerable<OperationId> removed) =>
        [.. removed.Select(id => machine.FindOperation(id)!).SelectMany(o => o.Steps.Select(s => new RefitMove(o, s)))];

    [Theory]
    [MemberData(nameof(Machines))]
    public void Each_step_of_every_way_back_is_done_while_what_it_is_reached_through_is_still_out(
        string layoutId,
        string said
    )
    {
        var machine = Machine(layoutId, said);
        var planner = new TeardownPlanner(machine);
        var plans = 0;
        foreach (var targets in SinglesAndPairs(machine))
        {
            var plan = planner.Plan(new(targets, [], new Dictionary<string, OperationId>()))!;
            var removed = plan.Removal.Select(o => o.Id).ToList();
            Assert.Equal(
                Moves(machine, removed).Select(m => m.Ref.ToString()).Order(),
                plan.Refit.Select(m => m.Ref.ToString()).Order()
            );
            var judge = new Judge(machine, removed);
            foreach (var move in plan.Refit)
            {
                Assert.True(
                    judge.WhyNot(move) is null,
                    $"{string.Join('+', targets)}: {move.Ref.ToString()}: {judge.WhyNot(move)}: {string.Join(' ', plan.Refit.Select(m => m.Ref.ToString()))}"
                );
                judge.Do(move.Ref.ToString());
            }
            // What prudence wants first is done first.
            foreach (var (o, i) in plan.Removal.Select((o, i) => (o, i)))
            {
                Assert.All(o.Needs.Concat(o.First), g =>
                    Assert.Contains(g, m => removed.Take(i).Contains(m) || Passed(machine, m, removed.Take(i)))
                );
            }
            // Every screw that comes out goes in again, once, and every plug parted is joined once.
            Assert.Equal(
                plan.Removal.SelectMany(o => o.Removed).Select(f => f.Id).Order(),
                plan.Refit.SelectMany(m => m.Fasteners).Select(f => f.Id).Order()
            );
            Assert.Equal(
                plan.Removal.SelectMany(o => o.Plugs).Select(p => p.Id).Order(),
                plan.Refit.SelectMany(m => m.Plugs).Select(p => p.Id).Order()
            );
            Assert.True(plan.Proof.Refit.Optimal);
            plans++;
        }
        Assert.True(plans > TestSize.Of(50 / 3, 50));
    }

    [Theory]
    [MemberData(nameof(Machines))]
    public void No_way_back_breaks_what_a_repairer_knows(string layoutId, string said)
    {
        var machine = Machine(layoutId, said);
        var planner = new TeardownPlanner(machine);
        var lines = WayBackStories
            .Of(layoutId)
            .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(l => (AtOnce: l.Contains(" >> ", StringComparison.Ordinal), Names: l.Split([" >> ", " > "], 0)))
            .Where(l =>
                l.Names.All(name =>
                    machine.FindOperation(name.Split('/')[0]) is { } o
                    && (!name.Contains('/', StringComparison.Ordinal) || o.FindStep(name.Split('/')[1]) is not null)
                )
            )
            .ToList();
        var used = new HashSet<string>();
        foreach (var targets in SinglesAndPairs(machine))
        {
            var refit = planner
                .Plan(new(targets, [], new Dictionary<string, OperationId>()))!
                .Refit.Select(m => m.Ref.ToString())
                .ToList();
            bool Is(string key, string name) => key == name || key.StartsWith(name + "/", StringComparison.Ordinal);
            foreach (var (atOnce, line) in lines.Where(l => l.Names.All(n => refit.Any(k => Is(k, n)))))
            {
                used.Add(line[0] + line[1]);
                var between = refit.FindIndex(k => Is(k, line[1])) - refit.FindLastIndex(k => Is(k, line[0]));
                Assert.True(
                    between > 0,
                    $"{string.Join('+', targets)}: '{line[1]}' goes back before '{line[0]}': {string.Join(' ', refit)}"
                );
                Assert.True(
                    !atOnce || between == 1,
                    $"{string.Join('+', targets)}: '{line[1]}' does not follow '{line[0]}' at once: {string.Join(' ', refit)}"
                );
            }
        }
        Assert.True(used.Count > lines.Count * 2 / 3, $"only {used.Count} of {lines.Count} lines were met");
    }

    /// <summary>A machine of up to seven operations: groups of alternatives, circles among them, things wanted first,
    /// steps of their own with
    /// before, after and still out, pairs not mirrored, steps of no minutes, equal costs.</summary>
    private static Layout RandomMachine(Random random)
    {
        var n = random.Next(3, 8);
        string[] tools = ["t1", "t2", "t3"];
        ToolUse[] Tools() =>
            [
                .. tools
                    .Where(_ => random.Next(3) == 0)
                    .Select(t => new ToolUse(random.Next(5) == 0 ? [t, tools[random.Next(3)]] : [t])),
            ];
        string Other(int i) => "o" + (i + 1 + random.Next(n - 1)) % n;
        IReadOnlyList<IReadOnlyList<OperationId>> Groups(int i, int most) =>
            [
                .. Enumerable
                    .Range(0, random.Next(most))
                    .Select(_ =>
                        (IReadOnlyList<OperationId>)
                            [.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => Other(i)).Distinct()]
                    ),
            ];
        var operations = Enumerable
            .Range(0, n)
            .Select(i => new Operation
            {
                Id = "o" + i,
                Name = "o" + i,
                Do = "o" + i,
                Needs = Groups(i, 3),
                First = random.Next(4) == 0 ? Groups(i, 2) : [],
                Frees = i >= n - 2 ? ["p"] : [],
                Tools = Tools(),
                Minutes = new(0, random.Next(0, 4), 9),
                Refit = AtOnce(
                    random,
                    Enumerable
                        .Range(0, random.Next(4) == 0 ? 2 : 1)
                        .Select(k => new RefitStep
                        {
                            Id = "s" + k,
                            Do = "back",
                            Minutes = new(0, random.Next(0, 3), 9),
                            Tools = Tools(),
                            After =
                                k == 1 && random.Next(2) == 0 ? [new($"o{i}", "s0")]
                                : random.Next(8) == 0 ? [new(Other(i), "s0")]
                                : [],
                            Before = random.Next(8) == 0 ? [new(Other(i), "s0")] : [],
                            StillOut = random.Next(12) == 0 ? [Other(i)] : [],
                        })
                        .ToList()
                ),
            })
            .ToList();
        return TestShop.Shop.Layouts[0] with
        {
            Operations = operations,
            Ways = [],
            Facts = [],
            Schools = [],
            NotMirrored =
            [
                .. Enumerable
                    .Range(0, random.Next(3))
                    .Select(_ => random.Next(n))
                    .Select(i => new NotMirrored("o" + i, Other(i))),
            ],
            Parts =
            [
                new()
                {
                    Id = "p",
                    Kind = PartKinds.Belt,
                    Name = "P",
                },
            ],
        };
    }

    /// <summary>Of two steps the second sometimes follows the first, done by bare hand, at once.</summary>
    private static List<RefitStep> AtOnce(Random random, List<RefitStep> steps) =>
        steps.Count < 2 || random.Next(2) == 0
            ? steps
            : [steps[0] with { Tools = [] }, steps[1] with { DirectlyAfter = "s0" }];

    /// <summary>Fewest tool changes over every order in which these can go back, each step judged by the words of the
    /// format; null where
    /// there is no order, −1 where there are too many to try.</summary>
    private static int? FewestBack(Layout machine, IReadOnlyList<OperationId> removed)
    {
        var judge = new Judge(machine, removed);
        var (orders, best) = (0, (int?)null);
        void Go(List<RefitMove> rest, List<RefitMove> sofar)
        {
            if (orders > 3000)
            {
                return;
            }
            if (rest.Count == 0)
            {
                orders++;
                var changes = ToolOrderTests.Changes(sofar.Select(m => m.Step.Tools));
                best = best is null ? changes : Math.Min(best.Value, changes);
                return;
            }
            foreach (var move in rest.Where(m => judge.WhyNot(m) is null).ToList())
            {
                judge.Do(move.Ref.ToString());
                Go([.. rest.Where(m => m != move)], [.. sofar, move]);
                judge.Undo(move.Ref.ToString());
            }
        }
        Go(Moves(machine, removed), []);
        return orders > 3000 ? -1 : best;
    }

    [Fact]
    public void On_random_machines_set_and_way_back_are_what_trying_everything_finds()
    {
        var (planned, refused, backs, choices) = (0, 0, 0, 0);
        var machines = TestSize.Of(300, 1200);
        for (var seed = 0; seed < machines; seed++)
        {
            var machine = RandomMachine(new Random(seed));
            var all = machine.Operations;
            // Every set that can be done in some order, by walking; the cheapest that frees the part and holds what its
            // steps want out.
            var costs = new Dictionary<string, (HashSet<OperationId> Set, int Cost)> { [""] = ([], 0) };
            var open = new Queue<HashSet<OperationId>>([
                [],
            ]);
            while (open.TryDequeue(out var set))
            {
                foreach (
                    var o in all.Where(o =>
                        !set.Contains(o.Id) && o.Needs.Concat(o.First).All(g => g.Any(set.Contains))
                    )
                )
                {
                    HashSet<OperationId> more = [.. set, o.Id];
                    if (
                        costs.TryAdd(
                            string.Join(' ', more.Order()),
                            (
                                more,
                                more.Select(id => machine.FindOperation(id)!)
                                    .Sum(x => (int)(100 * (x.Minutes.Typical + x.Steps.Sum(s => s.Minutes.Typical))))
                            )
                        )
                    )
                    {
                        open.Enqueue(more);
                    }
                }
            }
            var freeing = costs
                .Values.Where(c =>
                    all.Any(o => o.Frees.Count > 0 && c.Set.Contains(o.Id))
                    && c.Set.SelectMany(id => machine.FindOperation(id)!.Steps)
                        .SelectMany(s => s.StillOut)
                        .All(c.Set.Contains)
                )
                .ToList();
            if (TeardownRules.Check(machine, TestShop.Shop.Words).Count > 0)
            {
                refused++;
                continue;
            }
            // A sound machine has a way back from every set that a plan may take apart.
            foreach (
                var set in costs
                    .Values.Select(c => c.Set)
                    .Where(s =>
                        s.Count > 0
                        && s.SelectMany(id => machine.FindOperation(id)!.Steps)
                            .SelectMany(x => x.StillOut)
                            .All(s.Contains)
                    )
                    .Take(25)
            )
            {
                Assert.True(
                    FewestBack(machine, [.. set]) is not null,
                    $"seed {seed}: no way back from {string.Join(' ', set)} {System.Text.Json.JsonSerializer.Serialize(machine.Operations.Select(o => new { o.Id, o.Needs, o.First, R = o.Refit.Select(s => new { s.Id, s.After, s.Before, s.StillOut }) }))} {string.Join(' ', machine.NotMirrored)}"
                );
            }
            var plan = new TeardownPlanner(machine).Plan(new(["p"], [], new Dictionary<string, OperationId>()));
            if (freeing.Count == 0)
            {
                Assert.Null(plan);
                continue;
            }
            planned++;
            Assert.True(plan!.Proof is { Set.Optimal: true, Order.Optimal: true, Refit.Optimal: true }, $"seed {seed}");
            Assert.True(
                freeing.Min(c => c.Cost) == (int)Math.Round(plan.Minutes * 100),
                $"seed {seed}: {plan.Minutes} instead of {freeing.Min(c => c.Cost) / 100.0}"
            );
            var removed = plan.Removal.Select(o => o.Id).ToList();
            var judge = new Judge(machine, removed);
            foreach (var move in plan.Refit)
            {
                Assert.True(judge.WhyNot(move) is null, $"seed {seed}: {move.Ref.ToString()}: {judge.WhyNot(move)}");
                judge.Do(move.Ref.ToString());
            }
            choices += plan.Removal.Any(o => o.Needs.Any(g => g.Count(removed.Contains) > 1)) ? 1 : 0;
            if (FewestBack(machine, removed) is >= 0 and var fewest)
            {
                Assert.True(
                    fewest == plan.RefitToolChanges,
                    $"seed {seed}: {plan.RefitToolChanges} changes, {fewest} will do"
                );
                backs++;
            }
            Assert.Equal(plan.RefitToolChanges, ToolOrderTests.Changes(plan.Refit.Select(m => m.Step.Tools)));
        }
        Assert.True(
            planned > machines / 4 && backs > machines / 4 && refused > machines / 6 && choices > machines / 300,
            $"{planned} planned, {backs} ways back tried through, {refused} refused, {choices} with several members of a group"
        );
    }

    /// <summary>A circle of <c>after</c> over n operations: only where all were taken out has the way back no
    /// order.</summary>
    private static Layout Ring(int n, bool closed) =>
        TestShop.Shop.Layouts[0] with
        {
            Operations =
            [
                .. Enumerable
                    .Range(0, n)
                    .Select(i => new Operation
                    {
                        Id = "o" + i,
                        Name = "o" + i,
                        Do = "o" + i,
                        Frees = ["p"],
                        Minutes = new(1, 1, 1),
                        Refit =
                        [
                            new()
                            {
                                Id = "s",
                                Do = "back",
                                Minutes = new(1, 1, 1),
                                After = i < n - 1 || closed ? [new($"o{(i + 1) % n}", "s")] : [],
                            },
                        ],
                    }),
            ],
            Ways = [],
            Facts = [],
            Schools = [],
            NotMirrored = [],
            Parts =
            [
                new()
                {
                    Id = "p",
                    Kind = PartKinds.Belt,
                    Name = "P",
                },
            ],
        };

    [Fact]
    public void A_contradiction_of_twenty_operations_is_found_within_seconds_and_a_larger_one_refused_as_not_proved()
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        Assert.Empty(TeardownRules.Check(Ring(20, false), TestShop.Shop.Words));
        var found = Assert.Single(TeardownRules.Check(Ring(20, true), TestShop.Shop.Words));
        Assert.Contains("no order once these were removed: 'o0', 'o1'", found.Message, StringComparison.Ordinal);
        Assert.Contains(
            "Not proved: 21 operations",
            Assert.Single(TeardownRules.Check(Ring(21, true), TestShop.Shop.Words)).Message,
            StringComparison.Ordinal
        );
        Assert.True(clock.Elapsed < TimeSpan.FromSeconds(20), clock.Elapsed.ToString());
    }

    [Fact]
    public void Stuck_takes_another_way_absent_asks_for_nothing_and_a_tool_in_hand_is_counted()
    {
        var planner = TestShop.Machine("ostrel-ot50").Planner;
        TeardownPlan Plan(TeardownRequest r) => planner.Plan(r)!;
        var none = new Dictionary<string, OperationId>();
        var free = Plan(new(["idler"], [], none));
        var stuck = free.Removal[^1].Id;
        var other = Plan(new(["idler"], [], none) { Stuck = [stuck] });
        Assert.DoesNotContain(other.Removal, o => o.Id == stuck);
        Assert.True(other.Minutes > free.Minutes);
        Assert.Null(planner.Plan(new(["belt"], [], none) { Stuck = ["front-off"] }));
        var absent = Plan(new(["belt"], [], none) { Absent = ["drum-hook"] });
        Assert.DoesNotContain(absent.Removal.Concat(absent.Refit.Select(m => m.Operation)), o => o.Id == "drum-hook");
        var belt = Plan(new(["belt"], ["screen-out"], none));
        var inHand = Plan(new(["belt"], ["screen-out"], none) { Hand = ["cross-driver"] });
        Assert.True(inHand.ToolChanges < belt.ToolChanges);
    }
}
