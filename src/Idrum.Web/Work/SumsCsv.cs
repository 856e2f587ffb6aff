using System.Globalization;
using CsvHelper;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Money;
using Idrum.Storage;
using Idrum.Web.Shop;

namespace Idrum.Web.Work;

/// <summary>Estimate and price of a job as CSV, a line each.</summary>
public static class SumsCsv
{
    /// <summary>The file; nothing where there is neither.</summary>
    /// <param name="number">The job.</param>
    /// <param name="sheet">semicolon for a table program that takes the comma for part of a number: cells parted by
    /// semicolons, numbers with a comma, marked as UTF-8.</param>
    /// <param name="store">Jobs.</param>
    public static IResult Write(string number, string? sheet, JobStore store)
    {
        if (store.Find(number)?.State is not { } state || state.Estimate is null && state.Price is null)
        {
            return Results.NotFound();
        }
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        var forSheet = sheet == "semicolon";
        var form = new CsvHelper.Configuration.CsvConfiguration(
            forSheet
                ? new CultureInfo("") { NumberFormat = { NumberDecimalSeparator = "," } }
                : CultureInfo.InvariantCulture
        )
        {
            Delimiter = forSheet ? ";" : ",",
        };
        using (var csv = new CsvWriter(text, form, true))
        {
            csv.WriteRecords(
                Lines(state, "estimate", state.Estimate?.Sum).Concat(Lines(state, "price", state.Price?.Sum))
            );
        }
        return Results.File(
            [
                .. forSheet ? System.Text.Encoding.UTF8.Preamble : [],
                .. System.Text.Encoding.UTF8.GetBytes(text.ToString()),
            ],
            "text/csv",
            $"{state.Number}-sums.csv"
        );
    }

    private static IEnumerable<Row> Lines(JobState state, string of, Sum? sum) =>
        sum is null
            ? []
            :
            [
                .. sum.Lines.Select(l => new Row(
                    state.Number,
                    of,
                    ShopExport.Plain(l.Kind),
                    ShopExport.Plain(l.What),
                    l.Quantity,
                    ShopExport.Plain(l.Unit),
                    l.Each,
                    l.Amount,
                    sum.Currency
                )),
                new(state.Number, of, "net", "", 1, "", sum.Net, sum.Net, sum.Currency),
                new(
                    state.Number,
                    of,
                    "tax",
                    FormattableString.Invariant($"{sum.TaxPercent} %"),
                    1,
                    "",
                    sum.Tax,
                    sum.Tax,
                    sum.Currency
                ),
                new(state.Number, of, "total", "", 1, "", sum.Total, sum.Total, sum.Currency),
            ];

    /// <summary>One line of the file.</summary>
    public sealed record Row(
        string Job,
        string Of,
        string Kind,
        string What,
        double Quantity,
        string Unit,
        double Each,
        double Amount,
        string Currency
    );
}
