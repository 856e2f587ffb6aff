using System.Threading.Channels;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Drawing;
using Idrum.Web.Pages.Jobs;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Web.Work;

/// <summary>Makes the package of a job that was just looked at ready, before a device asks for it: what follows each step, and
/// the pictures of all of them. Nobody waits for it: it is done where nothing else is, behind everything else, and what
/// comes to the gate ends it.</summary>
public sealed partial class PackageAhead(
    JobServices services,
    WorkGate gate,
    TimeProvider clock,
    ILogger<PackageAhead> log
) : BackgroundService
{
    // A page that was opened asks for its own things first.
    private static readonly TimeSpan Settle = TimeSpan.FromMilliseconds(400);
    private const int Tries = 4;
    private const int Most = 8;

    private readonly Channel<JobView> wanted = Channel.CreateBounded<JobView>(
        new BoundedChannelOptions(Most) { FullMode = BoundedChannelFullMode.DropOldest }
    );

    // For which plan of a job it was made last: a device follows the steps of one plan by itself.
    private readonly MemoryCache made = new(new MemoryCacheOptions { SizeLimit = 200 });

    /// <summary>A job was looked at: its package may be asked for.</summary>
    public void Offer(JobView view)
    {
        if (view.Package is not null || view.State is not { Closed: null, Targets.Count: > 0, SafeBy.Length: > 0 })
        {
            return;
        }
        var plan = PlanOf(view);
        if (!made.TryGetValue(view.Job.JobId, out string? last) || last != plan)
        {
            wanted.Writer.TryWrite(view);
        }
    }

    // What a device cannot foresee: other parts, other ways, what was found on the way.
    private static string PlanOf(JobView view) =>
        string.Join(
            '|',
            view.ShopVersion,
            view.State.Station.Word(),
            string.Join(',', view.State.Targets.Order()),
            view.State.Stuck.Count,
            view.State.Absent.Count,
            view.Job.History.Effective.Count(e => e is WaysChosen or SchoolChosen or ProblemNoted)
        );

    /// <inheritdoc />
    public override void Dispose()
    {
        made.Dispose();
        base.Dispose();
    }

    /// <inheritdoc />
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            await foreach (var view in wanted.Reader.ReadAllAsync(stoppingToken))
            {
                for (var n = 0; n < Tries && view.Package is null; n++)
                {
                    await Task.Delay(Settle * (n + 1), clock, stoppingToken);
                    if (
                        await gate.SpareAsync(stop => Behind(() => Make(view, stop)), stoppingToken) is
                        { Fault: { } fault }
                    )
                    {
                        // Who asks for it is told what is wrong; here nobody waits.
                        NotMade(view.State.Number, fault);
                        break;
                    }
                }
            }
        }
        catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
        {
            // Idrum ends.
        }
    }

    private void Make(JobView view, CancellationToken stop)
    {
        if (JobPackage.Of(view, stop) is not { } package)
        {
            return;
        }
        foreach (var step in package.Views)
        {
            stop.ThrowIfCancellationRequested();
            var floor = new FloorModel(services)
            {
                PageContext = new PageContext { HttpContext = new DefaultHttpContext() },
            };
            floor.Foresee(step.View);
            if (floor.OnFloor is not null)
            {
                MachineDrawing.Of(view.Layout, floor.Picture);
            }
        }
        view.Package = package;
        made.Set(view.Job.JobId, PlanOf(view), new MemoryCacheEntryOptions { Size = 1 });
    }

    private sealed record Ended(Exception? Fault);

    /// <summary>On a thread of its own, behind everything else.</summary>
    private static Ended Behind(Action work)
    {
        Exception? fault = null;
        var thread = new Thread(() =>
        {
            WorkThread.Lower(WorkThread.Id());
            try
            {
                work();
            }
            catch (Exception e)
            {
                fault = e;
            }
        });
        thread.Start();
        thread.Join();
        return fault is OperationCanceledException ? throw fault : new(fault);
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The package of {Job} was not made ready.")]
    private partial void NotMade(string job, Exception fault);
}
