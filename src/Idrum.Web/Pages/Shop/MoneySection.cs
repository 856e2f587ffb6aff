using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Web.Forms;
using Idrum.Web.Paper;
using Idrum.Web.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Shop;

/// <summary>Prices, paper, units, zone, who signs.</summary>
public sealed class MoneySection(MoneyDesk money, Logo logo, HttpRequest request)
{
    private IFormCollection Form => request.Form;

    /// <summary>Fields of what the shop charges, with words.</summary>
    public static IReadOnlyList<(string Id, string Words)> Fields { get; } =
    [
        ("currency", "Currency"),
        ("ratePerHour", "An hour of work"),
        ("stepMinutes", "Charged in steps of, min"),
        ("tripCharge", "A trip"),
        ("tripMinutes", "A second trip takes, min"),
        ("taxPercent", "Tax, %"),
        ("warrantyMonths", "Warranty on the work, months"),
    ];

    /// <summary>Errors of what was typed there.</summary>
    private IReadOnlyList<FieldError> faults = [];

    public string WrongAt(string field) =>
        string.Join(" ", faults.Where(e => e.Pointer == field).Select(e => e.Message));

    /// <summary>What stands in a field: what was typed and refused, else what is set.</summary>
    public string Value(string field)
    {
        if (faults.Count > 0)
        {
            return Form[field].ToString();
        }
        var t = money.Terms;
        string Plain(double n) => n.ToString("0.##", CultureInfo.InvariantCulture);
        return field switch
        {
            "currency" => t.Currency,
            "ratePerHour" => Plain(t.RatePerHour),
            "stepMinutes" => Plain(t.StepMinutes),
            "tripCharge" => Plain(t.TripCharge),
            "tripMinutes" => Plain(t.TripMinutes),
            "taxPercent" => Plain(t.TaxPercent),
            "warrantyMonths" => t.WarrantyMonths.ToString(CultureInfo.InvariantCulture),
            "mainsHertz" => t.MainsHertz.ToString(CultureInfo.InvariantCulture),
            "letterhead" => t.Letterhead,
            "paper" => t.Paper,
            "units" => t.Units,
            "temperature" => t.Temperature,
            "timeZone" => t.TimeZone,
            "signers" => string.Join('\n', t.Signers),
            _ => "",
        };
    }

    /// <summary>Whether a machine is ticked as met: as it was typed and refused, else as it is set.</summary>
    public bool Meets(string layout) =>
        faults.Count > 0 ? Form["met"].Contains(layout) : !money.Terms.Unmet.Contains(layout);

    /// <summary>Whether the shop has a sign.</summary>
    public bool HasLogo => logo.Here;

    /// <summary>Takes the shop's sign, or takes it away.</summary>
    internal Reply KeepLogo()
    {
        if (Form["drop"] == "yes")
        {
            logo.Drop();
            return Reply.Said("The sign is gone from estimates and reports.");
        }
        if (Form.Files.GetFile("logo") is not { Length: > 0 } file)
        {
            return Reply.Refused("Sign of the shop: choose a picture first.");
        }
        using var bytes = new MemoryStream();
        file.CopyTo(bytes);
        return logo.Keep(bytes.ToArray()) is { Length: > 0 } error
            ? Reply.Refused($"Sign of the shop: {error}")
            : Reply.Said("Kept: it stands at the head of estimates and reports from now on.");
    }

    internal Reply Keep()
    {
        var errors = new FieldErrors();
        // A form that asks for some of it leaves the rest as it is.
        double Number(string name, double kept)
        {
            if (!Form.ContainsKey(name))
            {
                return kept;
            }
            var n = TypedNumber.Read(Form[name]);
            errors.If(n is null, name, "A number is needed here.");
            return n ?? 1;
        }
        int Whole(string name, int unsaid)
        {
            if (Form[name].ToString().Trim() is not { Length: > 0 } typed)
            {
                return unsaid;
            }
            var known = int.TryParse(typed, NumberStyles.None, CultureInfo.InvariantCulture, out var n);
            errors.If(!known, name, "A whole number is needed here.");
            return known ? n : unsaid;
        }
        string[] Lines(string name) =>
            [.. Form[name].ToString().Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0)];
        string Text(string name, string kept) => Form.ContainsKey(name) ? Form[name].ToString().Trim() : kept;
        var wanted = money.Terms with
        {
            Currency = Text("currency", money.Terms.Currency),
            RatePerHour = Number("ratePerHour", money.Terms.RatePerHour),
            StepMinutes = Number("stepMinutes", money.Terms.StepMinutes),
            TripCharge = Number("tripCharge", money.Terms.TripCharge),
            TripMinutes = Number("tripMinutes", money.Terms.TripMinutes),
            TaxPercent = Number("taxPercent", money.Terms.TaxPercent),
            WarrantyMonths = Whole("warrantyMonths", money.Terms.WarrantyMonths),
            MainsHertz = Whole("mainsHertz", money.Terms.MainsHertz),
            Letterhead = Form.ContainsKey("letterhead")
                ? Form["letterhead"].ToString().Trim().ReplaceLineEndings("\n")
                : money.Terms.Letterhead,
            Paper = Text("paper", money.Terms.Paper),
            Units = Text("units", money.Terms.Units),
            Temperature = Form["temperature"] is [{ Length: > 0 } degrees] ? degrees : money.Terms.Temperature,
            TimeZone = Form["timeZone"] is [{ Length: > 0 } zone] ? zone.Trim() : money.Terms.TimeZone,
            Signers = Form.ContainsKey("signers") ? Lines("signers") : money.Terms.Signers,
            Unmet = Form.ContainsKey("machines")
                ? [.. Form["machines"].ToString().Split(' ').Except(Form["met"].OfType<string>())]
                : money.Terms.Unmet,
        };
        // Who ticks none has not said which.
        errors.If(
            Form.ContainsKey("machines") && Form["met"].Count == 0,
            "met",
            "Tick at least one: a machine that is not ticked is still there, further down."
        );
        faults = errors.All.Count > 0 ? errors.All : money.Keep(wanted);
        if (faults.Count == 0)
        {
            return Reply.Said("Kept: from now on new estimates and prices go by it.");
        }
        return Reply.Refused(
            "Not kept: "
                + string.Join(
                    " ",
                    faults.Select(e =>
                        $"{Fields.FirstOrDefault(f => f.Id == e.Pointer).Words ?? e.Pointer}: {e.Message}"
                    )
                )
        );
    }
}
