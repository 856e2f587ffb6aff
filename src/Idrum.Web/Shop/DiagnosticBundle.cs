using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Web.Shop;

/// <summary>What somebody who helps must know and nothing of a customer: versions, settings without secrets, counts, the last errors.</summary>
public static class DiagnosticBundle
{
    /// <summary>The bundle as a file.</summary>
    public static IResult Write(
        IdrumOptions options,
        ShopSnapshot shop,
        JobStore store,
        BackupDesk backups,
        LastErrors errors,
        TimeProvider clock,
        HttpContext context
    )
    {
        var now = clock.GetUtcNow();
        using var process = Process.GetCurrentProcess();
        context.Response.Headers.CacheControl = "no-store";
        context.Response.Headers.ContentDisposition =
            $"attachment; filename=\"idrum-diagnosis-{now.ToString("yyyyMMdd-HHmm", CultureInfo.InvariantCulture)}.json\"";
        var jobs = store.List();
        var terms = shop.Terms;
        return Results.Json(
            new
            {
                made = now,
                idrum = SystemCheck.Version,
                runtime = RuntimeInformation.FrameworkDescription,
                system = RuntimeInformation.OSDescription,
                architecture = RuntimeInformation.ProcessArchitecture.ToString(),
                upMinutes = Math.Round((DateTime.Now - process.StartTime).TotalMinutes, 1),
                memoryMB = process.WorkingSet64 >> 20,
                check = SystemCheck
                    .Look(options)
                    .Select(c => new
                    {
                        what = c.What.Replace(options.DataFolder, "…", StringComparison.Ordinal),
                        wrong = c.Wrong.Length > 0,
                    }),
                served = new
                {
                    lan = options.Lan,
                    proxy = options.Proxy is not null,
                    demo = options.Demo,
                    ownCertificate = options.Certificate.Length > 0,
                },
                settings = new
                {
                    terms.Currency,
                    terms.MainsHertz,
                    terms.Units,
                    terms.Temperature,
                    terms.Paper,
                    terms.TimeZone,
                },
                shop = new
                {
                    layouts = shop.Layouts.Count,
                    jobs = jobs.Count,
                    open = jobs.Count(j => !j.Closed),
                    readOnly = jobs.Count(j => !j.Closed && store.Find(j.Number)?.State.Unknown.Count > 0),
                    databaseMB = Math.Round(new FileInfo(options.DatabasePath).Length / 1048576.0, 1),
                    backupWorry = backups.Worry().Length > 0,
                },
                errors = errors.All,
            },
            Core.Basics.IdrumJson.Options
        );
    }
}
