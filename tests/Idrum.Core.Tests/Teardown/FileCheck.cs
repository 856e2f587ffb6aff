using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Puts layouts made up at random to the checker of files and to the planner, and both to the words of the
/// format.</summary>
internal sealed class FileCheck(Layout like, Vocabulary words)
{
    private static readonly Dictionary<string, string> None = [];

    internal int Sound { get; private set; }
    internal int Refused { get; private set; }
    internal int Plans { get; private set; }
    internal int Absences { get; private set; }
    internal int LeftOut { get; private set; }

    /// <summary>One file: whether it is rightly taken or refused, and every plan on every machine of it, with each
    /// planned step once absent and
    /// each thing that prudence wants once left out.</summary>
    /// <returns>What is wrong, or null.</returns>
    internal string? Check(int seed)
    {
        var file = RandomFile.Make(new Random(seed), like);
        var wrong = RandomFile
            .Machines.Select(m => new FormatJudge(file, m, None, []).Unsound())
            .FirstOrDefault(w => w is not null);
        var errors = TeardownRules.Check(file, words);
        if (errors.Count > 0 != wrong is not null)
        {
            return wrong is null ? $"refused though sound: {errors[0].Message}" : $"taken though {wrong}";
        }
        if (wrong is not null)
        {
            Refused++;
            return null;
        }
        Sound++;
        foreach (var facts in RandomFile.Machines)
        {
            var planner = new TeardownPlanner(file.For(facts, None));
            var request = new TeardownRequest(["p"], [], new Dictionary<string, OperationId>());
            var plan = planner.Plan(request);
            if (Fault(file, facts, plan, request) is { } fault)
            {
                return $"{Said(facts)}: {fault}";
            }
            foreach (var operation in plan!.Removal)
            {
                var without = request with { Absent = [operation.Id] };
                Absences++;
                if (Fault(file, facts, planner.Plan(without), without) is { } lacking)
                {
                    return $"{Said(facts)} without {operation.Id}: {lacking}";
                }
                if (
                    plan.Removal.Any(o => o.First.Any(g => g.Contains(operation.Id)))
                    && !plan.Removal.Any(o => o.Needs.Any(g => g.Contains(operation.Id)))
                )
                {
                    // Left out at the machine and the rest done: it still goes back.
                    LeftOut++;
                    var left = request with { LeftOut = [operation.Id] };
                    if (Fault(file, facts, planner.Plan(left), left) is { } skipped)
                    {
                        return $"{Said(facts)} with {operation.Id} left out: {skipped}";
                    }
                }
            }
        }
        return null;
    }

    private static string Said(Dictionary<string, string> facts) =>
        string.Join(' ', facts.Select(f => $"{f.Key}={f.Value}"));

    /// <summary>What is wrong with a plan by the words of the format, or null.</summary>
    private string? Fault(Layout file, Dictionary<string, string> facts, TeardownPlan? plan, TeardownRequest request)
    {
        Plans++;
        var judge = new FormatJudge(file, facts, None, request.Absent);
        bool First(Operation o, IReadOnlySet<OperationId> done) =>
            o.First.All(g =>
                g.Any(m => request.LeftOut.Contains(m) || request.Absent.Contains(m))
                || !g.Any(judge.IsHere)
                || g.Any(m => judge.IsHere(m) && done.Contains(m))
            );
        int Cost(IEnumerable<OperationId> set) =>
            set.Sum(id =>
                (int)
                    Math.Round(
                        100 * (file.FindOperation(id)!.Minutes.Typical + judge.StepsOf(id).Sum(s => s.Minutes.Typical))
                    )
            );
        bool Free(IReadOnlySet<OperationId> set) =>
            file
                .Operations.Where(o => judge.Holds(o.When))
                .Any(o =>
                    o.Frees.Any(p => p == "p")
                    && (judge.IsHere(o.Id) ? set.Contains(o.Id) : o.Needs.All(g => judge.Served(g, set)))
                );
        // The cheapest that frees the part and holds what its steps want out; with one option of a way, where that can
        // be.
        var found = new Dictionary<string, HashSet<OperationId>> { [""] = [] };
        var open = new Queue<HashSet<OperationId>>([
            [],
        ]);
        while (open.TryDequeue(out var set))
        {
            foreach (
                var o in judge.Here.Where(o =>
                    !set.Contains(o.Id) && judge.MayComeOut(o.Id, set, false) && First(o, set)
                )
            )
            {
                HashSet<OperationId> more = [.. set, o.Id];
                if (found.TryAdd(string.Join(' ', more.Order()), more))
                {
                    open.Enqueue(more);
                }
            }
        }
        var freeing = found.Values.Where(s => Free(s) && judge.Closed(s)).ToList();
        if (freeing.Count == 0)
        {
            return plan is null ? null : "planned although it cannot be reached";
        }
        // What an absence makes possible that the file alone does not need not go back: then another set is taken, or
        // it is said that none does.
        if (request.Absent.Count > 0)
        {
            freeing = [.. freeing.Where(s => judge.HasWayBack(s))];
            if (freeing.Count == 0)
            {
                return plan is null or { WayBack: false } ? null : "planned although nothing goes back";
            }
        }
        if (plan is null)
        {
            return "not planned";
        }
        var one = freeing.Where(s => !judge.TwoOfOneWay(s)).ToList();
        var removed = plan.Removal.Select(o => o.Id).ToHashSet();
        if (one.Count > 0 && judge.TwoOfOneWay(removed))
        {
            return "two options of one way";
        }
        var least = (one.Count > 0 ? one : freeing).Min(Cost);
        if (!plan.Proof.Set.Optimal || least != (int)Math.Round(plan.Minutes * 100))
        {
            return $"{plan.Minutes} min planned, {least / 100.0} will do";
        }
        var done = new HashSet<OperationId>();
        foreach (var o in plan.Removal)
        {
            if (!judge.MayComeOut(o.Id, done, false) || !First(o, done))
            {
                return $"{o.Id} comes out too early: {string.Join(' ', plan.Removal.Select(x => x.Id))}";
            }
            done.Add(o.Id);
        }
        if (!plan.WayBack)
        {
            return "no way back planned";
        }
        var back = new HashSet<string>();
        foreach (var move in plan.Refit)
        {
            if (judge.WhyNotBack(move.Ref.ToString(), removed, back) is { } why)
            {
                return $"{move.Ref.ToString()}: {why}: out {string.Join(' ', removed)} back {string.Join(' ', plan.Refit.Select(m => m.Ref.ToString()))}";
            }
            back.Add(move.Ref.ToString());
        }
        return back.SetEquals(judge.KeysOf(removed)) ? null : "steps are missing on the way back";
    }
}
