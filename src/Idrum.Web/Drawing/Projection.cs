namespace Idrum.Web.Drawing;

/// <summary>A point of the machine's space, mm.</summary>
public readonly record struct P3(double X, double Y, double Z)
{
    public static P3 Of(IReadOnlyList<double> p) => new(p[0], p[1], p[2]);

    public static P3 operator +(P3 a, P3 b) => new(a.X + b.X, a.Y + b.Y, a.Z + b.Z);

    public static P3 operator -(P3 a, P3 b) => new(a.X - b.X, a.Y - b.Y, a.Z - b.Z);

    public static P3 operator *(P3 a, double k) => new(a.X * k, a.Y * k, a.Z * k);

    internal double Dot(P3 b) => X * b.X + Y * b.Y + Z * b.Z;

    internal double Length => Math.Sqrt(Dot(this));
}

/// <summary>A projected point: right, down, and how near the eye it is.</summary>
public readonly record struct P2(double U, double V, double Near);

/// <summary>A parallel projection, named by where the eye stands.</summary>
public sealed class Projection
{
    /// <summary>Names of the views.</summary>
    public static IReadOnlyList<string> Names { get; } = ["door", "behind", "left", "right", "above", "slanting"];

    private readonly P3 right;
    private readonly P3 up;

    private Projection(string name, P3 eye, P3 above)
    {
        Name = name;
        Eye = eye * (1 / eye.Length);
        var forward = Eye * -1;
        // Axes are left-handed: x right, y up, z to the back.
        var r = Cross(above, forward);
        right = r * (1 / r.Length);
        up = Cross(forward, right);
    }

    /// <summary>Name of the view.</summary>
    public string Name { get; }

    /// <summary>Direction from the machine to the eye.</summary>
    internal P3 Eye { get; }

    /// <summary>In words: "from behind".</summary>
    public string Words =>
        Name switch
        {
            "door" => "from the door",
            "behind" => "from behind",
            "left" => "from the left",
            "right" => "from the right",
            "above" => "from above, the door below",
            _ => "slanting, from the door and above",
        };

    /// <summary>The projection of that name; slanting for an unknown one.</summary>
    public static Projection Of(string name) =>
        name switch
        {
            "door" => new(name, new(0, 0, -1), new(0, 1, 0)),
            "behind" => new(name, new(0, 0, 1), new(0, 1, 0)),
            "left" => new(name, new(-1, 0, 0), new(0, 1, 0)),
            "right" => new(name, new(1, 0, 0), new(0, 1, 0)),
            "above" => new(name, new(0, 1, 0), new(0, 0, 1)),
            _ => new("slanting", new(0.62, 0.5, -1), new(0, 1, 0)),
        };

    public P2 Map(P3 p) => new(p.Dot(right), -p.Dot(up), p.Dot(Eye));

    private static P3 Cross(P3 a, P3 b) => new(a.Y * b.Z - a.Z * b.Y, a.Z * b.X - a.X * b.Z, a.X * b.Y - a.Y * b.X);
}
