using Idrum.Web.Jobs;

namespace Idrum.Web.Tests;

/// <summary>Work that nobody waits for gives way.</summary>
public sealed class WorkGateTests
{
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
            CancellationToken.None);
        await begun.Task;
        Assert.Null(await gate.SpareAsync(_ => "second", CancellationToken.None));
        var inWork = new TaskCompletionSource();
        var wanted = gate.RunAsync(
            _ =>
            {
                inWork.Task.Wait(CancellationToken.None);
                return "wanted";
            },
            CancellationToken.None);
        Assert.Null(await spare);
        Assert.Null(await gate.SpareAsync(_ => "third", CancellationToken.None));
        inWork.SetResult();
        Assert.Equal("wanted", await wanted);
        Assert.Equal("idle", await gate.SpareAsync(_ => "idle", CancellationToken.None));
    }
}
