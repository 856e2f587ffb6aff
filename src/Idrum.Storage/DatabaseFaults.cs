using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>What is wrong with a database file, in words for who keeps the shop. Looking changes nothing in the
/// file.</summary>
public static class DatabaseFaults
{
    private static readonly byte[] Mark = "SQLite format 3\0"u8.ToArray();

    /// <summary>Looks at a file before it is opened for writing.</summary>
    /// <param name="path">Path of the database; a file that is not there is no fault.</param>
    /// <exception cref="InvalidDataException">It is empty, damaged, no database, or of a newer Idrum; the message says
    /// what to do.</exception>
    public static void Look(string path)
    {
        if (!File.Exists(path))
        {
            return;
        }
        using (var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite))
        {
            if (file.Length == 0)
            {
                throw new InvalidDataException($"The database {path} has no bytes: it was cut off. {ToDo}");
            }
            var head = new byte[Mark.Length];
            if (file.ReadAtLeast(head, head.Length, false) < head.Length || !head.AsSpan().SequenceEqual(Mark))
            {
                throw new InvalidDataException($"The file {path} is no database. {ToDo}");
            }
        }
        try
        {
            using var connection = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = path,
                    Mode = SqliteOpenMode.ReadWrite,
                    Pooling = false,
                }.ToString()
            );
            connection.Open();
            using (var check = connection.Command(null, "PRAGMA quick_check(1)"))
            {
                if (check.ExecuteScalar() is not "ok")
                {
                    throw new InvalidDataException($"The database {path} is damaged. {ToDo}");
                }
            }
            using (var version = connection.Command(null, "PRAGMA user_version"))
            {
                if (version.ExecuteScalar() is long reader && reader > Database.Reader)
                {
                    throw new InvalidDataException(
                        $"The database {path} was written by a newer Idrum (it asks for reader {reader}, this is {Database.Reader}). Start that one; this one has changed nothing."
                    );
                }
            }
            if (Newer(connection) is { } script)
            {
                throw new InvalidDataException(
                    $"The database {path} was written by a newer Idrum (it holds {script}). Start that one; this one has changed nothing."
                );
            }
        }
        catch (SqliteException e)
            when (e.SqliteErrorCode
                    is SQLitePCL.raw.SQLITE_CORRUPT
                        or SQLitePCL.raw.SQLITE_NOTADB
                        or SQLitePCL.raw.SQLITE_FORMAT
            )
        {
            throw new InvalidDataException($"The database {path} is damaged ({e.Message}). {ToDo}", e);
        }
        catch (SqliteException e)
        {
            throw new IOException($"The database {path} cannot be opened: {Words(e) ?? e.Message}", e);
        }
    }

    private const string ToDo =
        "Nothing was changed. Bring the last backup back with: ./idrum restore FILE (it sets this one aside, it deletes nothing).";

    /// <summary>The first migration in it that this Idrum does not know, or null.</summary>
    private static string? Newer(SqliteConnection connection)
    {
        using var journal = connection.Command(
            null,
            "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'SchemaVersions'"
        );
        if (journal.ExecuteScalar() is null)
        {
            return null;
        }
        var known = typeof(DatabaseFaults).Assembly.GetManifestResourceNames().ToHashSet();
        using var command = connection.Command(null, "SELECT ScriptName FROM SchemaVersions ORDER BY ScriptName");
        using var reader = command.ExecuteReader();
        while (reader.Read())
        {
            if (!known.Contains(reader.GetString(0)))
            {
                return reader.GetString(0);
            }
        }
        return null;
    }

    /// <summary>Why something could not be stored, in plain words; null where it is no fault of disk, folder or
    /// file.</summary>
    public static string? Words(SqliteException e) =>
        e.SqliteErrorCode switch
        {
            SQLitePCL.raw.SQLITE_FULL => "The disk of the shop's computer is full. Free some room, then do it again.",
            SQLitePCL.raw.SQLITE_READONLY or SQLitePCL.raw.SQLITE_CANTOPEN or SQLitePCL.raw.SQLITE_PERM =>
                "The shop's folder cannot be written. See to its rights, then do it again.",
            SQLitePCL.raw.SQLITE_IOERR =>
                "The disk of the shop's computer does not take it: full, loose or failing. See to it, make a backup, then do it again.",
            SQLitePCL.raw.SQLITE_CORRUPT or SQLitePCL.raw.SQLITE_NOTADB =>
                "The shop's database is damaged. Stop Idrum and bring the last backup back (./idrum restore FILE).",
            SQLitePCL.raw.SQLITE_BUSY or SQLitePCL.raw.SQLITE_LOCKED =>
                "Another program holds the shop's database. Close it, then do it again.",
            _ => null,
        };
}
