using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>The planner against a general solver on machines too large to try everything.</summary>
public class CpSatTests
{
    private static readonly Dictionary<string, OperationId> None = [];

    /// <summary>Operations that mostly wait for one or two earlier ones, as panels do, with alternatives, things wanted
    /// first and two-step
    /// refits here and there.</summary>
    private static Layout Machine(int size, int alternatives, Random random)
    {
        var several = Enumerable.Range(3, size - 3).OrderBy(_ => random.Next()).Take(alternatives).ToHashSet();
        var operations = Enumerable
            .Range(0, size)
            .Select(i =>
            {
                string Earlier() => "o" + random.Next(Math.Max(0, i - 12), i);
                IReadOnlyList<OperationId> Group(bool more) =>
                    [.. Enumerable.Range(0, more ? random.Next(2, 4) : 1).Select(_ => Earlier()).Distinct()];
                ToolUse[] Tools() =>
                    [
                        .. Enumerable
                            .Range(0, random.Next(0, 3))
                            .Select(_ => "t" + random.Next(7))
                            .Distinct()
                            .Select(t => new ToolUse([t])),
                    ];
                return new Operation
                {
                    Id = "o" + i,
                    Name = "o" + i,
                    Do = "o" + i,
                    Needs =
                        i == 0
                            ? []
                            :
                            [
                                .. Enumerable
                                    .Range(0, random.Next(1, 3))
                                    .Select(g => Group(several.Contains(i) && g == 0)),
                            ],
                    First = i > 2 && random.Next(6) == 0 ? [Group(false)] : [],
                    Frees = i >= size - 4 ? ["p" + (i - size + 4)] : [],
                    Tools = Tools(),
                    Minutes = new(0, random.Next(0, 40) / 4.0, 60),
                    Refit =
                        random.Next(4) > 0
                            ?
                            [
                                new()
                                {
                                    Id = "a",
                                    Do = "back",
                                    Minutes = new(0, random.Next(0, 40) / 4.0, 60),
                                    Tools = Tools(),
                                },
                            ]
                            :
                            [
                                new()
                                {
                                    Id = "a",
                                    Do = "hang",
                                    Minutes = new(0, 1, 2),
                                    Tools = Tools(),
                                },
                                new()
                                {
                                    Id = "b",
                                    Do = "close",
                                    Minutes = new(0, 1, 2),
                                    Tools = Tools(),
                                    After = [new($"o{i}", "a")],
                                },
                            ],
                };
            })
            .ToList();
        return TestShop.Shop.Layouts[0] with
        {
            Operations = operations,
            Ways = [],
            Facts = [],
            Schools = [],
            NotMirrored = [],
            Parts =
            [
                .. Enumerable
                    .Range(0, 4)
                    .Select(i => new Part
                    {
                        Id = "p" + i,
                        Kind = PartKinds.Belt,
                        Name = "P",
                    }),
            ],
        };
    }

    [Fact]
    public void Sets_of_sixty_operations_cost_what_the_solver_finds()
    {
        var proved = 0;
        for (var seed = 16; seed < 21; seed++)
        {
            var machine = Machine(60, 20, new Random(seed));
            PartId[] targets = ["p0", "p1", "p2", "p3"];
            var plan = new TeardownPlanner(machine).Plan(new(targets, [], None))!;
            var answer = CpSatOracle.Set(machine, targets, 4);
            Assert.True(plan.Proof.Set.Optimal);
            if (answer.Optimal)
            {
                proved++;
                Assert.True(
                    Math.Round(answer.Value) == Math.Round(plan.Minutes * 100),
                    $"seed {seed}: {plan.Minutes * 100} planned, {answer.Value} found"
                );
            }
        }
        Assert.True(proved >= 2, $"the solver proved only {proved}");
    }

