using System.Collections.Concurrent;
using System.Globalization;
using System.Net.ServerSentEvents;
using System.Threading.Channels;
using Idrum.Storage;

namespace Idrum.Web.Work;

/// <summary>Tells the open pages of a job that an act was stored: server-sent events with the job's version.</summary>
public sealed class LiveJobs
{
    /// <summary>Most pages that are told at once; further ones see changes when they are loaded.</summary>
    private const int MostFollowers = 200;
    private readonly ConcurrentDictionary<Guid, (Guid JobId, Channel<int> Versions)> followers = new();

    public LiveJobs(JobStore store) =>
        store.Stored += (id, version) =>
        {
            foreach (var (_, versions) in followers.Values.Where(f => f.JobId == id))
            {
                versions.Writer.TryWrite(version);
            }
        };

    /// <summary>Follows a job until the page goes.</summary>
    public static IResult FollowAsync(string number, JobStore store, LiveJobs live, HttpContext context) =>
        store.Find(number) is not { } job ? Results.NotFound()
        : live.followers.Count >= MostFollowers ? Results.StatusCode(StatusCodes.Status503ServiceUnavailable)
        : TypedResults.ServerSentEvents(live.Versions(job, context.RequestAborted));

    private async IAsyncEnumerable<SseItem<string>> Versions(
        StoredJob job,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone
    )
    {
        var (key, channel) = (
            Guid.NewGuid(),
            Channel.CreateBounded<int>(new BoundedChannelOptions(8) { FullMode = BoundedChannelFullMode.DropOldest })
        );
        followers[key] = (job.JobId, channel);
        try
        {
            yield return Item(job.Version);
            while (!gone.IsCancellationRequested)
            {
                using var quiet = CancellationTokenSource.CreateLinkedTokenSource(gone);
                quiet.CancelAfter(TimeSpan.FromSeconds(20));
                int? version = null;
                try
                {
                    version = await channel.Reader.ReadAsync(quiet.Token);
                }
                catch (OperationCanceledException) when (!gone.IsCancellationRequested)
                {
                    // Nothing for a while: a sign that the line still holds.
                }
                catch (OperationCanceledException)
                {
                    yield break;
                }
                yield return version is { } v ? Item(v) : new SseItem<string>("", "still");
            }
        }
        finally
        {
            followers.TryRemove(key, out _);
        }

        static SseItem<string> Item(int version) => new(version.ToString(CultureInfo.InvariantCulture));
    }
}
