using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Money;
using Idrum.Core.Supply;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>What the job will cost, who agreed to it, and what it cost.</summary>
public sealed class EstimateModel(JobServices services) : JobPage(services)
{
    private const int MostLines = 60;
    private Estimates.Draft? draft;

    public override Station Shown => State.Station;

    public int Worked => WorkTime.Minutes(View.Job.History.Effective);

    /// <summary>What Idrum reckons now.</summary>
    public Estimates.Draft Draft =>
        draft ??= Estimates.Of(
            State,
            View.Machine,
            PartsAdvice.Of(
                State,
                View.Machine,
                Services.Money.Supplier,
                Terms.RatePerHour,
                Van.Holds,
                HttpContext.RequestAborted
            ),
            Terms,
            Worked,
            HttpContext.RequestAborted
        );

    /// <summary>The price as Idrum reckons it from what was done.</summary>
    public Sum Reckoned =>
        Estimates.PriceOf(State, View.Machine, Terms, Worked, Estimates.Trips(View.Job.History.Effective, Terms));

    /// <summary>Whether the work is over, so that it is priced and no more estimated.</summary>
    public bool Over => State.Closed is not null || State.Station >= Station.Prove || State.HandedOver;

    /// <summary>The form that is filled in: a price where the work is over, else an estimate.</summary>
    public string Kind => Over ? "price-made" : "estimate-given";

    /// <summary>Lines of the form: as typed where it was refused, as they stand where there are some, else as
    /// reckoned.</summary>
    public IReadOnlyList<SumLine> Lines => Over ? State.Price?.Sum.Lines ?? Reckoned.Lines : Draft.Sum.Lines;

    /// <summary>What stands in a field of a line.</summary>
    public string Typed(int line, string field, string otherwise) =>
        Form.Value(Kind, $"lines[{line}].{field}", otherwise);

    public string Wrong(int line, string field) => Form.ErrorAt(Kind, $"lines[{line}].{field}");

    /// <summary>Price of a new machine, as typed; null where none is, or it cannot be.</summary>
    public double? PriceOfNew =>
        TypedNumber.Read(Request.Query["new"].ToString()) is { } n && n is > 0 and <= 100_000 ? n : null;

    public bool PriceOfNewWrong => Request.Query["new"].ToString().Trim().Length > 0 && PriceOfNew is null;

    /// <summary>Mending beside a new machine; null where nobody said what one costs.</summary>
    public RepairOrReplace? Replace =>
        PriceOfNew is not { } price ? null
        : State.Estimate is { } given ? Of(given.Low, given.High, price)
        : Of(
            Estimates.Draft.TotalAt(Draft.Sum, Draft.LowShare, Terms),
            Estimates.Draft.TotalAt(Draft.Sum, Draft.HighShare, Terms),
            price
        );

    public string Pay(double amount) =>
        $"{State.Price?.Sum.Currency ?? State.Estimate?.Sum.Currency ?? Terms.Currency} {amount.ToString("0.00", CultureInfo.InvariantCulture)}";

    public override async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        var kind = Request.Form["kind"].ToString();
        if (kind is not ("estimate-given" or "price-made"))
        {
            return await base.OnPostAsync(number);
        }
        if (!Load(number))
        {
            return NotFound();
        }
        var (sum, errors) = Read();
        if (errors.Count > 0)
        {
            return await RefuseAsync(errors);
        }
        return await RecordAsync(
            kind == "price-made"
                ? new PriceMade(sum, Request.Form["reason"].ToString().Trim())
                : new EstimateGiven(
                    sum,
                    Math.Min(sum.Total, Estimates.Draft.TotalAt(sum, Draft.LowShare, Terms)),
                    Math.Max(sum.Total, Estimates.Draft.TotalAt(sum, Draft.HighShare, Terms)),
                    Request.Form["note"].ToString().Trim()
                ),
            To("estimate")
        );
    }

    private RepairOrReplace Of(double low, double high, double price) =>
        RepairOrReplace.Of(
            low,
            high,
            price,
            State.Machine.AgeYears ?? 10,
            Math.Max(0.5, State.Machine.UsesPerWeek ?? 5)
        );

    /// <summary>The lines as typed; a line whose quantity is 0 or empty falls away.</summary>
    private (Sum Sum, IReadOnlyList<FieldError> Errors) Read()
    {
        var errors = new FieldErrors();
        var lines = new List<SumLine>();
        for (var i = 0; i < MostLines && Request.Form.ContainsKey($"lines[{i}].what"); i++)
        {
            string Field(string name) => Request.Form[$"lines[{i}].{name}"].ToString().Trim();
            if (Field("quantity") is "" or "0")
            {
                continue;
            }
            var (quantity, each) = (TypedNumber.Read(Field("quantity")), TypedNumber.Read(Field("each")));
            errors.If(quantity is null or < 0 or > 1000, $"lines[{i}].quantity", "A number from 0 to 1000.");
            errors.If(each is null or < 0 or > 100_000, $"lines[{i}].each", "A price from 0 to 100000.");
            lines.Add(new(Field("kind"), Field("what"), quantity ?? 0, Field("unit"), each ?? 0));
        }
        errors.If(lines.Count == 0 && errors.All.Count == 0, "lines", "One line at least.");
        return (new(Terms.Currency, lines, Terms.TaxPercent), errors.All);
    }
}