    [Fact]
    public void Orders_out_and_back_of_up_to_twenty_five_steps_change_tools_as_rarely_as_the_solver_finds()
    {
        var (outs, backs) = (0, 0);
        for (var seed = 100; seed < 114; seed++)
        {
            var machine = Machine(22, 6, new Random(seed));
            var plan = new TeardownPlanner(machine).Plan(new(["p0", "p1"], [], None))!;
            var removal = plan.Removal;
            if (removal.Count is < 6 or > 25 || plan.Refit.Count > 25)
            {
                continue;
            }
            int At(OperationId id) => removal.ToList().FindIndex(o => o.Id == id);
            var order = CpSatOracle.Order(
                [.. removal.Select(o => o.Tools.Select(t => t.Any[0]).ToHashSet())],
                [
                    .. removal.Select(o =>
                        (IReadOnlyList<IReadOnlyList<int>>)
                            [
                                .. o
                                    .Needs.Concat(o.First)
                                    .Select(g => (IReadOnlyList<int>)[.. g.Select(At).Where(j => j >= 0)]),
                            ]
                    ),
                ],
                2
            );
            if (order.Optimal)
            {
                outs++;
                Assert.True(plan.Proof.Order.Optimal);
                Assert.Equal(Math.Round(order.Value), plan.ToolChanges);
            }
            // Where every group has one member that was removed, the way back is a list of pairs: whatever is reached
            // through an operation
            // goes back, all of it, before that operation begins; and the steps say what comes after what.
            if (removal.Any(o => o.Needs.Any(g => g.Count(id => At(id) >= 0) > 1)))
            {
                continue;
            }
            var moves = removal.SelectMany(o => o.Steps.Select(s => (Operation: o, Step: s))).ToList();
            var through = removal.ToDictionary(o => o.Id, o => new HashSet<string>());
            foreach (var o in removal)
            {
                var open = new Stack<string>([o.Id]);
                while (open.TryPop(out var id))
                {
                    foreach (
                        var m in machine
                            .FindOperation(id)!
                            .Needs.SelectMany(g => g)
                            .Where(m => At(m) >= 0 && through[o.Id].Add(m))
                    )
                    {
                        open.Push(m);
                    }
                }
            }
            var back = CpSatOracle.Order(
                [.. moves.Select(m => m.Step.Tools.Select(t => t.Any[0]).ToHashSet())],
                [
                    .. moves.Select(m =>
                        (IReadOnlyList<IReadOnlyList<int>>)
                            [
                                .. moves
                                    .Select((x, k) => (x, k))
                                    .Where(x =>
                                        through[x.x.Operation.Id].Contains(m.Operation.Id)
                                        || m.Step.After.Contains(new(x.x.Operation.Id, x.x.Step.Id))
                                    )
                                    .Select(x => (IReadOnlyList<int>)[x.k]),
                            ]
                    ),
                ],
                2
            );
            if (back.Optimal)
            {
                backs++;
                Assert.True(plan.Proof.Refit.Optimal);
                Assert.Equal(Math.Round(back.Value), plan.RefitToolChanges);
            }
        }
        Assert.True(outs >= 4 && backs >= 2, $"{outs} orders out and {backs} ways back compared");
    }

    [Fact]
    public void Replanning_from_any_prefix_with_the_hand_carried_over_is_never_dearer_than_going_on()
    {
        var random = new Random(5);
        foreach (var layoutId in new[] { "ostrel-ot50", "quenby-qd62" })
        {
            var planner = TestShop.Machine(layoutId).Planner;
            foreach (var part in TestShop.Machine(layoutId).Layout.Parts.Where(p => p.Wears))
            {
                var plan = planner.Plan(new([part.Id], [], None))!;
                for (var k = 0; k < plan.Removal.Count; k++)
                {
                    IReadOnlyList<string> hand =
                    [
                        .. (plan.Removal.Take(k).LastOrDefault(o => o.Tools.Count > 0)?.Tools ?? []).Select(t =>
                            t.Any[0]
                        ),
                    ];
                    var again = planner.Plan(
                        new([part.Id], [.. plan.Removal.Take(k).Select(o => o.Id).OrderBy(_ => random.Next())], None)
                        {
                            Hand = hand,
                        }
                    )!;
                    var rest = plan.Removal.Skip(k).ToList();
                    Assert.True(again.Minutes <= rest.Sum(o => o.TypicalMinutes) + 1e-9);
                    Assert.True(
                        again.ToolChanges <= Changes(rest, hand),
                        $"{part.Id} after {k}: {again.ToolChanges} changes, going on takes {Changes(rest, hand)}"
                    );
                }
            }
        }

        static int Changes(IEnumerable<Operation> rest, IReadOnlyCollection<string> hand)
        {
            var changes = 0;
            foreach (
                var tools in rest.Where(o => o.Tools.Count > 0).Select(o => o.Tools.Select(t => t.Any[0]).ToList())
            )
            {
                changes += tools.Count(t => !hand.Contains(t));
                hand = tools;
            }
            return changes;
        }
    }
}
