using System.Security.Cryptography;
using System.Text;
using Idrum.Core.Jobs.Log;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>The chain of acts in the database.</summary>
internal static class Chain
{
    /// <summary>Chains logs from before there was a chain, as they stand.</summary>
    internal static void Begin(SqliteConnection connection, SqliteTransaction transaction)
    {
        var jobs = new List<string>();
        using (
            var command = connection.Command(
                transaction,
                "SELECT job_id FROM job WHERE head = '' AND EXISTS (SELECT 1 FROM event WHERE event.job_id = job.job_id)"
            )
        )
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                jobs.Add(reader.GetString(0));
            }
        }
        foreach (var job in jobs)
        {
            var (head, rows) = (LogChain.Start, Rows(connection, transaction, job));
            foreach (var (seq, _, body, _) in rows)
            {
                head = LogChain.Next(head, seq, body);
                using var write = connection.Command(
                    transaction,
                    "UPDATE event SET hash = $hash WHERE job_id = $job AND seq = $seq",
                    ("$hash", head),
                    ("$job", job),
                    ("$seq", seq)
                );
                write.ExecuteNonQuery();
            }
            using var end = connection.Command(
                transaction,
                "UPDATE job SET head = $head WHERE job_id = $job",
                ("$head", head),
                ("$job", job)
            );
            end.ExecuteNonQuery();
        }
    }

    /// <summary>Where a log was changed, in words; null where it holds.</summary>
    internal static string? Broken(SqliteConnection connection, Guid jobId)
    {
        using var command = connection.Command(
            null,
            "SELECT head, version FROM job WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        using var reader = command.ExecuteReader();
        if (!reader.Read())
        {
            return null;
        }
        var (head, version, before, place) = (reader.GetString(0), reader.GetInt32(1), LogChain.Start, 0);
        var rows = Rows(connection, null, jobId.ToString());
        var removed = RemovedIn(rows.Select(r => r.Body));
        foreach (var (seq, id, body, hash) in rows)
        {
            if (seq != place)
            {
                return $"Act {place + 1} was removed.";
            }
            if (
                LogChain.Next(before, seq, body) != hash && removed.GetValueOrDefault(seq) != HashOf(body)
                || !body.Contains(id, StringComparison.OrdinalIgnoreCase)
            )
            {
                return $"Act {seq + 1} was changed.";
            }
            (before, place) = (hash, place + 1);
        }
        return place < version || before != head ? $"Act {place + 1} and what came after it was removed." : null;
    }

    /// <summary>Hashes of what is left of acts out of which the customer's data was taken, by place; stated by an act
    /// that is chained itself.</summary>
    private static Dictionary<int, string> RemovedIn(IEnumerable<string> bodies) =>
        bodies
            .Where(b => b.Contains("\"customer-removed\"", StringComparison.Ordinal))
            .Select(UnknownAct.Read)
            .OfType<CustomerRemoved>()
            .SelectMany(r => r.Acts)
            .GroupBy(a => a.Place)
            .ToDictionary(g => g.Key, g => g.Last().Sha256);

    /// <summary>SHA-256 of an act's text.</summary>
    internal static string HashOf(string body) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(body)));

    private static List<(int Seq, string Id, string Body, string Hash)> Rows(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        string jobId
    )
    {
        using var command = connection.Command(
            transaction,
            "SELECT seq, event_id, body, hash FROM event WHERE job_id = $job ORDER BY seq",
            ("$job", jobId)
        );
        using var reader = command.ExecuteReader();
        var rows = new List<(int, string, string, string)>();
        while (reader.Read())
        {
            rows.Add((reader.GetInt32(0), reader.GetString(1), reader.GetString(2), reader.GetString(3)));
        }
        return rows;
    }
}
