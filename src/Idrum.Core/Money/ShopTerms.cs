using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Supply;

namespace Idrum.Core.Money;

/// <summary>What the shop charges, and in what.</summary>
public sealed partial record ShopTerms
{
    /// <summary>Currency, three letters.</summary>
    public string Currency { get; init; } = "EUR";

    /// <summary>Price of an hour of work, before tax.</summary>
    public double RatePerHour { get; init; } = 72;

    /// <summary>Labour is charged in steps of so many minutes, begun ones counted.</summary>
    public double StepMinutes { get; init; } = 15;

    /// <summary>Charge for one trip, before tax.</summary>
    public double TripCharge { get; init; } = 28;

    /// <summary>Minutes of a second trip there and back.</summary>
    public double TripMinutes { get; init; } = 40;

    /// <summary>Tax on the sum.</summary>
    public double TaxPercent { get; init; } = 20;

    /// <summary>Warranty on the work, months.</summary>
    public int WarrantyMonths { get; init; } = 12;

    /// <summary>Mains frequency where the shop works, Hz: 50 or 60. Known, never fitted.</summary>
    public int MainsHertz { get; init; } = 50;

    /// <summary>Name, address, telephone and tax number of the shop as they stand over what it prints; empty where
    /// nobody wrote them.</summary>
    public string Letterhead { get; init; } = "";

    /// <summary>A4 or Letter.</summary>
    public string Paper { get; init; } = "A4";

    /// <summary>mm or inch.</summary>
    public string Units { get; init; } = "mm";

    /// <summary>C or F.</summary>
    public string Temperature { get; init; } = "C";

    /// <summary>The shop's time zone, as Europe/Vienna; empty where nobody set it: UTC.</summary>
    public string TimeZone { get; init; } = "";

    /// <summary>The zone; UTC where it is not set or this computer does not know it.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public TimeZoneInfo Zone =>
        TimeZone.Length > 0 && TimeZoneInfo.TryFindSystemTimeZoneById(TimeZone, out var zone) ? zone : TimeZoneInfo.Utc;

    /// <summary>The day of a moment on the shop's wall.</summary>
    public DateOnly DayOf(DateTimeOffset at) => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(at, Zone).DateTime);

    /// <summary>Whether temperatures are shown in °F.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool Fahrenheit => Temperature == "F";

    /// <summary>Who signs in this shop.</summary>
    public IReadOnlyList<string> Signers { get; init; } = [];

    /// <summary>Layouts that the shop does not meet, by id; those it does come first wherever one is chosen. A layout that comes in
    /// later is met until somebody says otherwise.</summary>
    public IReadOnlyList<string> Unmet { get; init; } = [];

    /// <summary>Vans and shelves with what was counted in them, less what was moved or opened since: below zero where more
    /// came back than was counted.</summary>
    public IReadOnlyList<StockPlace> Places { get; init; } = [StockPlace.Only];

    /// <summary>What the one van held, in settings from when there was but one; null in all others.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    )]
    public IReadOnlyDictionary<string, int>? Van { get; init; }

    /// <summary>The same with its van among the places.</summary>
    public ShopTerms WithPlaces() =>
        Van is null ? this : this with { Van = null, Places = [StockPlace.Only with { Holds = Van }] };

    /// <summary>Errors, field by field.</summary>
    public IReadOnlyList<FieldError> Check()
    {
        var errors = new FieldErrors();
        CheckCurrency(Currency, errors);
        errors.Range(RatePerHour, "ratePerHour", 1, 10_000);
        errors.Range(StepMinutes, "stepMinutes", 1, 60);
        errors.Range(TripCharge, "tripCharge", 0, 10_000);
        errors.Range(TripMinutes, "tripMinutes", 0, 600);
        errors.Range(TaxPercent, "taxPercent", 0, 100);
        errors.If(WarrantyMonths is < 0 or > 120, "warrantyMonths", "0 to 120 months.");
        errors.If(MainsHertz is not (50 or 60), "mainsHertz", "The mains have 50 or 60 Hz.");
        errors.Text(Letterhead, "letterhead", 600);
        errors.If(Paper is not ("A4" or "Letter"), "paper", "Paper is A4 or Letter.");
        errors.If(Units is not (LengthUnit.Mm or LengthUnit.Inch), "units", "Units are mm or inch.");
        errors.If(Temperature is not ("C" or "F"), "temperature", "Temperatures are in C or F.");
        errors.If(
            TimeZone.Length > 0 && !TimeZoneInfo.TryFindSystemTimeZoneById(TimeZone, out _),
            "timeZone",
            $"This computer knows no time zone '{FieldErrors.Short(TimeZone)}'; it is named like Europe/Vienna."
        );
        errors.If(Signers.Count > 40, "signers", "40 names at most.");
        foreach (var name in Signers)
        {
            errors.Text(name, "signers", 60, true);
        }
        errors.If(Unmet.Count > 400, "met", "400 machines at most.");
        foreach (var layout in Unmet)
        {
            errors.Text(layout, "met", FieldErrors.ShortText, true);
        }
        StockPlace.Check(Places, errors);
        return errors.All;
    }

    /// <summary>A currency is three capital letters.</summary>
    public static void CheckCurrency(string currency, FieldErrors errors) =>
        errors.If(!ThreeLetters().IsMatch(currency), "currency", "A currency is three capital letters, as EUR.");

    /// <summary>Labour as it is charged: whole steps, in hours.</summary>
    /// <param name="minutes">Minutes worked, zero or more.</param>
    public double HoursCharged(double minutes) =>
        Math.Max(0, Math.Ceiling(minutes / StepMinutes - 1e-9)) * StepMinutes / 60;

    [GeneratedRegex("^[A-Z]{3}$")]
    private static partial Regex ThreeLetters();
}
