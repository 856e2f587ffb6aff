namespace Idrum.Core.Money;

/// <summary>What a year costs: with the machine mended, and with a new one. Ranges, because nobody knows how long
/// either lasts.</summary>
/// <param name="YearsLeft">How long the mended machine may last, years: from, to.</param>
/// <param name="YearsNew">How long a new one may last: from, to.</param>
/// <param name="Repair">Money a year, mended: from, to.</param>
/// <param name="Replace">Money a year, new: from, to.</param>
public sealed record RepairOrReplace(
    (double From, double To) YearsLeft,
    (double From, double To) YearsNew,
    (double From, double To) Repair,
    (double From, double To) Replace
)
{
    /// <summary>Usual life of a machine at five loads a week, years: an assumption.</summary>
    public const double MachineYears = 15;

    private const double LeastYears = 0.1;

    /// <summary>In words; a verdict only where the ranges do not meet.</summary>
    public string Words =>
        Repair.To < Replace.From ? "Mending is cheaper a year, whichever way it turns out."
        : Replace.To < Repair.From ? "A new one is cheaper a year, whichever way it turns out."
        : Repair.From + Repair.To < Replace.From + Replace.To
            ? "Mending is cheaper in the middle, but the ranges meet: the customer decides."
        : "A new one is cheaper in the middle, but the ranges meet: the customer decides.";

    /// <summary>The two.</summary>
    /// <remarks>Quarter and three quarters of the life that is left, by the same law of wear as <see
    /// cref="ComingBack"/>: a machine that has lived so long.</remarks>
    /// <param name="low">Lower end of the repair, money.</param>
    /// <param name="high">Upper end.</param>
    /// <param name="priceOfNew">Price of a new machine, set up.</param>
    /// <param name="ageYears">Age, years.</param>
    /// <param name="loadsAWeek">Loads a week, above zero.</param>
    public static RepairOrReplace Of(double low, double high, double priceOfNew, double ageYears, double loadsAWeek)
    {
        (double, double) Quarters(double age) => (Left(age, 0.75), Left(age, 0.25));
        double Left(double age, double alive)
        {
            // Years after which this share still lives: the law solved for time.
            var scale = MachineYears * 5 / loadsAWeek / 0.8929795115692493;
            return Math.Max(
                LeastYears,
                scale * Math.Cbrt(Math.Pow(age / scale, ComingBack.Shape) - Math.Log(alive)) - age
            );
        }
        var (left, anew) = (Quarters(ageYears), Quarters(0));
        return new(
            left,
            anew,
            (low / left.Item2, high / left.Item1),
            (priceOfNew / anew.Item2, priceOfNew / anew.Item1)
        );
    }
}
