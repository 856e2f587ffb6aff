using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Shop;

namespace Idrum.Web.Work;

/// <summary>Jobs of the logbook in open formats, narrowed down as its page was.</summary>
public static class LogExport
{
    private const int Page = 500;

    /// <summary>One job.</summary>
    public sealed record Row(
        string Job,
        string Opened,
        string Last,
        string State,
        string Place,
        string Machine,
        string Tag,
        string Complaint,
        string Cause,
        string CallBackOf
    );

    /// <summary>As CSV, page by page.</summary>
    public static async Task<IResult> Csv(HttpContext context, LogbookStore log, ShopSnapshot shop)
    {
        if (Wanted(context, shop) is not { } filter)
        {
            return Results.BadRequest();
        }
        var sheet = context.Request.Query["sheet"] == "semicolon";
        context.Response.ContentType = "text/csv; charset=utf-8";
        context.Response.Headers.ContentDisposition = "attachment; filename=logbook.csv";
        await using var text = new StreamWriter(
            context.Response.Body,
            new System.Text.UTF8Encoding(sheet),
            leaveOpen: true
        );
        await using var csv = new CsvWriter(
            text,
            new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = sheet ? ";" : "," },
            true
        );
        csv.WriteHeader<Row>();
        await csv.NextRecordAsync();
        foreach (var row in Rows(log, filter.Query))
        {
            csv.WriteRecord(
                row with
                {
                    Place = ShopExport.Plain(row.Place),
                    Tag = ShopExport.Plain(row.Tag),
                    Complaint = ShopExport.Plain(row.Complaint),
                }
            );
            await csv.NextRecordAsync();
            context.RequestAborted.ThrowIfCancellationRequested();
        }
        await csv.FlushAsync();
        return Results.Empty;
    }

    /// <summary>As JSON.</summary>
    public static IResult Json(HttpContext context, LogbookStore log, ShopSnapshot shop) =>
        Wanted(context, shop) is { } filter
            ? Results.Json(new { jobs = Rows(log, filter.Query) })
            : Results.BadRequest();

    private static LogFilter? Wanted(HttpContext context, ShopSnapshot shop) =>
        LogFilter.Of(context.Request.Query, shop.Terms) is { Wrong.Count: 0 } filter ? filter : null;

    private static IEnumerable<Row> Rows(LogbookStore log, LogQuery query)
    {
        for (var page = 1; log.Find(query, page, Page).Jobs is { Count: > 0 } jobs; page++)
        {
            foreach (var j in jobs)
            {
                yield return Of(j);
            }
        }
    }

    private static Row Of(JobSummary j) =>
        new(
            j.Number,
            j.OpenedAt.ToString("O", CultureInfo.InvariantCulture),
            j.LastAt.ToString("O", CultureInfo.InvariantCulture),
            j.Closed ? "Closed" : j.Station.Named(),
            j.Place,
            j.LayoutId,
            j.Tag,
            j.Words,
            j.FaultId,
            j.CallBackOf
        );
}
