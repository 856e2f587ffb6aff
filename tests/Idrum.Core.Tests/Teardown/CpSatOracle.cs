using Google.OrTools.Sat;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Teardown;

/// <summary>The same problems put to a general solver, written from the words of the format: it shares no code with the
/// planner.</summary>
public static class CpSatOracle
{
    /// <param name="Optimal">Whether the solver proved it.</param>
    /// <param name="Value">What it found.</param>
    /// <param name="Milliseconds">How long it took.</param>
    public sealed record Answer(bool Optimal, double Value, double Milliseconds);

    /// <summary>Least minutes (in hundredths) of a set of operations that frees the parts and can be done in some
    /// order.</summary>
    public static Answer Set(Layout layout, IReadOnlyList<PartId> targets, double seconds)
    {
        var model = new CpModel();
        var ops = layout.Operations;
        var place = ops.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        var taken = ops.Select(o => model.NewBoolVar(o.Id)).ToArray();
        var level = ops.Select(o => model.NewIntVar(0, ops.Count, "l" + o.Id)).ToArray();
        for (var i = 0; i < ops.Count; i++)
        {
            foreach (var group in ops[i].Needs.Concat(ops[i].First))
            {
                // One member of the group supports it and was done before.
                var supports = group.Select(id => (J: place[id], By: model.NewBoolVar($"{ops[i].Id}<{id}"))).ToList();
                model.AddBoolOr(supports.Select(s => (ILiteral)s.By)).OnlyEnforceIf(taken[i]);
                foreach (var (j, by) in supports)
                {
                    model.AddImplication(by, taken[j]);
                    model.Add(level[j] + 1 <= level[i]).OnlyEnforceIf(by);
                }
            }
        }
        foreach (var target in targets)
        {
            model.AddBoolOr(
                ops.Where(o => o.Frees.Contains(target) || o.TakesOff.Contains(target))
                    .Select(o => (ILiteral)taken[place[o.Id]])
            );
        }
        model.Minimize(
            LinearExpr.WeightedSum(
                taken,
                ops.Select(o => (long)Math.Round(100 * (o.Minutes.Typical + o.Steps.Sum(s => s.Minutes.Typical))))
            )
        );
        return Solve(model, seconds);
    }

    /// <summary>Fewest tool changes of an order of steps: a step by bare hand leaves the tools where they
    /// are.</summary>
    /// <param name="tools">Tools of each step.</param>
    /// <param name="before">For each step groups of steps of which one each comes before it.</param>
    /// <param name="seconds">Time limit.</param>
    public static Answer Order(
        IReadOnlyList<IReadOnlyCollection<string>> tools,
        IReadOnlyList<IReadOnlyList<IReadOnlyList<int>>> before,
        double seconds
    )
    {
        var model = new CpModel();
        var n = tools.Count;
        var at = Enumerable.Range(0, n).Select(i => model.NewIntVar(0, n - 1, "t" + i)).ToArray();
        model.AddAllDifferent(at);
        for (var i = 0; i < n; i++)
        {
            foreach (var group in before[i])
            {
                var supports = group.Select(j => (J: j, By: model.NewBoolVar($"{i}<{j}"))).ToList();
                model.AddBoolOr(supports.Select(s => (ILiteral)s.By));
                foreach (var (j, by) in supports)
                {
                    model.Add(at[j] + 1 <= at[i]).OnlyEnforceIf(by);
                }
            }
        }
        // Steps with tools form one round trip through a place where the hands are empty.
        var handed = Enumerable.Range(0, n).Where(i => tools[i].Count > 0).ToList();
        var circuit = model.AddCircuit();
        var (costs, arcs) = (new List<long>(), new List<BoolVar>());
        BoolVar Arc(int from, int to, long cost)
        {
            var arc = model.NewBoolVar($"{from}>{to}");
            circuit.AddArc(from, to, arc);
            arcs.Add(arc);
            costs.Add(cost);
            return arc;
        }
        if (handed.Count == 0)
        {
            return new(true, 0, 0);
        }
        for (var a = 0; a < handed.Count; a++)
        {
            Arc(0, a + 1, tools[handed[a]].Count);
            Arc(a + 1, 0, 0);
            for (var b = 0; b < handed.Count; b++)
            {
                if (a != b)
                {
                    var arc = Arc(a + 1, b + 1, tools[handed[b]].Count(t => !tools[handed[a]].Contains(t)));
                    model.Add(at[handed[a]] + 1 <= at[handed[b]]).OnlyEnforceIf(arc);
                }
            }
        }
        model.Minimize(LinearExpr.WeightedSum(arcs, costs));
        return Solve(model, seconds);
    }

    private static Answer Solve(CpModel model, double seconds)
    {
        var solver = new CpSolver
        {
            StringParameters = string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"max_time_in_seconds:{seconds},num_workers:2,random_seed:1"
            ),
        };
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var status = solver.Solve(model);
        return new(
            status == CpSolverStatus.Optimal,
            status is CpSolverStatus.Optimal or CpSolverStatus.Feasible ? solver.ObjectiveValue : double.NaN,
            clock.Elapsed.TotalMilliseconds
        );
    }
}
