using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Random machines whose steps depend on facts, and machines with many equal cheapest sets.</summary>
public class RandomFactsTests
{
    private static readonly Dictionary<string, string> None = [];

    /// <summary>A random condition with its meaning worked out beside it, for one setting of the facts.</summary>
    private static (Condition When, bool Holds) Some(Random random, Dictionary<string, string> facts, int depth = 0)
    {
        switch (random.Next(depth > 1 ? 1 : 4))
        {
            case 1:
                var (inner, holds) = Some(random, facts, depth + 1);
                return (new() { Not = inner }, !holds);
            case 2 or 3:
                var parts = Enumerable.Range(0, random.Next(1, 4)).Select(_ => Some(random, facts, depth + 1)).ToList();
                return random.Next(2) == 0
                    ? (new() { All = [.. parts.Select(p => p.When)] }, parts.All(p => p.Holds))
                    : (new() { Any = [.. parts.Select(p => p.When)] }, parts.Any(p => p.Holds));
            default:
                var (fact, value) =
                    random.Next(2) == 0
                        ? ("earth-clip", random.Next(2) == 0 ? "yes" : "no")
                        : ("roller-nut", new[] { "13", "16", "19" }[random.Next(3)]);
                return (new() { Fact = fact, Is = value }, facts[fact] == value);
        }
    }

    [Fact]
    public void Six_hundred_random_machines_with_facts_are_planned_as_if_written_out_for_that_machine()
    {
        var (planned, fewer, none) = (0, 0, 0);
        for (var seed = 0; seed < 600; seed++)
        {
            var random = new Random(seed);
            var facts = new Dictionary<string, string>
            {
                ["earth-clip"] = random.Next(2) == 0 ? "yes" : "no",
                ["roller-nut"] = new[] { "13", "16", "19" }[random.Next(3)],
            };
            var n = random.Next(5, 10);
            var here = Enumerable
                .Range(0, n)
                .Select(i => i == n - 1 || random.Next(2) == 0 ? (null, true) : ((Condition?, bool))Some(random, facts))
                .ToArray();
            var minutes = Enumerable.Range(0, n).Select(_ => random.Next(1, 9)).ToArray();
            // Each waits for groups of earlier ones; the last frees the part.
            var groups = Enumerable
                .Range(0, n)
                .Select(i =>
                    Enumerable
                        .Range(0, i == 0 ? 0 : random.Next(i == n - 1 ? 1 : 0, 3))
                        .Select(_ =>
                            Enumerable.Range(0, random.Next(1, 4)).Select(_ => random.Next(i)).Distinct().ToArray()
                        )
                        .ToArray()
                )
                .ToArray();
            var layout = TestShop.Shop.Layouts[0] with
            {
                Facts = [new("earth-clip", "no", true), new("roller-nut", "16", true)],
                Schools = [],
                Ways = [],
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
                Operations =
                [
                    .. Enumerable
                        .Range(0, n)
                        .Select(i => new Operation
                        {
                            Id = "o" + i,
                            Name = "o" + i,
                            Do = "do",
                            When = here[i].Item1,
                            Needs = [.. groups[i].Select(g => (IReadOnlyList<OperationId>)[.. g.Select(k => "o" + k)])],
                            Frees = i == n - 1 ? ["p"] : [],
                            Minutes = new(0, minutes[i], 20),
                            Refit =
                            [
                                new()
                                {
                                    Id = "back",
                                    Do = "back",
                                    Minutes = new(0, 0, 1),
                                },
                            ],
                        }),
                ],
            };
            // What the words say: a step whose condition does not hold is not on this machine; a group asks for one of
            // those that are. Where none is, what
            // stood in the way of one of them is in the way: it is passed through once that is out.
            bool Met(int[] group, Func<int, bool> has) =>
                group.Any(k => here[k].Item2)
                    ? group.Any(k => here[k].Item2 && has(k))
                    : group.Any(k => groups[k].All(g => Met(g, has)));
            var cheapest = int.MaxValue;
            for (var set = 0; set < 1 << n; set++)
            {
                bool In(int i) => (set >> i & 1) == 1;
                if (
                    In(n - 1)
                    && Enumerable.Range(0, n).Where(In).All(i => here[i].Item2 && groups[i].All(g => Met(g, In)))
                )
                {
                    cheapest = Math.Min(cheapest, Enumerable.Range(0, n).Where(In).Sum(i => minutes[i]));
                }
            }
            var plan = new TeardownPlanner(layout.For(facts, None)).Plan(
                new(["p"], [], new Dictionary<string, OperationId>())
            )!;
            Assert.True(
                cheapest == Math.Round(plan.Minutes),
                $"seed {seed}: {plan.Minutes} planned, {cheapest} will do"
            );
            Assert.All(plan.Removal, o =>
                Assert.True(
                    here[int.Parse(o.Id.Value[1..], System.Globalization.CultureInfo.InvariantCulture)].Item2,
                    $"seed {seed}: {o.Id} is not on this machine"
                )
            );
            planned++;
            fewer += here.Any(h => !h.Item2) ? 1 : 0;
            none += groups.SelectMany(g => g).Any(g => g.All(k => !here[k].Item2)) ? 1 : 0;
        }
        Assert.True(
            planned == 600 && fewer > 200 && none > 40,
            $"{planned} planned, {fewer} lack steps, {none} have a group of which nothing is there"
        );
    }

