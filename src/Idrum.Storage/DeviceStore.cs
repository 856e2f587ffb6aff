using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>A device that was paired.</summary>
/// <param name="DeviceId">Id.</param>
/// <param name="Name">What it is called in the shop.</param>
/// <param name="Person">Whose it is: every act made on it names this person.</param>
/// <param name="Keeps">Whether it keeps the shop (devices, layouts, settings, restore) beside working in it.</param>
/// <param name="PairedAt">When it was paired.</param>
/// <param name="LastAt">When it was last used, to the minute.</param>
/// <param name="RevokedAt">When it was revoked, or null.</param>
public sealed record Device(
    Guid DeviceId,
    string Name,
    string Person,
    bool Keeps,
    DateTimeOffset PairedAt,
    DateTimeOffset LastAt,
    DateTimeOffset? RevokedAt
);

/// <summary>Paired devices. A token is 32 random bytes; only its SHA-256 is stored, so that who reads the database can
/// use none.</summary>
public sealed class DeviceStore(Database database, TimeProvider clock)
{
    private const string Columns = "device_id, name, person, keeps, paired_at, last_at, revoked_at";
    private static readonly TimeSpan LastUseStep = TimeSpan.FromMinutes(1);
    private readonly ConcurrentDictionary<string, Device> known = new(StringComparer.Ordinal);
    private readonly RevokedTokens revoked = new(database.Folder);

    /// <summary>Told when a device is revoked: its open lines end.</summary>
    public event Action<Guid>? Revoked;

    /// <summary>All devices: those in use first, then the newest.</summary>
    public IReadOnlyList<Device> List()
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {Columns} FROM device ORDER BY revoked_at IS NOT NULL, paired_at DESC"
        );
        using var reader = command.ExecuteReader();
        var list = new List<Device>();
        while (reader.Read())
        {
            list.Add(Read(reader));
        }
        return list;
    }

    /// <summary>Pairs a device.</summary>
    /// <returns>It, and its token, which is not kept here.</returns>
    public (Device Device, string Token) Add(string name, string person, bool keeps)
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        var now = clock.GetUtcNow();
        var device = new Device(Guid.NewGuid(), name, person, keeps, now, now, null);
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "INSERT INTO device (device_id, name, person, keeps, token_hash, paired_at, last_at) VALUES ($id, $name, $person, $keeps, $hash, $now, $now)",
            ("$id", device.DeviceId.ToString()),
            ("$name", name),
            ("$person", person),
            ("$keeps", keeps ? 1 : 0),
            ("$hash", HashOf(token)),
            ("$now", SqlRows.Text(now))
        );
        command.ExecuteNonQuery();
        return (device, token);
    }

    /// <summary>The device of a token, or null where there is none or it was revoked. Its last use is noted.</summary>
    public Device? Find(string token)
    {
        if (token.Length != 64)
        {
            return null;
        }
        var hash = HashOf(token);
        var now = clock.GetUtcNow();
        if (known.TryGetValue(hash, out var device) && (now - device.LastAt).Duration() < LastUseStep)
        {
            return device;
        }
        using var connection = database.Connect();
        using (
            var find = connection.Command(
                null,
                $"SELECT {Columns} FROM device WHERE token_hash = $hash AND revoked_at IS NULL",
                ("$hash", hash)
            )
        )
        using (var reader = find.ExecuteReader())
        {
            // One that was revoked after the backup was made that was restored is revoked still.
            if (!reader.Read() || revoked.Holds(hash))
            {
                known.TryRemove(hash, out _);
                return null;
            }
            device = Read(reader) with { LastAt = now };
        }
        using var used = connection.Command(
            null,
            "UPDATE device SET last_at = $now WHERE token_hash = $hash",
            ("$now", SqlRows.Text(now)),
            ("$hash", hash)
        );
        used.ExecuteNonQuery();
        known[hash] = device;
        return device;
    }

    /// <summary>The device of a token that was revoked; null where there is none, or it is in use.</summary>
    public Device? FindRevoked(string token)
    {
        if (token.Length != 64)
        {
            return null;
        }
        var hash = HashOf(token);
        using var connection = database.Connect();
        using var find = connection.Command(
            null,
            $"SELECT {Columns} FROM device WHERE token_hash = $hash",
            ("$hash", hash)
        );
        using var reader = find.ExecuteReader();
        return reader.Read() && Read(reader) is var device && (device.RevokedAt is not null || revoked.Holds(hash))
            ? device
            : null;
    }

    /// <summary>Revokes a device: its next request is that of a stranger.</summary>
    /// <returns>Whether there was such a device in use.</returns>
    public bool Revoke(Guid deviceId)
    {
        using var connection = database.Connect();
        using (
            var find = connection.Command(
                null,
                "SELECT token_hash FROM device WHERE device_id = $id",
                ("$id", deviceId.ToString())
            )
        )
        {
            if (find.ExecuteScalar() is string hash)
            {
                revoked.Add(hash);
            }
        }
        using var command = connection.Command(
            null,
            "UPDATE device SET revoked_at = $now WHERE device_id = $id AND revoked_at IS NULL",
            ("$now", SqlRows.Text(clock.GetUtcNow())),
            ("$id", deviceId.ToString())
        );
        var one = command.ExecuteNonQuery() == 1;
        Forget();
        Revoked?.Invoke(deviceId);
        return one;
    }

    /// <summary>Forgets what is kept in memory: the database was changed or put in another's place.</summary>
    public void Forget()
    {
        known.Clear();
        Settle();
    }

    /// <summary>Brings together what the database and the list beside it say of revoked devices: each counts for
    /// both.</summary>
    public void Settle()
    {
        using var connection = database.Connect();
        var rows = new List<(string Hash, bool Revoked)>();
        using (var all = connection.Command(null, "SELECT token_hash, revoked_at IS NOT NULL FROM device"))
        using (var reader = all.ExecuteReader())
        {
            while (reader.Read())
            {
                rows.Add((reader.GetString(0), reader.GetBoolean(1)));
            }
        }
        foreach (var (hash, gone) in rows)
        {
            if (gone)
            {
                revoked.Add(hash);
            }
            else if (revoked.Holds(hash))
            {
                using var again = connection.Command(
                    null,
                    "UPDATE device SET revoked_at = $now WHERE token_hash = $hash",
                    ("$now", SqlRows.Text(clock.GetUtcNow())),
                    ("$hash", hash)
                );
                again.ExecuteNonQuery();
            }
        }
    }

    private static string HashOf(string token) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    private static Device Read(SqliteDataReader r) =>
        new(
            Guid.Parse(r.GetString(0)),
            r.GetString(1),
            r.GetString(2),
            r.GetInt64(3) == 1,
            SqlRows.Time(r.GetString(4)),
            SqlRows.Time(r.GetString(5)),
            r.IsDBNull(6) ? null : SqlRows.Time(r.GetString(6))
        );
}
