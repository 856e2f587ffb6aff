using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>An act that a device still kept when it was let in no more.</summary>
/// <param name="Id">The act's own id.</param>
/// <param name="DeviceId">Id of the device.</param>
/// <param name="Device">What it was called.</param>
/// <param name="Person">Whose it was.</param>
/// <param name="Job">Number of the job, as the device says it.</param>
/// <param name="Words">What was pressed.</param>
/// <param name="MadeAt">When, by the device.</param>
/// <param name="CameAt">When it came.</param>
/// <param name="Fields">What was filled in, a line a field.</param>
/// <param name="FileName">Name of the file it carries; empty where it carries none.</param>
/// <param name="Bytes">How large that file is.</param>
public sealed record LeftAct(
    string Id,
    Guid DeviceId,
    string Device,
    string Person,
    string Job,
    string Words,
    string MadeAt,
    DateTimeOffset CameAt,
    string Fields,
    string FileName,
    long Bytes
);

/// <summary>Quarantine for what revoked devices still kept: bounded, looked at by who keeps the shop.</summary>
/// <param name="database">The database.</param>
public sealed class LeftStore(Database database)
{
    /// <summary>Most acts of one device.</summary>
    public const int MostActs = 300;

    /// <summary>Most bytes of one device.</summary>
    public const long MostBytes = 64L << 20;

    private const string Columns =
        "left_id, device_id, device, person, job, words, made_at, came_at, fields, file_name, length(file)";

    /// <summary>All that waits, device by device, in the order it came.</summary>
    public IReadOnlyList<LeftAct> List() => Read("1 = 1");

    /// <summary>How many wait.</summary>
    public int Count()
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT count(*) FROM left_act");
        return (int)(long)command.ExecuteScalar()!;
    }

    /// <summary>One of them, or null.</summary>
    public LeftAct? Find(string id) => Read("left_id = $id", ("$id", id)).FirstOrDefault();

    /// <summary>The file of one, or null.</summary>
    public byte[]? FileOf(string id)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT file FROM left_act WHERE left_id = $id", ("$id", id));
        return command.ExecuteScalar() as byte[];
    }

    /// <summary>Takes one in; the same again is the same.</summary>
    /// <returns>False where the device has left as much as it may.</returns>
    public bool Add(LeftAct act, byte[]? file)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        using var held = connection.Command(
            transaction,
            "SELECT count(*), coalesce(sum(coalesce(length(file), 0) + length(fields)), 0) FROM left_act WHERE device_id = $device AND left_id <> $id",
            ("$device", act.DeviceId.ToString()),
            ("$id", act.Id)
        );
        using (var reader = held.ExecuteReader())
        {
            reader.Read();
            if (
                reader.GetInt64(0) >= MostActs
                || reader.GetInt64(1) + act.Fields.Length + (file?.Length ?? 0) > MostBytes
            )
            {
                return false;
            }
        }
        using var add = connection.Command(
            transaction,
            "INSERT INTO left_act (left_id, device_id, device, person, job, words, made_at, came_at, fields, file_name, file) VALUES ($id, $device, $name, $person, $job, $words, $made, $came, $fields, $file_name, $file) ON CONFLICT DO NOTHING",
            ("$id", act.Id),
            ("$device", act.DeviceId.ToString()),
            ("$name", act.Device),
            ("$person", act.Person),
            ("$job", act.Job),
            ("$words", act.Words),
            ("$made", act.MadeAt),
            ("$came", SqlRows.Text(act.CameAt)),
            ("$fields", act.Fields),
            ("$file_name", act.FileName),
            ("$file", file)
        );
        add.ExecuteNonQuery();
        transaction.Commit();
        return true;
    }

    /// <summary>Takes one out.</summary>
    public void Drop(string id)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "DELETE FROM left_act WHERE left_id = $id", ("$id", id));
        command.ExecuteNonQuery();
    }

    /// <summary>What was left of a job whose customer's data is taken out.</summary>
    internal static void RemoveCustomer(SqliteConnection connection, SqliteTransaction transaction, string job)
    {
        using var command = connection.Command(transaction, "DELETE FROM left_act WHERE job = $job", ("$job", job));
        command.ExecuteNonQuery();
    }

    private List<LeftAct> Read(string where, params (string, object?)[] values)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {Columns} FROM left_act WHERE {where} ORDER BY device_id, made_at, rowid",
            values
        );
        using var reader = command.ExecuteReader();
        var list = new List<LeftAct>();
        while (reader.Read())
        {
            list.Add(Of(reader));
        }
        return list;
    }

    private static LeftAct Of(SqliteDataReader r) =>
        new(
            r.GetString(0),
            Guid.Parse(r.GetString(1)),
            r.GetString(2),
            r.GetString(3),
            r.GetString(4),
            r.GetString(5),
            r.GetString(6),
            SqlRows.Time(r.GetString(7)),
            r.GetString(8),
            r.GetString(9),
            r.IsDBNull(10) ? 0 : r.GetInt64(10)
        );
}
