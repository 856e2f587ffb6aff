using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>Reads the version of a job over a connection and a statement that stay open: it is asked for with every
/// page.</summary>
internal sealed class VersionReader : IDisposable
{
    private readonly Lock gate = new();
    private readonly SqliteConnection connection;
    private readonly SqliteCommand command;

    internal VersionReader(Database database)
    {
        connection = database.Connect();
        command = connection.Command(null, "SELECT version FROM job WHERE job_id = $job", ("$job", ""));
        command.Prepare();
    }

    /// <summary>The version, or null where there is no such job.</summary>
    internal long? Of(Guid jobId)
    {
        lock (gate)
        {
            command.Parameters[0].Value = jobId.ToString();
            return command.ExecuteScalar() as long?;
        }
    }

    public void Dispose()
    {
        command.Dispose();
        connection.Dispose();
    }
}
