using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>When glued faces may be joined and loaded. All times in minutes.</summary>
/// <param name="Earliest">From the coat to the earliest join: before, it slips.</param>
/// <param name="Latest">From the coat to the latest join: after, it does not bond.</param>
/// <param name="Press">How long it is pressed at the join.</param>
/// <param name="Handling">From the join until the part may be lifted on and loaded.</param>
/// <param name="Cure">From the join until the machine may run with heat.</param>
public sealed record BondTimes(double Earliest, double Latest, double Press, double Handling, double Cure)
{
    /// <summary>Longest of any of them, a week.</summary>
    public const double Most = 10_080;

    /// <summary>The same where it goes slower or faster.</summary>
    /// <param name="factor">How many times as long; pressing stays as it is.</param>
    public BondTimes Times(double factor) =>
        new(Earliest * factor, Latest * factor, Press, Handling * factor, Cure * factor);

    /// <summary>Errors field by field: outside 0 to a week, or in the wrong order.</summary>
    /// <param name="errors">Where they go.</param>
    /// <param name="name">Makes the field's name.</param>
    public void Check(FieldErrors errors, Func<string, string> name)
    {
        errors.Range(Earliest, name("earliest"), 0, 240);
        errors.Range(Latest, name("latest"), 0, 1440);
        errors.Range(Press, name("press"), 0, 60);
        errors.Range(Handling, name("handling"), 0, Most);
        errors.Range(Cure, name("cure"), 0, Most);
        errors.If(
            Latest < Earliest,
            name("latest"),
            $"The latest join ({Latest:0.#} min) lies before the earliest ({Earliest:0.#} min)."
        );
        errors.If(
            Cure < Handling,
            name("cure"),
            $"It cannot take heat ({Cure:0.#} min) before it can be handled ({Handling:0.#} min)."
        );
    }
}

/// <summary>Times on the label of a tube.</summary>
/// <param name="Times">As printed.</param>
/// <param name="Celsius">The temperature they are printed for, °C.</param>
public sealed record TubeLabel(BondTimes Times, double Celsius);

/// <summary>One adhesive.</summary>
public sealed record Adhesive
{
    /// <summary>Stable id.</summary>
    public required string Id { get; init; }

    /// <summary>Its name.</summary>
    public required string Name { get; init; }

    /// <summary>What is coated: <c>both</c> faces, the <c>metal</c>, or under the <c>edge</c> of what is
    /// seated.</summary>
    public required string Faces { get; init; }

    /// <summary>Times at 20 °C.</summary>
    public required BondTimes At20 { get; init; }

    /// <summary>Millilitres for a square decimetre of felt, all coats and faces.</summary>
    public required double MillilitresPerDm2 { get; init; }

    /// <summary>Millilitres in a tube.</summary>
    public required double TubeMillilitres { get; init; }

    /// <summary>Tubes for a glued area: whole ones, one at least.</summary>
    /// <param name="dm2">Area, dm², zero or more.</param>
    public int Tubes(double dm2) => Math.Max(1, (int)Math.Ceiling(dm2 * MillilitresPerDm2 / TubeMillilitres));

    /// <summary>Coldest and warmest place a time is given for, °C.</summary>
    public const double Coldest = -10,
        Warmest = 45;

    /// <summary>Below this no adhesive is joined without warming the place or the part, °C.</summary>
    public const double TooCold = 5;

    /// <summary>How many times as long it takes as at another temperature: half as long for every ten degrees more (van
    /// 't Hoff's rule).</summary>
    /// <param name="celsius">Where it is glued, °C.</param>
    /// <param name="than">Where the time is known, °C.</param>
    public static double Factor(double celsius, double than = 20) => Math.Pow(2, (than - celsius) / 10);

    /// <summary>Times at a temperature; a label's times win over those here.</summary>
    /// <param name="celsius">Where it is glued, °C, <see cref="Coldest"/> to <see cref="Warmest"/>.</param>
    /// <param name="label">What the tube says, or null.</param>
    /// <exception cref="ArgumentOutOfRangeException">No such temperature.</exception>
    public BondTimes At(double celsius, TubeLabel? label = null)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(celsius, Coldest);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(celsius, Warmest);
        return label is null ? At20.Times(Factor(celsius)) : label.Times.Times(Factor(celsius, label.Celsius));
    }
}

/// <summary>What the shop knows about its glue: how warm it is, and what its tubes say.</summary>
/// <param name="Celsius">Where it mostly works, °C.</param>
/// <param name="Labels">Adhesive id → label.</param>
public sealed record GlueHabits(double Celsius, IReadOnlyDictionary<string, TubeLabel> Labels)
{
    /// <summary>20 °C, no label typed.</summary>
    public static GlueHabits Usual { get; } = new(20, new Dictionary<string, TubeLabel>());

    /// <summary>Times of an adhesive where the shop mostly works.</summary>
    public BondTimes Times(Adhesive adhesive) => adhesive.At(Celsius, Labels.GetValueOrDefault(adhesive.Id));

    /// <summary>Times of a way of doing it; null where nothing is glued.</summary>
    /// <param name="handbook">Adhesives.</param>
    /// <param name="school">The way.</param>
    /// <param name="celsius">How warm it is; null for <see cref="Celsius"/>.</param>
    public BondTimes? Times(Handbook handbook, School? school, double? celsius = null) =>
        handbook.AdhesiveOf(school) is { } adhesive
            ? adhesive.At(celsius ?? Celsius, Labels.GetValueOrDefault(adhesive.Id))
            : null;
}
