using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Machines;

namespace Idrum.Core.Practice;

/// <summary>How loud a noise arrives at one of the four spots: it falls with the distance from its part, half as much as it
/// would in the open, for a cabinet rings.</summary>
internal static class NoisePlace
{
    // How far a level is off by how the phone is held, dB.
    private const double HeldDb = 1.5;

    /// <summary>Of a fault: from the part it sits at; 1 where no spot is asked for.</summary>
    internal static double Gain(Layout layout, NoiseOrder order, FaultId fault)
    {
        var mechanism = NoiseBench.MechanismOf(fault);
        var parts = SoundSource
            .Of(layout, order.MainsHertz, order.DrumRpm)
            .Where(s => s.Mechanism == mechanism)
            .SelectMany(s => s.PartIds)
            .ToList();
        var part =
            parts.Contains(order.Part) ? order.Part
            : parts.Count > 0 ? parts[new Random(order.Seed ^ 0x5107).Next(parts.Count)]
            : mechanism is Mechanism.Motor or Mechanism.Mains ? "motor"
            : "drum";
        return At(layout, order, part);
    }

    /// <summary>Of motor and blower.</summary>
    internal static double OfMotor(Layout layout, NoiseOrder order) => At(layout, order, "motor");

    /// <summary>How the phone is held at this spot: nearly as at the others.</summary>
    internal static double Held(NoiseOrder order)
    {
        var random = new Random(order.Seed * 31 + order.Spot.Sum(c => c));
        return Math.Pow(10, HeldDb * (random.NextDouble() + random.NextDouble() - 1) * 1.7 / 20);
    }

    private static double At(Layout layout, NoiseOrder order, PartId part)
    {
        if (order.Spot.Length == 0 || layout.Size.Count != 3 || SpotPlace.MiddleOf(layout, part) is not { } from)
        {
            return 1;
        }
        double Root(string spot) => 1 / Math.Sqrt(100 + SpotPlace.Away(from, SpotPlace.Of(layout, spot)));
        return Root(order.Spot) / SpotLevels.Spots.Average(Root);
    }
}
