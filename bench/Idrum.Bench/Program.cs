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
};
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
