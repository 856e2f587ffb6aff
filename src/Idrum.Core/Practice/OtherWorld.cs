using Idrum.Core.Diagnosis;
using Idrum.Core.Money;

namespace Idrum.Core.Practice;

/// <summary>A world that differs from the model: every incidence and every likelihood moved by a normal error on the
/// logit scale.</summary>
public static class OtherWorld
{
    /// <summary>The catalogue of such a world.</summary>
    /// <param name="catalog">The model's catalogue.</param>
    /// <param name="logit">Standard deviation of the error.</param>
    /// <param name="random">Seeded.</param>
    public static DiagnosisCatalog Of(DiagnosisCatalog catalog, double logit, Random random)
    {
        double Normal() =>
            Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble()) * logit;
        double Moved(double p) => p <= 0 ? p : 1 / (1 + (1 - p) / p * Math.Exp(-Normal()));
        IReadOnlyList<double> All(IReadOnlyList<double> p)
        {
            var moved = p.Select(Moved).ToList();
            var sum = moved.Sum();
            return sum < 0.995 ? moved : [.. moved.Select(x => x / sum * 0.995)];
        }
        return catalog with
        {
            Faults =
            [
                .. catalog.Faults.Select(f =>
                    f with
                    {
                        Incidence = f.Incidence * Math.Exp(Normal()),
                        Silent = f.Silent > 0 ? Math.Min(0.55, Moved(f.Silent)) : 0,
                    }
                ),
            ],
            Findings =
            [
                .. catalog.Findings.Select(f =>
                    f with
                    {
                        Leak = All(f.Leak),
                        Causes =
                        [
                            .. f.Causes.Select(c => c with { Of = c.Of.ToDictionary(o => o.Key, o => All(o.Value)) }),
                        ],
                    }
                ),
            ],
        };
    }
}
