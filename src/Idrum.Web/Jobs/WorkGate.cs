namespace Idrum.Web.Jobs;

/// <summary>Advice and plans that have to be worked out: two at once at most, and one fewer than there are cores, so that pages always have one.
/// Others wait their turn. Each has a deadline from its own start and ends when its caller leaves.</summary>
public sealed class WorkGate(TimeProvider clock) : IDisposable
{
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private readonly SemaphoreSlim free = new(Math.Clamp(Environment.ProcessorCount - 1, 1, 2));

    private readonly Lock sparing = new();
    private CancellationTokenSource? spare;
    private int present;

    /// <summary>How many are in work or wait for their turn.</summary>
    public int Present => Volatile.Read(ref present);

    /// <exception cref="TimeoutException">It was not done within the deadline.</exception>
    /// <exception cref="OperationCanceledException">The caller left.</exception>
    public async Task<T> RunAsync<T>(Func<CancellationToken, T> work, CancellationToken caller)
    {
        using var late = new CancellationTokenSource(Patience, clock);
        using var either = CancellationTokenSource.CreateLinkedTokenSource(caller, late.Token);
        Interlocked.Increment(ref present);
        lock (sparing)
        {
            spare?.Cancel();
        }
        try
        {
            await free.WaitAsync(either.Token);
            try
            {
                late.CancelAfter(Deadline);
                return await Task.Run(() => work(either.Token), either.Token);
            }
            finally
            {
                free.Release();
            }
        }
        catch (OperationCanceledException) when (late.IsCancellationRequested && !caller.IsCancellationRequested)
        {
            throw new TimeoutException("Too much is being worked out at once.");
        }
        finally
        {
            Interlocked.Decrement(ref present);
        }
    }

    /// <summary>Does work that nobody waits for, where nothing else is to be done; it ends when something comes or its caller leaves.</summary>
    /// <returns>Null where it was not done.</returns>
    public async Task<T?> SpareAsync<T>(Func<CancellationToken, T> work, CancellationToken caller)
        where T : class
    {
        using var own = CancellationTokenSource.CreateLinkedTokenSource(caller);
        lock (sparing)
        {
            if (Present > 0 || spare is not null)
            {
                return null;
            }
            spare = own;
        }
        try
        {
            return await Task.Run(() => work(own.Token), own.Token);
        }
        catch (OperationCanceledException)
        {
            return null;
        }
        finally
        {
            lock (sparing)
            {
                spare = null;
            }
        }
    }

    public void Dispose() => free.Dispose();
}
