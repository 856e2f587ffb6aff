using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Loggers;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.NoEmit;
using Idrum.Bench;

// Everything in one process and one run, so that page, advice and empty page are measured under the same load.
var config = ManualConfig.CreateEmpty()
    .AddJob(Job.Default.WithToolchain(InProcessNoEmitToolchain.Instance).WithWarmupCount(10).WithIterationCount(20).WithInvocationCount(64).WithUnrollFactor(1))
    .AddLogger(NullLogger.Instance)
    .WithOptions(ConfigOptions.DisableLogFile | ConfigOptions.DisableOptimizationsValidator);
var summary = BenchmarkRunner.Run<PageTimes>(config);
var medians = summary.Reports.Where(r => r.ResultStatistics is not null)
    .ToDictionary(r => r.BenchmarkCase.Descriptor.WorkloadMethod.Name, r => r.ResultStatistics!.Median / 1e6);
if (medians.Count < 6)
{
    Console.Error.WriteLine("The benchmark did not run to its end.");
    return 1;
}
var empty = medians[nameof(PageTimes.EmptyPage)];
Console.WriteLine($"empty Razor page     {empty,8:0.000} ms");
foreach (var (name, words) in new[] { (nameof(PageTimes.FindPage), "job page, Find"), (nameof(PageTimes.StripPage), "job page, Strip"), (nameof(PageTimes.FloorPage), "job page, floor") })
{
    Console.WriteLine($"{words,-20} {medians[name],8:0.000} ms  {medians[name] / empty:0.0} × the empty page (at most 4)");
}
var drawn = medians[nameof(PageTimes.FindPageDrawn)];
Console.WriteLine($"Find, drawn anew     {drawn,8:0.000} ms  {drawn / empty:0.0} × the empty page; the first sending after an act");
Console.WriteLine($"advice, layout E     {medians[nameof(PageTimes.Advice)],8:0.000} ms  (at most 30)");
var (first, nextState) = AdviceTimes.Measure();
Console.WriteLine($"advice, next state   {nextState,8:0.000} ms  (at most 30) after each step, in a state not met before");
Console.WriteLine($"advice, first asked  {first,8:0.000} ms  planner and model of the machine built before it");
var worst = new[] { nameof(PageTimes.FindPage), nameof(PageTimes.StripPage), nameof(PageTimes.FloorPage) }.Max(n => medians[n] / empty);
var ok = worst <= 4 && medians[nameof(PageTimes.Advice)] <= 30 && nextState <= 30;
Console.WriteLine(ok ? "within the bounds" : "OUT OF BOUNDS");
return ok ? 0 : 1;
