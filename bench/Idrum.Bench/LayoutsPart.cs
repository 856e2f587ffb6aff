using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Every shipped layout on every distinct machine its varying facts and schools make: each wear part and each pair of them planned
/// out and back, the proofs counted, and each way back walked by the words of the format. <c>--read ID</c> prints one machine out and in
/// sentence by sentence; <c>--pin content</c> pins the parents of the shipped variants anew.</summary>
internal static partial class LayoutsPart
{
    internal static Task<bool> RunAsync(string[] args)
    {
        if (args is ["--pin", var folder])
        {
            return Task.FromResult(Pin(folder));
        }
        var content = ContentFolder.Read(BenchHost.Content);
        var (shop, _) = content.Read();
        if (args is ["--read", var id, ..])
        {
            Walk(shop.FindLayout(id) ?? throw new ArgumentException($"There is no layout '{id}'."), [.. args.Skip(2)]);
            return Task.FromResult(true);
        }
        Console.WriteLine($"{"layout",-14} {"ops",4} {"machines",9} {"plans",7} {"proved",7} {"unproved backs",15} {"broken",7} {"ms a plan",10}");
        var ok = true;
        foreach (var layout in shop.Layouts.OrderBy(l => l.Arrangement, StringComparer.Ordinal))
        {
            var (machines, plans, proved, unprovedBack, broken) = (0, 0, 0, 0, 0);
            var clock = Stopwatch.StartNew();
            foreach (var machine in Distinct(layout, shop.Words))
            {
                machines++;
                var planner = new TeardownPlanner(machine);
                var wear = machine.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
                foreach (var pair in wear.SelectMany((a, i) => wear.Skip(i).Select(b => a == b ? new[] { a } : [a, b])))
                {
                    var plan = planner.Plan(new(pair, [], new Dictionary<string, string>()));
                    plans++;
                    proved += plan is { Proof: { Set.Optimal: true, Order.Optimal: true } } ? 1 : 0;
                    unprovedBack += plan is { Proof.Refit.Optimal: true } ? 0 : 1;
                    broken += plan is { WayBack: true } && Breaks(machine, plan) is null ? 0 : 1;
                }
            }
            ok &= proved == plans && broken == 0;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{layout.Arrangement + " " + layout.Title,-14} {layout.Operations.Count,4} {machines,9} {plans,7} {proved,7} {unprovedBack,15} {broken,7} {clock.Elapsed.TotalMilliseconds / plans,10:0.0}"));
        }
        return Task.FromResult(ok);
    }

    /// <summary>The first step of a way back that breaks the words of the format, or null: a step is done while, of each group its operation
    /// was reached through, one really removed member is still out and still reached; after, before and still out hold; every step once.</summary>
    private static string? Breaks(Layout machine, TeardownPlan plan)
    {
        var removed = plan.Removal.Select(o => o.Id).ToHashSet();
        var done = new HashSet<string>();
        bool Out(string operation) => removed.Contains(operation) && !done.Any(k => k.StartsWith(operation + "/", StringComparison.Ordinal));
        bool Reached(string root, string operation, HashSet<string> path) => machine.FindOperation(operation)!.Needs.Select(g => g.Where(removed.Contains).ToList()).Where(g => g.Count > 0)
            .All(g => g.Any(m => !path.Contains(m) && (Out(m) || machine.NotMirrored.Any(p => p.Operation == root && p.Through == m)) && Reached(root, m, [.. path, m])));
        bool There(string key) => removed.Contains(key.Split('/')[0]) && machine.FindOperation(key.Split('/')[0])!.FindStep(key.Split('/')[1]) is not null;
        foreach (var move in plan.Refit)
        {
            var right = !done.Contains(move.Key) && Reached(move.Operation.Id, move.Operation.Id, [move.Operation.Id])
                && move.Step.After.All(k => !There(k) || done.Contains(k)) && move.Step.Before.All(k => !There(k) || !done.Contains(k))
                && move.Step.StillOut.All(o => machine.FindOperation(o) is null || Out(o));
            if (!right)
            {
                return move.Key;
            }
            done.Add(move.Key);
        }
        return done.Count == plan.Removal.Sum(o => o.Steps.Count) ? null : "steps are missing";
    }

    /// <summary>Machines that differ in what is done: two settings that leave the same operations count once.</summary>
    private static IEnumerable<Layout> Distinct(Layout layout, Vocabulary words)
    {
        var seen = new HashSet<string>();
        var settings = layout.Facts.Where(f => f.Varies).Select(f => (f.Id, Values: f.Values is { Count: > 0 } met ? met : [.. words.FindFact(f.Id)!.Values.Select(v => v.Id)]))
            .Concat(layout.Schools.Select(s => (s.Id, Values: (IReadOnlyList<string>)[.. s.Options.Select(o => o.Id)])));
        IEnumerable<Dictionary<string, string>> all = [[]];
        foreach (var (id, values) in settings)
        {
            all = all.SelectMany(m => values.Select(v => new Dictionary<string, string>(m) { [id] = v }));
        }
        foreach (var one in all)
        {
            var machine = layout.For(one, one);
            if (seen.Add(Variants.TextOf(machine with { Facts = [], Schools = [] })))
            {
                yield return machine;
            }
        }
    }

    /// <summary>One machine out and in as its repairer reads it: for the parts named, else for all that wear.</summary>
    private static void Walk(Layout layout, IReadOnlyList<string> parts)
    {
        var machine = layout.For(new Dictionary<string, string>(), new Dictionary<string, string>());
        var plan = new TeardownPlanner(machine).Plan(new(parts.Count > 0 ? parts : [.. machine.Parts.Where(p => p.Wears).Select(p => p.Id)], [], new Dictionary<string, string>()))!;
        foreach (var o in plan.Removal)
        {
            Console.WriteLine($"- {o.Do}. {o.Why} [{o.View}; {string.Join(", ", o.Fasteners.Select(f => $"{f.Count} {f.Head} {f.Size} {f.Where}"))}]");
        }
        Console.WriteLine("--- back");
        foreach (var m in plan.Refit)
        {
            Console.WriteLine($"+ {m.Step.Do}. {m.Step.Why} ({string.Join("; ", m.Step.Checks.Select(c => c.Text))})");
        }
    }

    /// <summary>After a parent was written anew: pins its present hash in the shipped variants, file by file, until all are read.</summary>
    private static bool Pin(string contentFolder)
    {
        while (true)
        {
            try
            {
                ContentFolder.Read(contentFolder).Read();
                return true;
            }
            catch (InvalidDataException e)
            {
                if (Stale().Match(e.Message) is not { Success: true } stale)
                {
                    Console.WriteLine(e.Message.Replace(" | ", "\n  ", StringComparison.Ordinal));
                    return false;
                }
                var file = Path.Combine(contentFolder, "layouts", stale.Groups[1].Value);
                File.WriteAllText(file, Hash().Replace(File.ReadAllText(file), $"${{1}}{stale.Groups[2].Value}\"", 1));
                Console.WriteLine($"{stale.Groups[1].Value} pins {stale.Groups[2].Value}");
            }
        }
    }

    [GeneratedRegex("^([a-z0-9-]+\\.json): /extends .*pin its hash ([0-9a-f]{64})")]
    private static partial Regex Stale();

    [GeneratedRegex("(\"hash\": ?\")[0-9a-f]*\"")]
    private static partial Regex Hash();
}
