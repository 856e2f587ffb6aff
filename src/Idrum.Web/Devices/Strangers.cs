using System.Threading.RateLimiting;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.RateLimiting;

namespace Idrum.Web.Devices;

/// <summary>What whoever is not paired may ask: enough to pair a phone, not enough to be in the way of who
/// works.</summary>
public static class Strangers
{
    /// <summary>Requests of one address at once.</summary>
    private const int AtOnce = 60;

    /// <summary>Requests of one address a second beyond that.</summary>
    private const int EachSecond = 6;

    /// <summary>Requests of all strangers together a second: who comes from many addresses is still one crowd.</summary>
    private const int OfAll = 200;

    /// <summary>Sets the limits; whoever is known is not limited.</summary>
    public static void Limit(RateLimiterOptions options)
    {
        options.RejectionStatusCode = 429;
        options.OnRejected = async (context, _) =>
        {
            context.HttpContext.Response.Headers.RetryAfter = "10";
            context.HttpContext.Items[ErrorAnswer.Words] =
                "Too much is asked from where nobody is paired. Wait ten seconds, then try again.";
            await ErrorAnswer.WriteAsync(context.HttpContext);
        };
        options.GlobalLimiter = PartitionedRateLimiter.CreateChained(
            PartitionedRateLimiter.Create<HttpContext, string>(c =>
                IsKnown(c)
                    ? RateLimitPartition.GetNoLimiter("known")
                    : Bucket(c.Connection.RemoteIpAddress?.ToString() ?? "", AtOnce, EachSecond)
            ),
            PartitionedRateLimiter.Create<HttpContext, string>(c =>
                IsKnown(c) ? RateLimitPartition.GetNoLimiter("known") : Bucket("all", OfAll, OfAll)
            )
        );
    }

    private static bool IsKnown(HttpContext context) => context.Features.Get<Caller>() is not null;

    private static RateLimitPartition<string> Bucket(string who, int most, int each) =>
        RateLimitPartition.GetTokenBucketLimiter(who, _ => new()
            {
                TokenLimit = most,
                TokensPerPeriod = each,
                ReplenishmentPeriod = TimeSpan.FromSeconds(1),
                AutoReplenishment = true,
            });
}
