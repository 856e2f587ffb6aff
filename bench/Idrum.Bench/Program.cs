using Idrum.Bench;

// Each part prints its figures against a reference in the same run.
var parts = new Dictionary<string, Func<string[], Task<bool>>>
{
    ["pages"] = PagesPart.RunAsync,
    ["advice"] = AdvicePart.RunAsync,
    ["find"] = FindPart.RunAsync,
    ["small"] = SmallPart.RunAsync,
    ["layouts"] = LayoutsPart.RunAsync,
    ["identify"] = IdentifyPart.RunAsync,
    ["planner"] = PlannerPart.RunAsync,
    ["load"] = LoadPart.RunAsync,
    ["fuzz"] = FuzzPart.RunAsync,
    ["kill"] = KillPart.RunAsync,
    ["fit"] = FitPart.RunAsync,
    ["manners"] = MannersPart.RunAsync,
    ["listening"] = ListeningPart.RunAsync,
    ["logbook"] = LogbookPart.RunAsync,
    ["gauging"] = args => Task.FromResult(GaugingPart.Run(args)),
};

// A process that is to die at a step of a restore; started by the part that kills.
if (args is [RestoreKills.Dying, var file, var into, var step])
{
    return RestoreKills.RestoreAndDie(file, into, int.Parse(step, System.Globalization.CultureInfo.InvariantCulture));
}

// Each part at its smallest size: does it run to its end?
if (args is ["smallest", .. var few])
{
    BenchHost.Smallest = true;
    var small = new Dictionary<string, string[]>
    {
        ["find"] = ["1", "quick", "model", "bits", "ostrel-or70"],
        ["small"] = ["1"],
        ["layouts"] = ["20"],
        ["load"] = ["2"],
        ["fuzz"] = ["200"],
        ["kill"] = ["1", "20"],
        ["fit"] = ["2"],
        ["manners"] = ["12"],
        ["listening"] = ["4"],
        ["logbook"] = ["60"],
        ["gauging"] = ["40"],
    };
    foreach (var name in parts.Keys.Where(k => few.Length == 0 || few.Contains(k)))
    {
        var watch = System.Diagnostics.Stopwatch.StartNew();
        await parts[name](small.GetValueOrDefault(name, []));
        Console.WriteLine($"== {name} ran to its end in {watch.Elapsed.TotalSeconds:0.0} s");
    }
    return 0;
}
var wanted = args.Length > 0 && !args[0].StartsWith('-') ? [args[0]] : new[] { "pages" };
var ok = true;
foreach (var name in wanted)
{
    if (!parts.TryGetValue(name, out var part))
    {
        Console.Error.WriteLine($"There is no part '{name}'. Parts: {string.Join(", ", parts.Keys)}.");
        return 2;
    }
    ok &= await part([.. args.Skip(1)]);
}
Console.WriteLine(ok ? "within the bounds" : "OUT OF BOUNDS");
return ok ? 0 : 1;
