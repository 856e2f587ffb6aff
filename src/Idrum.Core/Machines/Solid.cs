using System.Text.Json.Serialization;

namespace Idrum.Core.Machines;

/// <summary>Kinds of solid a machine is drawn of.</summary>
public enum SolidShape
{
    /// <summary>A box.</summary>
    Box,

    /// <summary>A cylinder.</summary>
    Cylinder,

    /// <summary>A ring.</summary>
    Ring,

    /// <summary>A tube.</summary>
    Tube,

    /// <summary>Something laid: a hose, a harness.</summary>
    Path,
}

/// <summary>One solid of a machine, bound to a part. x runs to the right seen from the door, y up, z to the back; the
/// origin is the lower
/// front left corner; mm.</summary>
public sealed record Solid
{
    /// <summary>Part id.</summary>
    public required PartId Part { get; init; }

    /// <summary>box, cylinder, ring (short and hollow), tube (long and hollow) or path.</summary>
    public required SolidShape Shape { get; init; }

    /// <summary>Box: corner of smallest x, y and z. Cylinder, ring, tube: centre of the end of smallest coordinate.
    /// Path without points: only z
    /// counts, the plane of the drive.</summary>
    public IReadOnlyList<double> At { get; init; } = [];

    /// <summary>Box: extent along x, y and z.</summary>
    public IReadOnlyList<double> Size { get; init; } = [];

    /// <summary>Cylinder, ring, tube: x, y or z.</summary>
    public string Axis { get; init; } = "z";

    /// <summary>Place of the axis among x, y and z.</summary>
    [JsonIgnore]
    public int AxisAt => "xyz".IndexOf(Axis, StringComparison.Ordinal);

    /// <summary>Outer diameter; of a path its thickness.</summary>
    public double DiameterMm { get; init; }

    /// <summary>Inner diameter of a ring or tube.</summary>
    public double InnerMm { get; init; }

    /// <summary>Length along the axis.</summary>
    public double LengthMm { get; init; }

    /// <summary>Points of a path; none for the belt's course over the drive.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Points { get; init; } = [];

    /// <summary>Openings of a panel through its thinnest side.</summary>
    public IReadOnlyList<Opening> Openings { get; init; } = [];

    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>Lowest and highest corner, mm.</summary>
    public (double[] Low, double[] High) Bounds()
    {
        if (Shape == SolidShape.Box)
        {
            return ([At[0], At[1], At[2]], [At[0] + Size[0], At[1] + Size[1], At[2] + Size[2]]);
        }
        if (Shape == SolidShape.Path)
        {
            var r = DiameterMm / 2;
            return Points.Count == 0
                ? ([0, 0, At[2] - r], [0, 0, At[2] + r])
                : (
                    [.. Enumerable.Range(0, 3).Select(k => Points.Min(p => p[k]) - r)],
                    [.. Enumerable.Range(0, 3).Select(k => Points.Max(p => p[k]) + r)]
                );
        }
        var along = AxisAt;
        var low = Enumerable.Range(0, 3).Select(k => k == along ? At[k] : At[k] - DiameterMm / 2).ToArray();
        var high = Enumerable.Range(0, 3).Select(k => k == along ? At[k] + LengthMm : At[k] + DiameterMm / 2).ToArray();
        return (low, high);
    }
}

/// <summary>An opening of a panel, in the two coordinates of its face (of x, y, z those that are left when the thin one
/// is struck).</summary>
/// <param name="At">Round: its centre; else its lowest corner.</param>
/// <param name="DiameterMm">Diameter of a round one, else 0.</param>
/// <param name="Size">Extent of a rectangular one.</param>
public sealed record Opening(IReadOnlyList<double> At, double DiameterMm = 0, IReadOnlyList<double>? Size = null);
