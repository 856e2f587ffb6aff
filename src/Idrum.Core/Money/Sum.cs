using Idrum.Core.Basics;

namespace Idrum.Core.Money;

/// <summary>One line of an estimate or a price.</summary>
/// <param name="Kind">labour, part, travel or other.</param>
/// <param name="What">What it is for.</param>
/// <param name="Quantity">How much of it.</param>
/// <param name="Unit">h, piece, trip.</param>
/// <param name="Each">Price of one unit, before tax.</param>
public sealed record SumLine(string Kind, string What, double Quantity, string Unit, double Each)
{
    /// <summary>What the line costs, to the cent, halves away from zero.</summary>
    public double Amount => Sum.Cents(Quantity * Each);
}

/// <summary>Lines added up, with tax on the whole.</summary>
/// <param name="Currency">In what.</param>
/// <param name="Lines">The lines.</param>
/// <param name="TaxPercent">Tax on the sum of the lines.</param>
public sealed record Sum(string Currency, IReadOnlyList<SumLine> Lines, double TaxPercent)
{
    private static readonly string[] Kinds = ["labour", "part", "travel", "other"];

    /// <summary>An amount to the cent of its currency, halves away from zero.</summary>
    public static double Cents(double amount) =>
        Math.Abs(amount) < 1e12 ? (double)Math.Round((decimal)amount, 2, MidpointRounding.AwayFromZero) : amount;

    /// <summary>Before tax.</summary>
    public double Net => Cents(Lines.Sum(l => l.Amount));

    /// <summary>The tax.</summary>
    public double Tax => Cents(Net * TaxPercent / 100);

    /// <summary>What is paid.</summary>
    public double Total => Cents(Net + Tax);

    /// <summary>Errors, field by field.</summary>
    public void Check(FieldErrors errors)
    {
        ShopTerms.CheckCurrency(Currency, errors);
        errors.Range(TaxPercent, "taxPercent", 0, 100);
        errors.If(Lines.Count is 0 or > 60, "lines", "One line at least, 60 at most.");
        for (var i = 0; i < Lines.Count; i++)
        {
            errors.If(!Kinds.Contains(Lines[i].Kind), $"lines[{i}].kind", "A line is labour, part, travel or other.");
            errors.Text(Lines[i].What, $"lines[{i}].what", FieldErrors.ShortText, true);
            errors.Range(Lines[i].Quantity, $"lines[{i}].quantity", 0, 1000);
            errors.Range(Lines[i].Each, $"lines[{i}].each", 0, 100_000);
        }
    }
}
