using System.Diagnostics;
using Idrum.Web.Work;

namespace Idrum.Web.Tests;

/// <summary>Work that nobody waits for gives way.</summary>
public sealed class WorkGateTests
{
    [Fact]
    public async Task Hard_work_makes_room_for_easy_work_within_a_moment_and_ends_by_its_own_deadline()
    {
        using var gate = new WorkGate(TimeProvider.System);
        string Hard(CancellationToken stop)
        {
            while (true)
            {
                stop.ThrowIfCancellationRequested();
            }
        }
        var hard = gate.RunAsync(Hard, CancellationToken.None);
        var took = new List<TimeSpan>();
        for (var i = 0; i < 8; i++)
        {
            var began = Stopwatch.GetTimestamp();
            Assert.Equal("easy", await gate.RunAsync(_ => "easy", CancellationToken.None));
            took.Add(Stopwatch.GetElapsedTime(began));
        }
        // The middle one of eight: a machine with other work on it may stand still for a moment, a gate may not.
        Assert.True(took.Order().ElementAt(4) < TimeSpan.FromMilliseconds(300), string.Join(" ", took));
        await Assert.ThrowsAsync<TimeoutException>(() => hard);
    }

    [Fact]
    public async Task Spare_work_ends_when_something_comes_and_is_not_begun_while_something_is_in_work()
    {
        using var gate = new WorkGate(TimeProvider.System);
        var begun = new TaskCompletionSource();
        var spare = gate.SpareAsync(
            stop =>
            {
                begun.SetResult();
                stop.WaitHandle.WaitOne(TimeSpan.FromSeconds(20));
                stop.ThrowIfCancellationRequested();
                return "done";
            },
            CancellationToken.None
        );
        await begun.Task;
        Assert.Null(await gate.SpareAsync(_ => "second", CancellationToken.None));
        var inWork = new TaskCompletionSource();
        var wanted = gate.RunAsync(
            _ =>
            {
                inWork.Task.Wait(CancellationToken.None);
                return "wanted";
            },
            CancellationToken.None
        );
        Assert.Null(await spare);
        Assert.Null(await gate.SpareAsync(_ => "third", CancellationToken.None));
        inWork.SetResult();
        Assert.Equal("wanted", await wanted);
        Assert.Equal("idle", await gate.SpareAsync(_ => "idle", CancellationToken.None));
    }
}
