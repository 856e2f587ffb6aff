using CsCheck;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Random small machines: set and order against trying everything.</summary>
public class ToolOrderTests
{
    private static readonly string[] Tools = ["driver", "blade", "wrench"];

    [Fact]
    public void On_random_machines_the_plan_is_the_cheapest_and_its_order_has_the_fewest_changes()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var layout = RandomMachine(new Random(seed));
                    var planner = new TeardownPlanner(layout);
                    if (planner.Plan(new(["p"], [], new Dictionary<string, OperationId>())) is not { } plan)
                    {
                        Assert.Empty(AllOrders(layout));
                        return;
                    }
                    var orders = AllOrders(layout).ToList();
                    var cheapest = orders.Min(Cost);
                    Assert.Equal(cheapest, (int)Math.Round(plan.Minutes * 100));
                    // Of several cheapest sets one is taken; the claim is over the orders of that one.
                    var set = plan.Removal.Select(o => o.Id).ToHashSet();
                    Assert.Equal(orders.Where(o => set.SetEquals(o.Select(x => x.Id))).Min(Changes), plan.ToolChanges);
                    Assert.True(plan.Proof.Set.Optimal && plan.Proof.Order.Optimal);
                    Assert.Equal(plan.ToolChanges, Changes([.. plan.Removal]));
                },
                iter: 150
            );
    }

    private static int Cost(IReadOnlyList<Operation> order) =>
        order.Sum(o => (int)Math.Round(100 * (o.Minutes.Typical + o.Steps.Sum(s => s.Minutes.Typical))));

    private static int Changes(IReadOnlyList<Operation> order) => Changes(order.Select(o => o.Tools));

    /// <summary>Fewest tool changes of an order, counted step by step over every choice among tools that would
    /// do.</summary>
    internal static int Changes(IEnumerable<IReadOnlyList<ToolUse>> order)
    {
        List<(HashSet<string> Hand, int Changes)> hands = [([], 0)];
        foreach (var uses in order.Where(u => u.Count > 0))
        {
            var sets = uses.Aggregate(new List<HashSet<string>> { new() }, (all, use) =>
                [.. all.SelectMany(set => use.Any.Select(t => new HashSet<string>(set) { t }))]
            );
            hands =
            [
                .. hands
                    .SelectMany(h =>
                        sets.Select(set => (Hand: set, Changes: h.Changes + set.Count(t => !h.Hand.Contains(t))))
                    )
                    .GroupBy(h => string.Join(' ', h.Hand.Order()))
                    .Select(g => g.MinBy(h => h.Changes)),
            ];
        }
        return hands.Min(h => h.Changes);
    }

    /// <summary>Every order of operations that ends by freeing the part.</summary>
    private static IEnumerable<IReadOnlyList<Operation>> AllOrders(
        Layout layout,
        IReadOnlyList<Operation>? sofar = null
    )
    {
        sofar ??= [];
        if (sofar.Any(o => o.Frees.Any(p => p == "p")))
        {
            yield return sofar;
        }
        foreach (
            var o in layout.Operations.Where(o =>
                !sofar.Contains(o) && o.Needs.All(g => sofar.Any(x => g.Contains(x.Id)))
            )
        )
        {
            foreach (var order in AllOrders(layout, [.. sofar, o]))
            {
                yield return order;
            }
        }
    }

    private static Layout RandomMachine(Random random)
    {
        const int n = 6;
        var operations = Enumerable
            .Range(0, n)
            .Select(i => new Operation
            {
                Id = "o" + i,
                Name = "o" + i,
                Do = "o" + i,
                Needs =
                [
                    .. Enumerable
                        .Range(0, random.Next(3))
                        .Select(_ =>
                            (IReadOnlyList<OperationId>)
                                [.. Enumerable.Range(0, random.Next(1, 3)).Select(_ => "o" + random.Next(n)).Distinct()]
                        ),
                ],
                Frees = i >= n - 2 ? ["p"] : [],
                Tools =
                [
                    .. Tools
                        .Where(_ => random.Next(3) == 0)
                        .Select(t => new ToolUse(random.Next(4) == 0 ? [t, Tools[random.Next(3)]] : [t])),
                ],
                Minutes = new(0, random.Next(1, 5), 9),
                Refit =
                [
                    new()
                    {
                        Id = "back",
                        Do = "back",
                        Minutes = new(0, random.Next(0, 3), 9),
                    },
                ],
            })
            .ToList();
        return TestShop.Shop.Layouts[0] with
        {
            Operations = operations,
            Ways = [],
            Parts =
            [
                new()
                {
                    Id = "p",
                    Kind = PartKinds.Belt,
                    Name = "P",
                    Wears = true,
                },
            ],
        };
    }
}
