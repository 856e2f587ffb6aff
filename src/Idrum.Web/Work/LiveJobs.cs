using System.Collections.Concurrent;
using System.Globalization;
using System.Net.ServerSentEvents;
using System.Threading.Channels;
using Idrum.Storage;
using Idrum.Web.Devices;

namespace Idrum.Web.Work;

/// <summary>Tells the open pages of a job that an act was stored: server-sent events with the job's version.</summary>
public sealed class LiveJobs
{
    /// <summary>Most pages that are told at once; further ones see changes when they are loaded.</summary>
    private const int MostFollowers = 200;
    private readonly ConcurrentDictionary<Guid, (Guid JobId, Channel<int> Versions, Guid? Device)> followers = new();

    /// <summary>Most lines of one device: more pages than that nobody has open.</summary>
    private const int MostOfDevice = 24;

    public LiveJobs(JobStore store, DeviceStore devices, IHostApplicationLifetime lifetime)
    {
        // A shop that ends, to be updated or brought back, does not wait half a minute for pages that only listen.
        lifetime.ApplicationStopping.Register(() =>
        {
            foreach (var follower in followers.Values)
            {
                follower.Versions.Writer.TryComplete();
            }
        });
        store.Stored += (id, version) =>
        {
            foreach (var follower in followers.Values.Where(f => f.JobId == id))
            {
                follower.Versions.Writer.TryWrite(version);
            }
        };
        devices.Revoked += device =>
        {
            foreach (var follower in followers.Values.Where(f => f.Device == device))
            {
                follower.Versions.Writer.TryComplete();
            }
        };
    }

    /// <summary>Follows a job until the page goes.</summary>
    public static IResult FollowAsync(string number, JobStore store, LiveJobs live, HttpContext context) =>
        store.Find(number) is not { } job ? Results.NotFound()
        : live.followers.Count >= MostFollowers
        || live.followers.Values.Count(f => f.Device == context.Caller().DeviceId) >= MostOfDevice
            ? Results.StatusCode(StatusCodes.Status503ServiceUnavailable)
        : TypedResults.ServerSentEvents(live.Versions(job, context.Caller().DeviceId, context.RequestAborted));

    private async IAsyncEnumerable<SseItem<string>> Versions(
        StoredJob job,
        Guid? device,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken gone
    )
    {
        var (key, channel) = (
            Guid.NewGuid(),
            Channel.CreateBounded<int>(new BoundedChannelOptions(8) { FullMode = BoundedChannelFullMode.DropOldest })
        );
        followers[key] = (job.JobId, channel, device);
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
                catch (Exception e) when (e is OperationCanceledException or ChannelClosedException)
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
