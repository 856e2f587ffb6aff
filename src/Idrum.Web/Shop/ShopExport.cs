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
    public static void Write(
        Stream to,
        JobStore store,
        LayoutStore layouts,
        ShopSnapshot shop,
        CancellationToken stop = default
    )
    {
        using var zip = new ZipArchive(to, ZipArchiveMode.Create, true);
        var jobs = store.List();
        using var read = new StringWriter(CultureInfo.InvariantCulture);
        using (var readings = new CsvWriter(read, CultureInfo.InvariantCulture, true))
        {
            readings.WriteHeader<ReadingRow>();
            readings.NextRecord();
            foreach (var summary in jobs)
            {
                stop.ThrowIfCancellationRequested();
                if (store.Find(summary.Number) is { } job)
                {
                    Text(zip, $"jobs/{summary.Number}.json", JobExport.Json(job, store, shop));
                    readings.WriteRecords(Readings(job.State));
                }
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
                    station = j.Station.Named(),
                    closed = j.Closed,
                    opened = j.OpenedAt.ToString("O"),
                    last = j.LastAt.ToString("O"),
                    cause = Plain(j.FaultId),
                    complaint = Plain(j.Words),
                })
            );
        }
        Text(zip, "jobs.csv", list.ToString());
        Text(zip, "readings.csv", read.ToString());
    }

    /// <summary>One reading as a line of a table.</summary>
    public sealed record ReadingRow(
        string Job,
        string Tag,
        string Machine,
        string Protocol,
        string Part,
        string Position,
        double? DrumDeg,
        double? Value,
        string Unit,
        bool Open,
        string Instrument,
        string Taken
    );

    /// <summary>Readings of a job, by protocol and free, in their order.</summary>
    internal static IEnumerable<ReadingRow> Readings(JobState state)
    {
        ReadingRow Row(
            string protocol,
            string part,
            string at,
            double? drum,
            double? value,
            string unit,
            bool open,
            string tool,
            DateTimeOffset taken
        ) =>
            new(
                Plain(state.Number),
                Plain(state.Machine.Tag),
                Plain(state.Machine.LayoutId),
                Plain(protocol),
                Plain(part),
                Plain(at),
                drum,
                value,
                Plain(unit),
                open,
                Plain(tool),
                taken.ToString("O")
            );
        return state
            .Gauged.Select(g =>
                Row(g.Protocol, g.PartId, g.Position, g.DrumDeg, g.Value, g.Unit, g.Open, g.Instrument, g.Happened)
            )
            .Concat(state.Readings.Select(r => Row(r.What, "", "", null, r.Value, r.Unit, false, "", r.Happened)));
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
