namespace Idrum.Core.Shop;

/// <summary>Holds the present <see cref="ShopSnapshot"/>. Whoever works reads it once and works with that one to the
/// end; whoever changes what the shop knows does so after
/// it is stored. Safe for many threads.</summary>
/// <param name="first">The shop as it starts.</param>
public sealed class ShopKeeper(ShopSnapshot first)
{
    private readonly Lock changing = new();
    private volatile ShopSnapshot now = first;

    /// <summary>The present one.</summary>
    public ShopSnapshot Now => now;

    /// <summary>Puts another in its place, of the next version.</summary>
    /// <param name="change">From the present one to the next; quick, for others wait.</param>
    /// <returns>The one that is present now.</returns>
    public ShopSnapshot Change(Func<ShopSnapshot, ShopSnapshot> change)
    {
        lock (changing)
        {
            return now = change(now) with { Version = now.Version + 1 };
        }
    }
}
