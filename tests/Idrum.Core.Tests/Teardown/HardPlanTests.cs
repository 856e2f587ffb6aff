using System.Diagnostics;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Files that are valid and hard: they are planned, bounded or refused in time.</summary>
public class HardPlanTests
{
    private static readonly Dictionary<string, OperationId> None = [];

    private static Operation Step(
        string id,
        IReadOnlyList<IReadOnlyList<OperationId>> needs,
        IReadOnlyList<ToolUse>? tools = null,
        int minutes = 1,
        string? frees = null
    ) =>
        new()
        {
            Id = id,
            Name = id,
            Do = id,
            Needs = needs,
            Tools = tools ?? [],
            Frees = frees is null ? [] : [frees],
            Minutes = new(0, minutes, 20),
            Refit =
            [
                new()
                {
                    Id = "s",
                    Do = id,
                    Minutes = new(0, 1, 2),
                    Tools = tools ?? [],
                },
            ],
        };

    private static Layout Of(IReadOnlyList<Operation> operations) =>
        TestShop.Shop.Layouts[0] with
        {
            Operations = operations,
            Ways = [],
            Facts = [],
            Schools = [],
            NotMirrored = [],
            Parts =
            [
                .. operations
                    .SelectMany(o => o.Frees)
                    .Distinct()
                    .Select(p => new Part
                    {
                        Id = p,
                        Kind = PartKinds.Belt,
                        Name = p,
                        Wears = true,
                    }),
            ],
        };

    private static Layout Pairs(int levels) =>
        Of([
            .. Enumerable
                .Range(0, levels)
                .SelectMany(l =>
                    new[] { "a", "b" }.Select(s =>
                        Step(
                            s + l,
                            l == 0
                                ? []
                                :
                                [
                                    [$"a{l - 1}", $"b{l - 1}"],
                                ],
                            frees: $"p{s}{l}"
                        )
                    )
                ),
        ]);

    [Theory]
    [InlineData(20)]
    [InlineData(24)]
    [InlineData(100)]
    public void Pairs_that_each_need_one_of_the_two_below_are_read_and_planned_at_once(int levels)
    {
        var layout = Pairs(levels);
        var clock = Stopwatch.StartNew();
        Assert.Empty(TeardownRules.Check(layout, TestShop.Shop.Words, TimeProvider.System));
        var plan = new TeardownPlanner(layout, TimeProvider.System).Plan(
            new([.. layout.Parts.Select(p => p.Id)], [], None)
        )!;
        Assert.Equal(2 * levels, plan.Removal.Count);
        Assert.Equal(2 * levels, plan.Refit.Count);
        Assert.True(clock.Elapsed < TimeSpan.FromSeconds(5), clock.Elapsed.ToString());
    }

    [Fact]
    public void Two_hundred_and_fifty_six_operations_with_all_their_targets_are_planned_within_the_deadline()
    {
        for (var seed = 0; seed < TestSize.Of(2, 4); seed++)
        {
            var random = new Random(seed);
            string[] tools = [.. Enumerable.Range(0, 12).Select(t => "t" + t)];
            var layout = Of([
                .. Enumerable
                    .Range(0, 256)
                    .Select(i =>
                        Step(
                            "o" + i,
                            [
                                .. Enumerable
                                    .Range(0, i == 0 ? 0 : random.Next(3))
                                    .Select(_ =>
                                        (IReadOnlyList<OperationId>)
                                            [
                                                .. Enumerable
                                                    .Range(0, random.Next(1, 4))
                                                    .Select(_ => "o" + random.Next(i))
                                                    .Distinct(),
                                            ]
                                    ),
                            ],
                            [.. tools.Where(_ => random.Next(8) == 0).Take(3).Select(t => new ToolUse([t]))],
                            random.Next(1, 9),
                            "p" + i
                        )
                    ),
            ]);
            var clock = Stopwatch.StartNew();
            var plan = new TeardownPlanner(layout, TimeProvider.System).Plan(
                new([.. layout.Parts.Select(p => p.Id)], [], None)
            )!;
            Assert.Equal(256, plan.Removal.Count);
            Assert.True(plan.WayBack && plan.Refit.Count == 256);
            Assert.True(clock.Elapsed < TimeSpan.FromSeconds(4), $"seed {seed}: {clock.Elapsed}");
            var done = new HashSet<OperationId>();
            Assert.All(plan.Removal, o =>
            {
                Assert.All(o.Needs, g => Assert.Contains(g, done.Contains));
                done.Add(o.Id);
            });
        }
    }

    [Fact]
    public void Seventeen_free_steps_with_two_of_ten_tools_are_proved()
    {
        var random = new Random(1);
        for (var round = 0; round < 20; round++)
        {
            var pairs = Enumerable
                .Range(0, 17)
                .Select(_ => (A: random.Next(10), B: random.Next(9)))
                .Select(p => new[] { p.A, (p.A + 1 + p.B) % 10 })
                .ToArray();
            var layout = Of([
                .. pairs.Select((p, i) => Step("o" + i, [], [new(["t" + p[0]]), new(["t" + p[1]])], frees: "p" + i)),
            ]);
            var plan = new TeardownPlanner(layout, TimeProvider.System).Plan(
                new([.. layout.Parts.Select(p => p.Id)], [], None)
            )!;
            Assert.True(
                plan.Proof.Order.Optimal,
                $"round {round}: {plan.ToolChanges} changes, bound {plan.Proof.Order.Bound}"
            );
            Assert.Equal(Fewest([.. pairs.Select(p => (1 << p[0]) | (1 << p[1])).Distinct()]), plan.ToolChanges);
        }
    }

    /// <summary>Fewest changes over all orders of different hands, by dynamic programming over which were had and which
    /// is held.</summary>
    private static int Fewest(int[] hands)
    {
        var n = hands.Length;
        var best = new int[1 << n, n];
        for (var set = 1; set < 1 << n; set++)
        {
            for (var last = 0; last < n; last++)
            {
                best[set, last] = int.MaxValue / 2;
                if ((set >> last & 1) == 0)
                {
                    continue;
                }
                var before = set & ~(1 << last);
                best[set, last] =
                    before == 0
                        ? 2
                        : Enumerable
                            .Range(0, n)
                            .Where(k => (before >> k & 1) == 1)
                            .Min(k => best[before, k] + int.PopCount(hands[last] & ~hands[k]));
            }
        }
        return Enumerable.Range(0, n).Min(last => best[(1 << n) - 1, last]);
    }

    [Fact]
    public void What_a_step_leaves_of_more_than_two_hundred_tool_choices_is_claimed_as_a_bound_only()
    {
        // Eight uses of two tools each: 256 ways; nine are 512 and too many to look at.
        Layout With(int uses) =>
            Of([
                Step("first", [], [new(["t0"])], frees: "p"),
                Step(
                    "many",
                    [
                        ["first"],
                    ],
                    [.. Enumerable.Range(0, uses).Select(u => new ToolUse([$"a{u}", $"b{u}"]))],
                    frees: "q"
                ),
            ]);
        Assert.True(
            new TeardownPlanner(With(8)).Plan(new(["q"], [], None))!.Proof.Order is { Optimal: true, Bound: 9 }
        );
        var many = new TeardownPlanner(With(9)).Plan(
            new(["q"], [], None) { Hand = [.. Enumerable.Range(0, 9).Select(u => $"b{u}")] }
        )!;
        Assert.False(many.Proof.Order.Optimal);
        Assert.True(many.Proof.Order.Bound < many.ToolChanges);
    }
}
