using Idrum.Core.Machines;

namespace Idrum.Core.Listening;

/// <summary>Where parts lie against the four spots low on the cabinet at which a noise is listened to.</summary>
public static class SpotPlace
{
    /// <summary>Middle of a part's solids, mm: to the right seen from the door, up, to the back; null where it is not
    /// drawn.</summary>
    public static (double X, double Y, double Z)? MiddleOf(Layout layout, PartId partId)
    {
        var bounds = layout.Solids.Where(s => s.Part == partId && s.At.Count > 0).Select(s => s.Bounds()).ToList();
        if (bounds.Count == 0)
        {
            return null;
        }
        double Middle(int k) => (bounds.Min(b => b.Low[k]) + bounds.Max(b => b.High[k])) / 2;
        return (Middle(0), Middle(1), Middle(2));
    }

    /// <summary>Where the phone is held at a spot, mm.</summary>
    /// <exception cref="ArgumentException">No such spot.</exception>
    public static (double X, double Y, double Z) Of(Layout layout, string spot)
    {
        if (!SpotLevels.Spots.Contains(spot))
        {
            throw new ArgumentException($"There is no spot '{spot}'.", nameof(spot));
        }
        var at = spot.Split('-');
        return (at[1] == "left" ? 0 : layout.Size[0], 0.15 * layout.Size[1], at[0] == "door" ? 0 : layout.Size[2]);
    }

    /// <summary>The spot that a part lies nearest to; null where it is not drawn or lies between: a fifth nearer than the
    /// next is asked for.</summary>
    public static string? NearestTo(Layout layout, PartId partId)
    {
        if (MiddleOf(layout, partId) is not { } part || layout.Size.Count != 3)
        {
            return null;
        }
        var near = SpotLevels
            .Spots.Select(s => (Spot: s, Away: Away(part, Of(layout, s))))
            .OrderBy(s => s.Away)
            .ToList();
        return near[0].Away < 0.8 * near[1].Away ? near[0].Spot : null;
    }

    /// <summary>Distance of two places, mm.</summary>
    public static double Away((double X, double Y, double Z) a, (double X, double Y, double Z) b) =>
        Math.Sqrt(Math.Pow(a.X - b.X, 2) + Math.Pow(a.Y - b.Y, 2) + Math.Pow(a.Z - b.Z, 2));
}
