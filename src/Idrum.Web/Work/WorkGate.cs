namespace Idrum.Web.Work;

/// <summary>Advice and plans that have to be worked out. One fewer at once than there are cores begin, so that pages
/// always have one; what takes longer than
/// a moment makes room for the next and goes on behind it, at lower priority, two such at most. Each has a deadline
/// from its own start and ends when its
/// caller leaves.</summary>
public sealed class WorkGate(TimeProvider clock) : IDisposable
{
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan Moment = TimeSpan.FromMilliseconds(120);
    private readonly SemaphoreSlim free = new(Math.Clamp(Environment.ProcessorCount - 1, 1, 2));
    private readonly SemaphoreSlim behind = new(2);

    private readonly Lock sparing = new();
    private CancellationTokenSource? spare;
    private int present;

    /// <summary>How many are in work or wait for their turn.</summary>
    public int Present => Volatile.Read(ref present);

    /// <param name="work">The work; its token ends it.</param>
    /// <param name="caller">Ends with who asks for it.</param>
    /// <param name="deadline">From its own start; five seconds where none is given.</param>
    /// <exception cref="TimeoutException">It was not done within the deadline.</exception>
    /// <exception cref="OperationCanceledException">The caller left.</exception>
    public async Task<T> RunAsync<T>(
        Func<CancellationToken, T> work,
        CancellationToken caller,
        TimeSpan? deadline = null
    )
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
            var held = free;
            try
            {
                late.CancelAfter(deadline ?? Deadline);
                var thread = 0;
                // A thread of its own: its priority may be lowered, and it is never given to anything else.
                var running = Task.Factory.StartNew(
                    () =>
                    {
                        thread = WorkThread.Id();
                        return work(either.Token);
                    },
                    either.Token,
                    TaskCreationOptions.LongRunning,
                    TaskScheduler.Default
                );
                if (
                    await Task.WhenAny(running, Task.Delay(Moment, clock, either.Token)) != running
                    && await behind.WaitAsync(0, CancellationToken.None)
                )
                {
                    WorkThread.Lower(thread);
                    free.Release();
                    held = behind;
                }
                return await running;
            }
            finally
            {
                held.Release();
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

    /// <summary>Does work that nobody waits for, where nothing else is to be done; it ends when something comes or its
    /// caller leaves.</summary>
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

    public void Dispose()
    {
        free.Dispose();
        behind.Dispose();
    }
}
