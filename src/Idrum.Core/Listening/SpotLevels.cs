namespace Idrum.Core.Listening;

/// <summary>Where a noise sits, by its level at four spots low on the cabinet: what the rhythm of twins cannot tell.</summary>
/// <param name="Side">left or right, seen from the door.</param>
/// <param name="End">door or rear.</param>
/// <param name="Probability">That both are right.</param>
public sealed record SpotLevels(string Side, string End, double Probability)
{
    /// <summary>Spots, by what they are called.</summary>
    public static IReadOnlyList<string> Spots { get; } = ["door-left", "door-right", "rear-left", "rear-right"];

    // dB by which it is quieter on the other side, at the other end and at both, in a cabinet that rings: half of what the
    // distances alone would make.
    private const double OtherSide = 4,
        OtherEnd = 4.5,
        Both = 6;

    // How far a level is off by how the phone is held, dB.
    private const double Off = 2.2;

    /// <summary>Where it sits.</summary>
    /// <param name="levels">Level by spot, dB; all four.</param>
    /// <returns>Null where a spot is missing or a level is not finite.</returns>
    /// <remarks>Each corner as the place, its levels less their mean against the levels' own less theirs, normal errors;
    /// before, each corner is as likely.</remarks>
    public static SpotLevels? Of(IReadOnlyDictionary<string, double> levels)
    {
        if (!Spots.All(s => levels.TryGetValue(s, out var l) && double.IsFinite(l)))
        {
            return null;
        }
        var mean = Spots.Average(s => levels[s]);
        var weights = Spots
            .Select(place =>
            {
                var expected = Spots.Select(s => -Down(place, s)).ToList();
                var middle = expected.Average();
                var off = Spots.Select((s, i) => levels[s] - mean - (expected[i] - middle)).Sum(d => d * d);
                return Math.Exp(-off / (2 * Off * Off));
            })
            .ToList();
        // Where nothing fits, all fit equally ill.
        var sum = weights.Sum();
        var best = sum > 0 ? weights.IndexOf(weights.Max()) : 0;
        var at = Spots[best].Split('-');
        return new(at[1], at[0], sum > 0 ? weights[best] / sum : 0.25);
    }

    private static double Down(string place, string spot)
    {
        var (a, b) = (place.Split('-'), spot.Split('-'));
        return (a[0] == b[0], a[1] == b[1]) switch
        {
            (true, true) => 0,
            (true, false) => OtherSide,
            (false, true) => OtherEnd,
            _ => Both,
        };
    }
}
