using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The machine and where it stands, as told at the start.</summary>
public sealed partial record MachineCard
{
    /// <summary>Layout id.</summary>
    public string LayoutId { get; init; } = "";

    /// <summary>Customer and place.</summary>
    public string Place { get; init; } = "";

    /// <summary>Telephone of the customer; null or empty where it was not asked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Telephone { get; init; }

    /// <summary>Address to drive to; null or empty where it was not asked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Address { get; init; }

    /// <summary>Model tag as read off the machine.</summary>
    public string Tag { get; init; } = "";

    /// <summary>Age, years; null where unknown.</summary>
    public double? AgeYears { get; init; }

    /// <summary>Loads per week; null where unknown.</summary>
    public double? UsesPerWeek { get; init; }

    /// <summary>electric or gas.</summary>
    public string Energy { get; init; } = HeatSource.Electric;

    /// <summary>plug or hard-wired.</summary>
    public string Connection { get; init; } = SupplyBy.Plug;

    /// <summary>mm or inch.</summary>
    public string Units { get; init; } = LengthUnit.Mm;

    /// <summary>Facts of this machine where its layout lets them vary: <c>fact=value</c>; the bare id of a fact means
    /// yes.</summary>
    public IReadOnlyList<string> Facts { get; init; } = [];

    /// <summary>Number of the earlier job this one is a call-back of, or empty.</summary>
    public string CallBackOf { get; init; } = "";

    /// <summary>The same without who the customer is and where the machine stands.</summary>
    internal MachineCard WithoutCustomer() =>
        this with
        {
            Place = CustomerRemoved.Word,
            Telephone = null,
            Address = null,
        };

    /// <summary>What heats it: gas where either the energy or a fact says so, for what is safe hangs on it.</summary>
    [JsonIgnore]
    public string HeatedBy =>
        Energy == HeatSource.Gas || Facts.Contains("gas") || Facts.Contains("gas=yes") ? HeatSource.Gas : Energy;

    /// <summary>Value of every fact that its layout lets vary: as named; gas where it burns gas; of a yes-or-no fact
    /// not named, no.</summary>
    /// <returns>Fact id → value id.</returns>
    public IReadOnlyDictionary<string, string> FactsOf(Layout layout)
    {
        var named = Facts
            .Select(f => f.Split('=', 2))
            .GroupBy(f => f[0])
            .ToDictionary(g => g.Key, g => g.Last().Length == 2 ? g.Last()[1] : "yes");
        return layout
            .Facts.Where(f => f.Varies)
            .ToDictionary(
                f => f.Id,
                f =>
                    f.Id == "gas"
                        ? HeatedBy == HeatSource.Gas
                            ? "yes"
                            : "no"
                        : named.GetValueOrDefault(f.Id) ?? (f.Value is "yes" or "no" ? "no" : f.Value)
            );
    }

    internal void Check(string at, ShopSnapshot shop, FieldErrors errors, Layout? pinned)
    {
        var layout = pinned?.Id == LayoutId ? pinned : shop.FindLayout(LayoutId);
        errors.If(
            layout is null,
            at + ".layoutId",
            LayoutId.Length == 0 ? "Choose the machine." : "The shop has no such layout."
        );
        errors.Text(Place, at + ".place", FieldErrors.ShortText, true);
        errors.Text(Address ?? "", at + ".address", 200);
        errors.If(
            Telephone is { Length: > 0 } && !IsTelephone().IsMatch(Telephone),
            at + ".telephone",
            "A telephone number is written in digits, with + ( ) / - and spaces between: 5 to 20 digits."
        );
        errors.Text(Tag, at + ".tag", 60);
        errors.If(CallBackOf.Length > 0 && !JobNumber.Fits(CallBackOf), at + ".callBackOf", JobNumber.Shape);
        if (AgeYears is { } age)
        {
            errors.Range(age, at + ".ageYears", 0, 60);
        }
        if (UsesPerWeek is { } uses)
        {
            errors.Range(uses, at + ".usesPerWeek", 0, 200);
        }
        errors.If(Energy is not (HeatSource.Electric or HeatSource.Gas), at + ".energy", "Electric or gas.");
        errors.If(
            HeatedBy == HeatSource.Gas && layout?.Facts.Any(f => f is { Id: "gas", Varies: true }) == false,
            at + ".energy",
            "This machine is made for electric heating only."
        );
        errors.If(Connection is not (SupplyBy.Plug or SupplyBy.HardWired), at + ".connection", "Plug or hard-wired.");
        errors.If(Units is not (LengthUnit.Mm or LengthUnit.Inch), at + ".units", "Millimetres or inches.");
        foreach (var fact in Facts.Select(f => f.Split('=', 2)).Where(_ => layout is not null))
        {
            errors.If(
                !layout!.Facts.Any(x => x.Id == fact[0] && x.Varies),
                at + ".facts",
                $"'{FieldErrors.Short(fact[0])}' does not vary on this machine."
            );
            errors.If(
                fact.Length == 2 && shop.Words.FindFact(fact[0])?.Values.Any(v => v.Id == fact[1]) == false,
                at + ".facts",
                $"'{FieldErrors.Short(fact[0])}' has no value '{FieldErrors.Short(fact[^1])}'."
            );
        }
    }

    [GeneratedRegex(@"\A\+?[ (/-]*[0-9]([ ()/.-]*[0-9]){4,19}[ )]*\z")]
    private static partial Regex IsTelephone();
}

/// <summary>The shop's number of a job: part of addresses, so its shape is bounded.</summary>
public static partial class JobNumber
{
    /// <summary>The shape in words.</summary>
    public const string Shape = "1 to 24 letters (A–Z), digits, '.', '_' or '-'; not 'new' or 'import'.";

    /// <summary>Whether a text may be a job's number.</summary>
    public static bool Fits(string number) =>
        Letters().IsMatch(number) && number is not ("." or ".." or "new" or "import");

    /// <summary>Whether a new job may have it: it is a name for a file on every system too.</summary>
    public static bool FitsNew(string number) =>
        Fits(number)
        && !number.EndsWith('.')
        && !number.StartsWith('.')
        && !Reserved.Contains(number.Split('.')[0].ToUpperInvariant());

    private static readonly HashSet<string> Reserved =
    [
        "CON",
        "PRN",
        "AUX",
        "NUL",
        .. Enumerable.Range(1, 9).SelectMany(n => new[] { $"COM{n}", $"LPT{n}" }),
    ];

    [GeneratedRegex(@"\A[A-Za-z0-9._-]{1,24}\z")]
    private static partial Regex Letters();
}
