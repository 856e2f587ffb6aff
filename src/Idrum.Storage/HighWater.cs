using System.Globalization;
using System.Text;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>How far each job had come when an act of it was answered, in a file beside the database and on the disk
/// before the answer: a database whose last acts were cut off, as by a damaged write-ahead log, is sound in itself and
/// shows nothing.</summary>
/// <param name="folder">The shop's folder.</param>
internal sealed class HighWater(string folder)
{
    /// <summary>Name of the file.</summary>
    internal const string Name = "marks";

    private readonly Lock gate = new();
    private FileStream? open;

    private string Place => Path.Combine(folder, Name);

    /// <summary>Notes a job's version and the hash of its last act; it is on the disk when this returns.</summary>
    internal void Note(string number, Guid jobId, int version, string head)
    {
        lock (gate)
        {
            open ??= new FileStream(Place, FileMode.Append, FileAccess.Write, FileShare.ReadWrite | FileShare.Delete);
            open.Write(Encoding.UTF8.GetBytes(Line(number, jobId, version, head)));
            open.Flush(true);
        }
    }

    /// <summary>What was answered once and is not in the database, in words; nothing where all is.</summary>
    internal IReadOnlyList<string> Missing(SqliteConnection connection)
    {
        if (!File.Exists(Place))
        {
            return [];
        }
        var last = new Dictionary<string, (string Number, int Version, string Head)>();
        foreach (var line in File.ReadLines(Place))
        {
            // The last line may be half written.
            if (
                line.Split(' ') is [var number, var id, var version, { Length: 64 } head]
                && int.TryParse(version, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
                && (!last.TryGetValue(id, out var known) || known.Version <= n)
            )
            {
                last[id] = (number, n, head);
            }
        }
        var words = new List<string>();
        using var command = connection.Command(
            null,
            "SELECT (SELECT COUNT(*) FROM event WHERE job_id = $job), (SELECT hash FROM event WHERE job_id = $job AND seq = $seq)",
            ("$job", ""),
            ("$seq", 0)
        );
        foreach (var (id, (number, version, head)) in last.OrderBy(l => l.Value.Number, StringComparer.Ordinal))
        {
            (command.Parameters["$job"].Value, command.Parameters["$seq"].Value) = (id, version - 1);
            using var reader = command.ExecuteReader();
            reader.Read();
            var held = reader.GetInt32(0);
            if (held < version)
            {
                words.Add(
                    held == 0
                        ? $"{number} is gone with its {version} acts"
                        : $"{number}: {version - held} of {version} acts are gone"
                );
            }
            else if (reader.GetString(1) != head)
            {
                words.Add($"{number}: its acts up to the {version}th are not those that were answered");
            }
        }
        return words;
    }

    /// <summary>Begins anew from what the database holds.</summary>
    internal void Begin(SqliteConnection connection)
    {
        lock (gate)
        {
            open?.Dispose();
            open = null;
            var beside = Place + ".part";
            using (var file = new FileStream(beside, FileMode.Create, FileAccess.Write))
            {
                using var command = connection.Command(
                    null,
                    "SELECT number, job_id, version, head FROM job WHERE length(head) = 64"
                );
                using var reader = command.ExecuteReader();
                while (reader.Read())
                {
                    file.Write(
                        Encoding.UTF8.GetBytes(
                            Line(
                                reader.GetString(0),
                                Guid.Parse(reader.GetString(1)),
                                reader.GetInt32(2),
                                reader.GetString(3)
                            )
                        )
                    );
                }
                file.Flush(true);
            }
            File.Move(beside, Place, true);
        }
    }

    private static string Line(string number, Guid jobId, int version, string head) =>
        $"{number.Replace(' ', '_')} {jobId} {version.ToString(CultureInfo.InvariantCulture)} {head}\n";

    internal void Close()
    {
        lock (gate)
        {
            open?.Dispose();
            open = null;
        }
    }
}