    [Fact]
    public void Of_twenty_equal_cheapest_sets_the_one_with_the_fewest_tool_changes_is_taken()
    {
        string[] tools = ["t0", "t1", "t2", "t3"];
        for (var seed = 0; seed < 40; seed++)
        {
            var random = new Random(seed);
            // Five ways through the front times four through the rear, all of three minutes; a first and a last step
            // with tools of their own.
            Operation Step(string id, int minutes, string tool, params IReadOnlyList<OperationId>[] needs) =>
                new()
                {
                    Id = id,
                    Name = id,
                    Do = id,
                    Needs = needs,
                    Minutes = new(0, minutes, 9),
                    Tools = [new([tool])],
                    Frees = id == "last" ? ["p"] : [],
                    Refit =
                    [
                        new()
                        {
                            Id = "back",
                            Do = id,
                            Minutes = new(0, 1, 2),
                            Tools = [new([tool])],
                        },
                    ],
                };
            string Any() => tools[random.Next(4)];
            var (first, last) = (Any(), Any());
            var front = Enumerable.Range(0, 5).Select(i => Step("f" + i, 3, Any(), ["first"])).ToList();
            var rear = Enumerable.Range(0, 4).Select(i => Step("r" + i, 3, Any())).ToList();
            var layout = TestShop.Shop.Layouts[0] with
            {
                Facts = [],
                Schools = [],
                Ways = [],
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
                Operations =
                [
                    Step("first", 1, first),
                    .. front,
                    .. rear,
                    Step("last", 1, last, [.. front.Select(f => f.Id)], [.. rear.Select(r => r.Id)]),
                ],
            };
            // One hand at a time, taken up when another was in it: first, then front and rear in either order, rear
            // before first too.
            int Changes(params string[] hands) =>
                hands.Length - hands.Zip(hands.Skip(1)).Count(p => p.First == p.Second);
            var fewest = front
                .SelectMany(f => rear.Select(r => (F: f.Tools[0].Any[0], R: r.Tools[0].Any[0])))
                .Min(x =>
                    new[]
                    {
                        Changes(first, x.F, x.R, last),
                        Changes(first, x.R, x.F, last),
                        Changes(x.R, first, x.F, last),
                    }.Min()
                );
            var plan = new TeardownPlanner(layout).Plan(new(["p"], [], new Dictionary<string, OperationId>()))!;
            Assert.True(plan.Proof is { Set.Optimal: true, Order.Optimal: true }, $"seed {seed}");
            Assert.Equal(8 + 4, plan.Minutes);
            Assert.True(fewest == plan.ToolChanges, $"seed {seed}: {plan.ToolChanges} changes, {fewest} will do");
        }
    }
}
