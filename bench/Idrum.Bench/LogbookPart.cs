using System.Diagnostics;
using System.Globalization;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Microsoft.Data.Sqlite;

namespace Idrum.Bench;

/// <summary>A shop of many jobs: how long it takes to start, how much it holds in memory, and how quickly a job is found, beside an empty page
/// of the same process.</summary>
internal static class LogbookPart
{
    private const int Usual = 20_000;

    internal static async Task<bool> RunAsync(string[] args)
    {
        var jobs = args.Length > 0 && int.TryParse(args[0], out var n) ? n : Usual;
        // A folder that is named is made once and kept, to look at again.
        var kept = args.Length > 1 ? Path.GetFullPath(args[1]) : "";
        var folder = kept.Length > 0 ? kept : Directory.CreateTempSubdirectory("idrum-bench-log").FullName;
        try
        {
            if (!File.Exists(Path.Combine(Directory.CreateDirectory(folder).FullName, "idrum.db")))
            {
                await MakeAsync(folder, jobs);
            }
            var file = new FileInfo(Path.Combine(folder, "idrum.db")).Length / 1048576.0;
            // The first start after growing writes its marks anew; the second is what every morning is like.
            var (first, _, _) = await StartAsync(folder, _ => Task.FromResult(true));
            var ok = true;
            var (start, memory, measured) = await StartAsync(folder, MeasureAsync);
            Console.WriteLine(
                FormattableString.Invariant(
                    $"{jobs} jobs, {file:0} MB: start {start:0.00} s (the first {first:0.00} s), {memory:0} MB then"
                )
            );
            ok &= measured;
            if (!BenchHost.Smallest)
            {
                ok &= start <= 3 && memory <= 300;
                Console.WriteLine("bounds: start 3 s, 300 MB at it; medians: search 50 ms, pages 100 ms");
            }
            return ok;
        }
        finally
        {
            if (kept.Length == 0)
            {
                Directory.Delete(folder, true);
            }
        }
    }

