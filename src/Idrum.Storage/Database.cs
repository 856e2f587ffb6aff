using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>The shop's SQLite file: opened with WAL, foreign keys and full synchronisation, migrated at
/// start.</summary>
public sealed class Database
{
    /// <summary>The least reader this Idrum's shops need: raised with each kind of act, or meaning of one, that an
    /// older Idrum would not know. It stands in
    /// the file (<c>user_version</c>) and in each backup.</summary>
    internal const int Reader = 7;

    private readonly string connectionString;

    /// <summary>The shop's folder.</summary>
    internal string Folder { get; }

    private Database(string path)
    {
        Folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = path,
            ForeignKeys = true,
            DefaultTimeout = 10,
        }.ToString();
    }

    /// <summary>Opens or makes the file and brings it to the newest version.</summary>
    /// <param name="path">Path of the file; its folder must exist.</param>
    /// <remarks>A shop that is there is copied before it is changed, into <c>before-update</c> beside it; all that is changed is one
    /// transaction, so that a failure leaves it as it was.</remarks>
    /// <exception cref="InvalidOperationException">A migration failed; the shop is as it was.</exception>
    /// <exception cref="InvalidDataException">The file is empty, damaged or of a newer Idrum.</exception>
    public static Database Open(string path)
    {
        DatabaseFaults.Look(path);
        var database = new Database(path);
        using (var connection = database.Connect())
        {
            // WAL is a property of the file and stays with it.
            Execute(connection, "PRAGMA journal_mode = WAL");
        }
        var upgrade = DeployChanges
            .To.SqliteDatabase(database.connectionString)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .LogTo(new NoOpUpgradeLog())
            .WithTransaction()
            .Build();
        if (upgrade.GetExecutedScripts() is { Count: > 0 } and var done && upgrade.IsUpgradeRequired())
        {
            database.CopyBefore(done[^1].Split('.')[^2]);
        }
        var result = upgrade.PerformUpgrade();
        if (result.Successful)
        {
            using var connection = database.Connect();
            Execute(connection, $"PRAGMA user_version = {Reader}");
        }
        return result.Successful
            ? database
            : throw new InvalidOperationException(
                $"The database could not be brought up to date ({result.Error.Message}). Nothing was changed: the Idrum it was written by opens it still.",
                result.Error
            );
    }

    /// <summary>Copies the shop before it is brought up to date; of such copies the newest three stay.</summary>
    /// <param name="stand">The last migration it holds.</param>
    private void CopyBefore(string stand)
    {
        var folder = Directory.CreateDirectory(Path.Combine(Folder, "before-update"));
        var copy = Path.Combine(folder.FullName, $"{stand}-{Guid.NewGuid().ToString("N")[..8]}.db");
        using (var connection = Connect())
        {
            using var command = connection.Command(null, "VACUUM INTO $copy", ("$copy", copy));
            command.ExecuteNonQuery();
        }
        foreach (var old in folder.GetFiles("*.db").OrderByDescending(f => f.LastWriteTimeUtc).Skip(3))
        {
            old.Delete();
        }
    }

    /// <summary>Most pages the file may have: a full disk for tests; null as the disk has room.</summary>
    internal int? MostPages { get; set; }

    /// <summary>Whether nothing can be written: a read-only folder for tests.</summary>
    internal bool Frozen { get; set; }

    /// <summary>A connection ready for use.</summary>
    internal SqliteConnection Connect()
    {
        var connection = new SqliteConnection(connectionString);
        connection.Open();
        if (Frozen)
        {
            Execute(connection, "PRAGMA query_only = 1");
        }
        // What is written anew leaves no copy in the slack of its page: a customer may want his data gone.
        const string always = "PRAGMA synchronous = FULL; PRAGMA secure_delete = ON";
        Execute(connection, MostPages is { } pages ? $"{always}; PRAGMA max_page_count = {pages}" : always);
        return connection;
    }

    private static void Execute(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }
}
