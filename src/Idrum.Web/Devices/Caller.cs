namespace Idrum.Web.Devices;

/// <summary>Who makes a request: a feature of it, set at the door.</summary>
/// <param name="Person">Whose the device is; empty where nobody was named.</param>
/// <param name="Device">What it is called.</param>
/// <param name="Keeps">Whether it may keep the shop, beside working in it.</param>
/// <param name="Here">Whether it is the computer the shop is served from.</param>
public sealed record Caller(string Person, string Device, bool Keeps, bool Here)
{
    /// <summary>Id of the device; null for this computer.</summary>
    public Guid? DeviceId { get; init; }
}

/// <summary>Who makes a request.</summary>
public static class Callers
{
    /// <summary>Who makes this request; the door lets nobody in without.</summary>
    public static Caller Caller(this HttpContext context) =>
        context.Features.Get<Caller>() ?? throw new InvalidOperationException("Nobody was let in.");

    /// <summary>The act with who did it and on what.</summary>
    public static T By<T>(this HttpContext context, T act)
        where T : Core.Jobs.Log.JobEvent
    {
        var caller = context.Caller();
        return (T)(act with { By = caller.Person.Length > 0 ? caller.Person : null, Device = caller.Device });
    }
}
