using CsCheck;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Random small machines: set and order against trying everything.</summary>
public class ToolOrderTests
{
    private static readonly string[] Tools = ["driver", "blade", "wrench"];

    [Fact]
    public void On_random_machines_the_plan_is_the_cheapest_and_its_order_has_the_fewest_changes()
    {
        Gen.Int[0, 1_000_000].Sample(seed =>
        {
            var layout = RandomMachine(new Random(seed));
            var planner = new TeardownPlanner(layout);
            if (planner.Plan(new(["p"], [], new Dictionary<string, string>())) is not { } plan)
            {
                Assert.Empty(AllOrders(layout));
                return;
            }
            var orders = AllOrders(layout).ToList();
            var cheapest = orders.Min(Cost);
            Assert.Equal(cheapest, (int)Math.Round(plan.Minutes * 100));
            Assert.Equal(orders.Where(o => Cost(o) == cheapest).Min(Changes), plan.ToolChanges);
            Assert.Equal(plan.ToolChanges, Changes([.. plan.Removal]));
        }, iter: 150);
    }

    private static int Cost(IReadOnlyList<Operation> order) => order.Sum(o => (int)Math.Round(100 * (o.Minutes.Out.Typical + o.Minutes.In.Typical)));

    private static int Changes(IReadOnlyList<Operation> order)
    {
        IReadOnlyList<string> hand = [];
        var changes = 0;
        foreach (var o in order.Where(o => o.Tools.Count > 0))
        {
            changes += o.Tools.Except(hand).Count();
            hand = o.Tools;
        }
        return changes;
    }

    /// <summary>Every order of operations that ends by freeing the part.</summary>
    private static IEnumerable<IReadOnlyList<Operation>> AllOrders(Layout layout, IReadOnlyList<Operation>? sofar = null)
    {
        sofar ??= [];
        if (sofar.Any(o => o.Frees.Contains("p")))
        {
            yield return sofar;
        }
        foreach (var o in layout.Operations.Where(o => !sofar.Contains(o) && o.Needs.All(g => sofar.Any(x => g.Contains(x.Id)))))
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
        var operations = Enumerable.Range(0, n).Select(i => new Operation
        {
            Id = "o" + i,
            Name = "o" + i,
            Do = "o" + i,
            Needs = [.. Enumerable.Range(0, random.Next(3)).Select(_ => (IReadOnlyList<string>)[.. Enumerable.Range(0, random.Next(1, 3)).Select(_ => "o" + random.Next(n)).Distinct()])],
            Frees = i >= n - 2 ? ["p"] : [],
            Tools = [.. Tools.Where(_ => random.Next(3) == 0)],
            Minutes = new(new(0, random.Next(1, 5), 9), new(0, random.Next(0, 3), 9)),
            Refit = new() { Do = "back" },
        }).ToList();
        return TestShop.Shop.Layouts[0] with { Operations = operations, Ways = [], Parts = [new() { Id = "p", Kind = "belt", Name = "P", Wears = true }] };
    }
}
