using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>What jobs are wanted of the logbook. What is empty narrows nothing down.</summary>
public sealed record LogQuery
{
    /// <summary>Words, each the beginning of one that must stand in the job.</summary>
    public string Words { get; init; } = "";

    /// <summary>Layout id.</summary>
    public string Layout { get; init; } = "";

    /// <summary>Cause decided on.</summary>
    public string Fault { get; init; } = "";

    /// <summary>Kind of a part changed.</summary>
    public string Part { get; init; } = "";

    /// <summary>Who did something in it.</summary>
    public string Person { get; init; } = "";

    /// <summary>Model tag, exactly.</summary>
    public string Tag { get; init; } = "";

    /// <summary><c>open</c>, <c>closed</c>, <c>back</c> (call-backs) or all.</summary>
    public string State { get; init; } = "";

    /// <summary>Something happened in it since; null for always.</summary>
    public DateTimeOffset? From { get; init; }

    /// <summary>It was opened before; null for always.</summary>
    public DateTimeOffset? Until { get; init; }
}

/// <summary>The logbook: jobs by words and facts, and what is counted of closed ones.</summary>
/// <param name="database">The database.</param>
/// <param name="clock">The shop's clock.</param>
public sealed class LogbookStore(Database database, TimeProvider clock)
{
    private const int MostWords = 12;

    /// <summary>How long a list of what there is to choose from is held: a new name stands in it a moment later.</summary>
    private static readonly TimeSpan Held = TimeSpan.FromSeconds(20);

    private readonly ConcurrentDictionary<string, (DateTimeOffset At, IReadOnlyList<(string, int)> List)> values =
        new();

