using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>One version of a layout of the shop's own.</summary>
/// <param name="LayoutId">Layout id.</param>
/// <param name="Version">Rises by one.</param>
/// <param name="Hash">Hash of its text.</param>
/// <param name="FromJob">Number of the job it was made in, or empty.</param>
/// <param name="MadeAt">When.</param>
public sealed record OwnLayout(string LayoutId, int Version, string Hash, string FromJob, DateTimeOffset MadeAt);

/// <summary>Layouts in the database: every writing that a job pins, and the shop's own with their versions.</summary>
/// <param name="database">The database.</param>
/// <param name="shop">Is told of what was stored, after it was.</param>
/// <param name="clock">The shop's clock.</param>
public sealed class LayoutStore(Database database, ShopKeeper shop, TimeProvider clock)
{
    private readonly Lock replacing = new();

    /// <summary>Tells the shop of every stored writing, and of the newest version of each layout of its own.</summary>
    public void Load()
    {
        using var connection = database.Connect();
        var writings = new List<(string Hash, Layout Layout)>();
        using (var command = connection.Command(null, "SELECT hash, body FROM layout"))
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                writings.Add(
                    (reader.GetString(0), JsonSerializer.Deserialize<Layout>(reader.GetString(1), IdrumJson.Options)!)
                );
            }
        }
        var newest = Own().GroupBy(o => o.LayoutId).Select(g => g.MaxBy(o => o.Version)!.Hash).ToList();
        shop.Change(now => newest.Aggregate(now.Keeping(writings), (all, hash) => all.With(all.FindPinned(hash)!)));
    }

    /// <summary>All versions of the shop's own layouts, the newest first.</summary>
    public IReadOnlyList<OwnLayout> Own()
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT layout_id, version, hash, from_job, made_at FROM shop_layout ORDER BY made_at DESC, version DESC"
        );
        using var reader = command.ExecuteReader();
        var list = new List<OwnLayout>();
        while (reader.Read())
        {
            list.Add(
                new(
                    reader.GetString(0),
                    reader.GetInt32(1),
                    reader.GetString(2),
                    reader.GetString(3),
                    SqlRows.Time(reader.GetString(4))
                )
            );
        }
        return list;
    }

    /// <summary>Stores a layout of the shop's own as its next version and puts it among the present ones.</summary>
    /// <param name="layout">A sound layout; its id is its own.</param>
    /// <param name="fromJob">Number of the job it was made in, or empty.</param>
    public OwnLayout Add(Layout layout, string fromJob)
    {
        var hash = Variants.HashOf(layout);
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        Keep(connection, transaction, layout, hash, clock.GetUtcNow());
        using var last = connection.Command(
            transaction,
            "SELECT COALESCE(MAX(version), 0) FROM shop_layout WHERE layout_id = $id",
            ("$id", layout.Id)
        );
        var made = new OwnLayout(layout.Id, (int)(long)last.ExecuteScalar()! + 1, hash, fromJob, clock.GetUtcNow());
        using var command = connection.Command(
            transaction,
            "INSERT INTO shop_layout (layout_id, version, hash, from_job, made_at) VALUES ($id, $version, $hash, $job, $at)",
            ("$id", made.LayoutId),
            ("$version", made.Version),
            ("$hash", made.Hash),
            ("$job", made.FromJob),
            ("$at", SqlRows.Text(made.MadeAt))
        );
        command.ExecuteNonQuery();
        transaction.Commit();
        shop.Change(now => now.With(layout));
        return made;
    }

    /// <summary>Stores a layout of the shop's own as its next version, unless another writing than the one it was made
    /// from is the present one
    /// now: of two who change the same, the second is told.</summary>
    /// <param name="layout">A sound layout.</param>
    /// <param name="madeFrom">Hash of the writing it was made from; empty for a new one.</param>
    /// <returns>The writing that is there meanwhile; null where this one is stored.</returns>
    public Layout? Replace(Layout layout, string madeFrom)
    {
        lock (replacing)
        {
            if (
                shop.Now.FindLayout(layout.Id) is { } present
                && Variants.HashOf(present) is var hash
                && hash != madeFrom
                && hash != Variants.HashOf(layout)
            )
            {
                return present;
            }
            Add(layout, "");
            return null;
        }
    }

    /// <summary>Takes a layout of the shop's own from among the present ones. Its writings stay for the jobs that were
    /// worked with them.</summary>
    /// <param name="layoutId">Id of a layout of the shop's own.</param>
    public void Remove(string layoutId)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "DELETE FROM shop_layout WHERE layout_id = $id",
            ("$id", layoutId)
        );
        command.ExecuteNonQuery();
        shop.Change(now => now.Without(layoutId));
    }

    /// <summary>Numbers of open jobs on a layout.</summary>
    public IReadOnlyList<string> OpenJobs(string layoutId)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT number FROM job WHERE layout_id = $id AND closed = 0 ORDER BY number",
            ("$id", layoutId)
        );
        using var reader = command.ExecuteReader();
        var numbers = new List<string>();
        while (reader.Read())
        {
            numbers.Add(reader.GetString(0));
        }
        return numbers;
    }

    /// <summary>Stores a writing once.</summary>
    internal static void Keep(
        SqliteConnection connection,
        SqliteTransaction transaction,
        Layout layout,
        string hash,
        DateTimeOffset now
    )
    {
        // Most acts belong to a job whose layout is stored already: it is not written out for them.
        using var known = connection.Command(transaction, "SELECT 1 FROM layout WHERE hash = $hash", ("$hash", hash));
        if (known.ExecuteScalar() is not null)
        {
            return;
        }
        using var command = connection.Command(
            transaction,
            "INSERT INTO layout (hash, layout_id, body, kept_at) VALUES ($hash, $id, $body, $at) ON CONFLICT DO NOTHING",
            ("$hash", hash),
            ("$id", layout.Id),
            ("$body", Variants.TextOf(layout)),
            ("$at", SqlRows.Text(now))
        );
        command.ExecuteNonQuery();
    }
}