    /// <summary>The demo and some hundred jobs of a made-up past, then copies of those under other numbers and tags.</summary>
    private static async Task MakeAsync(string folder, int jobs)
    {
        var app = await IdrumHost.BuildAsync(
            new IdrumOptions
            {
                DataFolder = folder,
                ContentFolder = BenchHost.Content,
                Demo = true,
            },
            0
        );
        var store = (JobStore)app.Services.GetService(typeof(JobStore))!;
        var shop = ((ShopKeeper)app.Services.GetService(typeof(ShopKeeper))!).Now;
        var layouts = shop.Layouts.Select(l => l.Id).Take(BenchHost.Size(99, 1)).ToList();
        foreach (
            var (id, acts) in new ShopYears(9, 2, BenchHost.Size(200, 3)).Jobs(shop, layouts, DateTimeOffset.UtcNow)
        )
        {
            await store.ImportAsync(JobArchive.Of(id, acts, []), JobHistory.Of(acts));
        }
        await app.DisposeAsync();
        SqliteConnection.ClearAllPools();
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "idrum.db")}");
        connection.Open();
        long Scalar(string sql)
        {
            using var command = connection.CreateCommand();
            command.CommandText = sql;
            return Convert.ToInt64(command.ExecuteScalar() ?? 0, CultureInfo.InvariantCulture);
        }
        var old = Scalar("SELECT COUNT(*) FROM job WHERE closed = 1");
        var times = Math.Max(0, (jobs - old + old - 1) / old);
        Scalar(
            $"""
            PRAGMA synchronous = OFF;
            CREATE TEMP TABLE n (i INTEGER PRIMARY KEY);
            WITH RECURSIVE r(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM r WHERE i < {Math.Max(
                1,
                times
            )}) INSERT INTO n SELECT i FROM r;
            CREATE TEMP TABLE old AS SELECT job_id, number, row_number() OVER () AS k FROM job WHERE closed = 1;
            CREATE TEMP TABLE made AS SELECT old.job_id AS was, printf('%08d-%04d-4000-8000-000000000000', n.i, old.k) AS job_id,
                printf('B-%06d', n.i * 1000 + old.k) AS number, n.i AS i FROM old, n LIMIT {Math.Max(1, jobs - old)};
            SELECT 0;
            """
        );
        string Columns(string table, params string[] but)
        {
            using var command = connection.CreateCommand();
            command.CommandText = $"SELECT name FROM pragma_table_info('{table}')";
            using var reader = command.ExecuteReader();
            var names = new List<string>();
            while (reader.Read())
            {
                names.Add(reader.GetString(0));
            }
            return string.Join(", ", names.Except(but));
        }
        var job = Columns("job", "job_id", "number", "tag");
        var act = Columns("event", "event_id", "job_id");
        string Of(string columns, string alias) => string.Join(", ", columns.Split(", ").Select(c => $"{alias}.{c}"));
        Scalar(
            $"""
            BEGIN;
            INSERT INTO job (job_id, number, tag, {job}) SELECT m.job_id, m.number, j.tag || '-' || m.i, {Of(
                job,
                "j"
            )} FROM made m JOIN job j ON j.job_id = m.was;
            INSERT INTO event (event_id, job_id, {act}) SELECT lower(hex(randomblob(16))), m.job_id, {Of(
                act,
                "e"
            )} FROM made m JOIN event e ON e.job_id = m.was;
            INSERT INTO job_text (job_id, body) SELECT m.job_id, m.number || char(10) || t.body FROM made m JOIN job_text t ON t.job_id = m.was;
            INSERT INTO job_fact (what, value, job_id) SELECT f.what, f.value, m.job_id FROM made m JOIN job_fact f ON f.job_id = m.was;
            COMMIT;
            PRAGMA wal_checkpoint(TRUNCATE);
            SELECT 0;
            """
        );
        SqliteConnection.ClearAllPools();
    }

    private static async Task<(double Seconds, double Megabytes, bool Ok)> StartAsync(
        string folder,
        Func<Uri, Task<bool>> use
    )
    {
        var watch = Stopwatch.StartNew();
        using var server = Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [
                    "exec",
                    "--depsfile",
                    Path.Combine(AppContext.BaseDirectory, "Idrum.Bench.deps.json"),
                    Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"),
                    "--port",
                    "0",
                    "--cold",
                    "--data",
                    folder,
                ]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var address = await KillPart.AddressAsync(server);
        var seconds = watch.Elapsed.TotalSeconds;
        server.Refresh();
        var idle = server.WorkingSet64 / 1048576.0;
        var ok = await use(address);
        server.Refresh();
        var megabytes = server.WorkingSet64 / 1048576.0;
        Console.WriteLine(FormattableString.Invariant($"  {idle:0} MB at the start, {megabytes:0} MB after"));
        server.Kill();
        await server.WaitForExitAsync();
        return (seconds, idle, ok);
    }

    private static async Task<bool> MeasureAsync(Uri address)
    {
        using var client = new HttpClient { BaseAddress = address };
        (string Path, double Bound)[] pages =
        [
            ("/pulse", 100),
            ("/log?q=roller", 50),
            ("/log?q=laundry+room+brunn", 50),
            ("/log?q=B-0010", 50),
            ("/log?machine=quenby-qd62&part=belt&who=R.+Ilmer", 100),
            ("/log?state=back", 100),
            ("/log?page=300", 100),
            ("/log", 100),
            ("/", 100),
            ("/log/says", 100),
            ("/week", 100),
            ("/week/day", 100),
            ("/stock", 100),
            ("/shop", 100),
        ];
        var ok = true;
        foreach (var (path, bound) in pages)
        {
            var times = new List<double>();
            var cold = Stopwatch.StartNew();
            (await client.GetAsync(path)).EnsureSuccessStatusCode();
            var first = cold.Elapsed.TotalMilliseconds;
            for (var i = 0; i < BenchHost.Size(30, 2); i++)
            {
                var watch = Stopwatch.StartNew();
                (await client.GetAsync(path)).EnsureSuccessStatusCode();
                times.Add(watch.Elapsed.TotalMilliseconds);
            }
            var (m, p) = (BenchHost.At(times, 0.5), BenchHost.At(times, 0.95));
            ok &= BenchHost.Smallest || m <= bound;
            Console.WriteLine(
                FormattableString.Invariant($"  {path, -52} {m, 7:0.0} ms, 95th {p, 7:0.0} ms; the first {first:0} ms")
            );
        }
        return ok;
    }
}