    /// <summary>Jobs that fit, the newest first, a page of them, and how many there are in all.</summary>
    /// <param name="query">What is wanted.</param>
    /// <param name="page">From 1 up.</param>
    /// <param name="size">Jobs of a page.</param>
    public (IReadOnlyList<JobSummary> Jobs, int Count) Find(LogQuery query, int page, int size)
    {
        if (Condition(query) is not { } asked)
        {
            return ([], 0);
        }
        using var connection = database.Connect();
        // Words are looked up once; without them a list is read off an index, and counting is another matter.
        var inOne = query.Words.Trim().Length > 0;
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns}, {(inOne ? "COUNT(*) OVER ()" : "-1")} FROM job WHERE {asked.Sql} ORDER BY last_at DESC, number LIMIT $size OFFSET $skip",
            [.. asked.Values, ("$size", size), ("$skip", (long)(page - 1) * size)]
        );
        var (list, all) = (new List<JobSummary>(), inOne ? 0 : -1);
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                list.Add(SqlRows.Summary(reader));
                all = reader.GetInt32(reader.FieldCount - 1);
            }
        }
        if (all < 0 || list.Count == 0 && page > 1)
        {
            using var count = connection.Command(null, $"SELECT COUNT(*) FROM job WHERE {asked.Sql}", asked.Values);
            all = Convert.ToInt32(count.ExecuteScalar(), CultureInfo.InvariantCulture);
        }
        return (list, all);
    }

    /// <summary>Values a fact has in the shop, with how many jobs have each; those of most jobs first.</summary>
    /// <param name="what">One of <see cref="JobWords"/>' facts.</param>
    public IReadOnlyList<(string Value, int Jobs)> Values(string what)
    {
        var now = clock.GetUtcNow();
        if (values.TryGetValue(what, out var held) && now - held.At < Held && now >= held.At)
        {
            return held.List;
        }
        return (values[what] = (now, Counted(what))).List;
    }

    private List<(string, int)> Counted(string what)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT value, COUNT(*) FROM job_fact WHERE what = $what GROUP BY value ORDER BY 2 DESC, 1 LIMIT 200",
            ("$what", what)
        );
        using var reader = command.ExecuteReader();
        var list = new List<(string, int)>();
        while (reader.Read())
        {
            list.Add((reader.GetString(0), reader.GetInt32(1)));
        }
        return list;
    }

    /// <summary>Records of closed jobs.</summary>
    /// <param name="cancellation">Ends the reading.</param>
    public IReadOnlyList<JobRecord> Records(CancellationToken cancellation = default) =>
        Records("", "", [], cancellation);

    /// <summary>Records of jobs closed from one moment to before another.</summary>
    public IReadOnlyList<JobRecord> ClosedBetween(DateTimeOffset from, DateTimeOffset until) =>
        Records(
            // Left to itself SQLite reads every closed job by the other index.
            "INDEXED BY job_closed_at",
            " AND json_extract(record, '$.closedAt') >= $from AND json_extract(record, '$.closedAt') < $until",
            [("$from", Second(from)), ("$until", Second(until))],
            default
        );

    /// <summary>A moment as it begins in a record.</summary>
    private static string Second(DateTimeOffset at) =>
        at.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss", System.Globalization.CultureInfo.InvariantCulture);

    private List<JobRecord> Records(string by, string and, (string, object?)[] values, CancellationToken cancellation)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT record FROM job {by} WHERE closed = 1 AND record <> ''{and}",
            values
        );
        using var reader = command.ExecuteReader();
        var list = new List<JobRecord>();
        while (reader.Read())
        {
            cancellation.ThrowIfCancellationRequested();
            list.Add(JsonSerializer.Deserialize<JobRecord>(reader.GetString(0), IdrumJson.Options)!);
        }
        return list;
    }

    /// <summary>Writes what a job is found by, where it is another than before.</summary>
    internal static void Write(SqliteConnection connection, SqliteTransaction transaction, Guid jobId, JobWords words)
    {
        using var text = connection.Command(
            transaction,
            """
            INSERT INTO job_text (job_id, body) VALUES ($job, $body)
            ON CONFLICT (job_id) DO UPDATE SET body = $body WHERE body <> $body
            """,
            ("$job", jobId.ToString()),
            ("$body", words.Body)
        );
        text.ExecuteNonQuery();
        using var known = connection.Command(
            transaction,
            "SELECT what, value FROM job_fact WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        var were = new HashSet<(string, string)>();
        using (var reader = known.ExecuteReader())
        {
            while (reader.Read())
            {
                were.Add((reader.GetString(0), reader.GetString(1)));
            }
        }
        var now = words.Facts.ToHashSet();
        foreach (var (what, value) in were.Except(now))
        {
            Fact("DELETE FROM job_fact WHERE what = $what AND value = $value AND job_id = $job", what, value);
        }
        foreach (var (what, value) in now.Except(were))
        {
            Fact("INSERT INTO job_fact (what, value, job_id) VALUES ($what, $value, $job)", what, value);
        }

        void Fact(string sql, string what, string value)
        {
            using var command = connection.Command(
                transaction,
                sql,
                ("$what", what),
                ("$value", value),
                ("$job", jobId.ToString())
            );
            command.ExecuteNonQuery();
        }
    }

    /// <summary>The words of a query as the index wants them: each between quotes, so that no sign of its own language
    /// means anything, and as the beginning of a word. Null where nothing that could be found is asked for.</summary>
    internal static string? Match(string words)
    {
        var wanted = words
            .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            .Take(MostWords)
            .Select(w => w.Replace("\0", "", StringComparison.Ordinal))
            .ToList();
        return wanted.Count == 0 || wanted.Exists(w => !w.Any(char.IsLetterOrDigit))
            ? null
            : string.Join(' ', wanted.Select(w => $"\"{w.Replace("\"", "\"\"", StringComparison.Ordinal)}\"*"));
    }

    /// <summary>The query as a condition; null where nothing can fit.</summary>
    private static (string Sql, (string, object?)[] Values)? Condition(LogQuery query)
    {
        var (sql, values) = (new StringBuilder("1"), new List<(string, object?)>());
        void And(string condition, string name, object? value)
        {
            sql.Append(" AND ").Append(condition);
            values.Add((name, value));
        }
        if (query.Words.Trim().Length > 0)
        {
            if (Match(query.Words) is not { } match)
            {
                return null;
            }
            And(
                "job_id IN (SELECT t.job_id FROM job_words w JOIN job_text t ON t.id = w.rowid WHERE job_words MATCH $words)",
                "$words",
                match
            );
        }
        foreach (
            var (what, value) in new[]
            {
                (JobWords.Fault, query.Fault),
                (JobWords.Part, query.Part),
                (JobWords.Person, query.Person),
            }.Where(f => f.Item2.Length > 0)
        )
        {
            And(
                $"job_id IN (SELECT job_id FROM job_fact WHERE what = '{what}' AND value = ${what})",
                "$" + what,
                value
            );
        }
        if (query.Layout.Length > 0)
        {
            And("layout_id = $layout", "$layout", query.Layout);
        }
        if (query.Tag.Length > 0)
        {
            And("tag = $tag", "$tag", query.Tag);
        }
        sql.Append(
            query.State switch
            {
                "open" => " AND closed = 0",
                "closed" => " AND closed = 1",
                "back" => " AND call_back_of <> ''",
                _ => "",
            }
        );
        if (query.From is { } from)
        {
            And("last_at >= $from", "$from", SqlRows.Text(from));
        }
        if (query.Until is { } until)
        {
            And("opened_at < $until", "$until", SqlRows.Text(until));
        }
        return (sql.ToString(), [.. values]);
    }
}
