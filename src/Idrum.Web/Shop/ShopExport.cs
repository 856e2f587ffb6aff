using System.Globalization;
using System.IO.Compression;
using System.Text;
using CsvHelper;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Shop;

/// <summary>Everything in open formats: each job with its photos as JSON, layouts of the shop's own as JSON, lists as
/// CSV; one zip.</summary>
public static class ShopExport
{
    /// <summary>Writes it.</summary>
    public static void Write(Stream to, JobStore store, LayoutStore layouts, ShopSnapshot shop)
    {
        using var zip = new ZipArchive(to, ZipArchiveMode.Create, true);
        var jobs = store.List();
        foreach (var summary in jobs)
        {
            if (store.Find(summary.Number) is { } job)
            {
                Text(zip, $"jobs/{summary.Number}.json", JobExport.Json(job, store, shop));
            }
        }
        foreach (var own in layouts.Own().GroupBy(o => o.LayoutId).Select(g => g.MaxBy(o => o.Version)!))
        {
            if (shop.FindPinned(own.Hash) is { } layout)
            {
                Text(zip, $"layouts/{own.LayoutId}.json", Variants.TextOf(layout));
            }
        }
        using var list = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = new CsvWriter(list, CultureInfo.InvariantCulture, true))
        {
            csv.WriteRecords(
                jobs.Select(j => new
                {
                    number = Plain(j.Number),
                    place = Plain(j.Place),
                    machine = Plain(j.LayoutId),
                    tag = Plain(j.Tag),
                    station = j.Station.ToString(),
                    closed = j.Closed,
                    opened = j.OpenedAt.ToString("O"),
                    last = j.LastAt.ToString("O"),
                    cause = Plain(j.FaultId),
                    complaint = Plain(j.Words),
                })
            );
        }
        Text(zip, "jobs.csv", list.ToString());
    }

    /// <summary>A cell that a table program would take for a formula is marked as text.</summary>
    /// <remarks>Full-width signs count as the plain ones, and what stands behind blanks as what stands first.</remarks>
    internal static string Plain(string text) =>
        text.TrimStart() is { Length: > 0 } first && "=+-@\uff1d\uff0b\uff0d\uff20".Contains(first[0])
        || text.Length > 0 && text[0] is '\t' or '\r'
            ? "'" + text
            : text;

    private static void Text(ZipArchive zip, string name, string text)
    {
        using var writer = new StreamWriter(
            zip.CreateEntry(name, CompressionLevel.Fastest).Open(),
            new UTF8Encoding(false)
        );
        writer.Write(text);
    }
}
