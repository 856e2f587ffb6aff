using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;
using Idrum.Core.Tests.Teardown;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Every shipped layout on every distinct machine its varying facts and schools make: each wear part and each
/// pair of them planned
/// out and back, the proofs counted, each step of each way once said not to be here, and all of it walked by a checker
/// written from the words of the format;
/// then random files by the day's seed. <c>--read ID</c> prints one machine out and in
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
        Console.WriteLine(
            $"{"layout", -14} {"ops", 4} {"machines", 9} {"plans", 7} {"proved", 7} {"unproved backs", 15} {"broken", 7} {"ms a plan", 10} {"once absent", 12} {"no way", 7} {"broken", 7}"
        );
        var ok = true;
        foreach (
            var layout in shop.Layouts.OrderBy(l => l.Arrangement, StringComparer.Ordinal).Take(BenchHost.Size(99, 1))
        )
        {
            var (machines, plans, proved, unprovedBack, broken, absences, none, wrong) = (0, 0, 0, 0, 0, 0, 0, 0);
            var clock = new Stopwatch();
            foreach (var (machine, settings) in Distinct(layout, shop.Words).Take(BenchHost.Size(int.MaxValue, 2)))
            {
                machines++;
                var planner = new TeardownPlanner(machine);
                var wear = machine.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
                foreach (var pair in wear.SelectMany((a, i) => wear.Skip(i).Select(b => a == b ? new[] { a } : [a, b])))
                {
                    clock.Start();
                    var plan = planner.Plan(new(pair, [], new Dictionary<string, OperationId>()));
                    clock.Stop();
                    plans++;
                    proved += plan is { Proof: { Set.Optimal: true, Order.Optimal: true } } ? 1 : 0;
                    unprovedBack += plan is { Proof.Refit.Optimal: true } ? 0 : 1;
                    broken +=
                        plan is { WayBack: true } && Breaks(new(layout, settings, settings, []), plan) is null ? 0 : 1;
                    foreach (var gone in pair.Length > 1 ? [] : plan?.Removal.Select(o => o.Id) ?? [])
                    {
                        // Not here on this machine: what stood in its way stands in the way of what needed it, out and
                        // in.
                        absences++;
                        var without = planner.Plan(
                            new(pair, [], new Dictionary<string, OperationId>()) { Absent = [gone] }
                        );
                        none += without is { WayBack: true } ? 0 : 1;
                        if (
                            without is { WayBack: true }
                            && Breaks(new(layout, settings, settings, [gone]), without) is { } why
                        )
                        {
                            wrong++;
                            Console.WriteLine($"  {layout.Id}, {string.Join('+', pair)} without {gone}: {why}");
                        }
                    }
                }
            }
            ok &= proved == plans && broken == 0 && wrong == 0;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{layout.Arrangement + " " + layout.Title, -14} {layout.Operations.Count, 4} {machines, 9} {plans, 7} {proved, 7} {unprovedBack, 15} {broken, 7} {clock.Elapsed.TotalMilliseconds / plans, 10:0.0} {absences, 12} {none, 7} {wrong, 7}"
                )
            );
        }
        return Task.FromResult(
            Random(shop, args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 2000) && ok
        );
    }

    /// <summary>Files made up at random, by the day's seed: taken or refused, planned and put back as the words of the
    /// format say.</summary>
    private static bool Random(Core.Shop.ShopSnapshot shop, int files)
    {
        var day = (int)(DateTime.UtcNow.Date - DateTime.UnixEpoch).TotalDays * 100_000;
        var check = new FileCheck(shop.Layouts[0], shop.Words);
        var wrong = 0;
        for (var seed = day; seed < day + files; seed++)
        {
            if (check.Check(seed) is { } why)
            {
                wrong++;
                Console.WriteLine($"  random file {seed}: {why}");
            }
        }
        Console.WriteLine(
            $"random files {files} from seed {day}: {check.Sound} sound, {check.Refused} refused, {check.Plans} plans, {check.Absences} with a step once absent, {check.LeftOut} with one left out; {wrong} otherwise than the words of the format say"
        );
        return wrong == 0;
    }

    /// <summary>Where a plan breaks the words of the format, or null.</summary>
    private static string? Breaks(FormatJudge judge, TeardownPlan plan)
    {
        var removed = new HashSet<OperationId>();
        foreach (var o in plan.Removal)
        {
            if (!judge.MayComeOut(o.Id, removed, true))
            {
                return $"{o.Id} comes out too early";
            }
            removed.Add(o.Id);
        }
        var back = new HashSet<string>();
        foreach (var move in plan.Refit)
        {
            if (judge.WhyNotBack(move.Ref.ToString(), removed, back) is { } why)
            {
                return $"{move.Ref.ToString()}: {why}";
            }
            back.Add(move.Ref.ToString());
        }
        return back.SetEquals(judge.KeysOf(removed)) ? null : "steps are missing on the way back";
    }

    /// <summary>Machines that differ in what is done: two settings that leave the same operations count once.</summary>
    private static IEnumerable<(Layout Machine, Dictionary<string, string> Settings)> Distinct(
        Layout layout,
        Vocabulary words
    )
    {
        var seen = new HashSet<string>();
        var settings = layout
            .Facts.Where(f => f.Varies)
            .Select(f =>
                (
                    f.Id,
                    Values: f.Values is { Count: > 0 } met ? met : [.. words.FindFact(f.Id)!.Values.Select(v => v.Id)]
                )
            )
            .Concat(
                layout.Schools.Select(s => (s.Id, Values: (IReadOnlyList<string>)[.. s.Options.Select(o => o.Id)]))
            );
        IEnumerable<Dictionary<string, string>> all =
        [
            [],
        ];
        foreach (var (id, values) in settings)
        {
            all = all.SelectMany(m => values.Select(v => new Dictionary<string, string>(m) { [id] = v }));
        }
        foreach (var one in all)
        {
            var machine = layout.For(one, one);
            if (seen.Add(Variants.TextOf(machine with { Facts = [], Schools = [] })))
            {
                yield return (machine, one);
            }
        }
    }

    /// <summary>One machine out and in as its repairer reads it: for the parts named, else for all that wear.</summary>
    private static void Walk(Layout layout, IReadOnlyList<PartId> parts)
    {
        var machine = layout.For(new Dictionary<string, string>(), new Dictionary<string, string>());
        var plan = new TeardownPlanner(machine).Plan(
            new(
                parts.Count > 0 ? parts : [.. machine.Parts.Where(p => p.Wears).Select(p => p.Id)],
                [],
                new Dictionary<string, OperationId>()
            )
        )!;
        foreach (var o in plan.Removal)
        {
            Console.WriteLine(
                $"- {o.Do}. {o.Why} [{o.View}; {string.Join(", ", o.Fasteners.Select(f => $"{f.Count} {f.Head} {f.Size} {f.Where}"))}]"
            );
        }
        Console.WriteLine("--- back");
        foreach (var m in plan.Refit)
        {
            Console.WriteLine($"+ {m.Step.Do}. {m.Step.Why} ({string.Join("; ", m.Step.Checks.Select(c => c.Text))})");
        }
    }

    /// <summary>After a parent was written anew: pins its present hash in the shipped variants, file by file, until all
    /// are read.</summary>
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
