using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;
using Idrum.Core.Tests.Jobs;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Idrum.Web.Shop;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

/// <summary>What can happen to a shop's folder: each fault is said in plain words, nothing is called stored that is
/// not, nothing is overwritten.</summary>
public sealed class StorageFaultTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-fault").FullName;

    private const string Passphrase = "three dry rollers";

    private string DatabasePath => Path.Combine(folder, "idrum.db");

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    private JobStore Store(out Database database) =>
        new(database = Database.Open(DatabasePath), new(TestShop.Shop), TimeProvider.System);

    private async Task<Guid> FilledAsync(int seed = 3, int acts = 40)
    {
        var job = Guid.NewGuid();
        using var store = Store(out _);
        foreach (var e in RandomWalk.Log(seed, acts))
        {
            Assert.Equal(AppendOutcome.Added, (await store.AppendAsync(job, e)).Outcome);
        }
        SqliteConnection.ClearAllPools();
        return job;
    }

    private void Sql(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={DatabasePath};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // A constant of this file.
        command.CommandText = sql;
#pragma warning restore CA2100
        command.ExecuteNonQuery();
    }

    private byte[] Bytes() => File.ReadAllBytes(DatabasePath);

    [Theory]
    [InlineData("empty", "no bytes")]
    [InlineData("text", "no database")]
    [InlineData("cut", "damaged")]
    [InlineData("flipped", "damaged")]
    public async Task A_damaged_file_is_named_and_left_as_it_is(string fault, string words)
    {
        await FilledAsync(acts: 60);
        Sql("PRAGMA wal_checkpoint(TRUNCATE)");
        var whole = Bytes();
        var spoilt = fault switch
        {
            "empty" => [],
            "text" => Encoding.UTF8.GetBytes("This is not it. Somebody saved a letter here."),
            "cut" => whole[..(whole.Length / 2)],
            _ => [.. whole.Select((b, i) => i > 4096 && i % 4096 is > 2 and < 40 ? (byte)(b ^ 0x5a) : b)],
        };
        File.WriteAllBytes(DatabasePath, spoilt);
        var e = Assert.Throws<InvalidDataException>(() => Database.Open(DatabasePath));
        Assert.Contains(words, e.Message, StringComparison.Ordinal);
        Assert.Contains("./idrum restore", e.Message, StringComparison.Ordinal);
        Assert.Equal(spoilt, Bytes());
    }

    [Fact]
    public async Task A_database_of_a_newer_idrum_is_not_written_to()
    {
        await FilledAsync();
        Sql(
            "INSERT INTO SchemaVersions (ScriptName, Applied) VALUES ('Idrum.Storage.Migrations.0099-later.sql', '2027-01-01'); PRAGMA wal_checkpoint(TRUNCATE)"
        );
        var before = Bytes();
        Assert.Contains(
            "newer Idrum",
            Assert.Throws<InvalidDataException>(() => Database.Open(DatabasePath)).Message,
            StringComparison.Ordinal
        );
        Assert.Equal(before, Bytes());
    }

    [Fact]
    public async Task A_migration_cut_off_at_any_statement_is_done_again_whole()
    {
        var job = await FilledAsync();
        // Back to the state before the last two migrations.
        Sql(
            "ALTER TABLE event DROP COLUMN hash; ALTER TABLE job DROP COLUMN head; DROP TABLE device; DELETE FROM SchemaVersions WHERE ScriptName LIKE '%0005%' OR ScriptName LIKE '%0006%'; PRAGMA wal_checkpoint(TRUNCATE)"
        );
        var before = Bytes();
        var statements = new[] { "0005-devices.sql", "0006-chain.sql" }
            .SelectMany(name =>
                Script(name).Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            )
            .Where(s => s.Length > 0)
            .ToList();
        Assert.Equal(3, statements.Count);
        for (var done = 0; done <= statements.Count; done++)
        {
            SqliteConnection.ClearAllPools();
            foreach (var left in Directory.GetFiles(folder))
            {
                File.Delete(left);
            }
            File.WriteAllBytes(DatabasePath, before);
            using (var connection = new SqliteConnection($"Data Source={DatabasePath};Pooling=False"))
            {
                connection.Open();
                using var transaction = connection.BeginTransaction();
                foreach (var statement in statements.Take(done))
                {
                    using var command = connection.CreateCommand();
                    command.Transaction = transaction;
#pragma warning disable CA2100 // A migration of this repository.
                    command.CommandText = statement;
#pragma warning restore CA2100
                    command.ExecuteNonQuery();
                }
                // The files as a power cut leaves them, while the transaction is open.
                foreach (var file in Directory.GetFiles(folder))
                {
                    File.Copy(file, file + ".cut");
                }
            }
            foreach (var cut in Directory.GetFiles(folder, "*.cut"))
            {
                File.Move(cut, cut[..^4], true);
            }
            using var store = Store(out _);
            store.Refresh();
            Assert.NotNull(store.Find(job));
            Assert.Null(store.Broken(job));
        }
    }

    private static string Script(string name)
    {
        using var stream = typeof(Database).Assembly.GetManifestResourceStream($"Idrum.Storage.Migrations.{name}")!;
        using var reader = new StreamReader(stream);
        return string.Join(
            '\n',
            reader.ReadToEnd().Split('\n').Where(l => !l.StartsWith("--", StringComparison.Ordinal))
        );
    }

    [Fact]
    public async Task A_full_disk_and_a_read_only_folder_acknowledge_nothing_and_lose_nothing()
    {
        var host = new TestHost();
        await host.InitializeAsync();
        var database = host.Get<Database>();
        var job = host.Store.Find("J-0148")!;
        var kept = job.Version;
        var note = new NoteAdded("", new string('x', 1900)) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        foreach (
            var (spoil, words) in new (Action, string)[]
            {
                (() => database.MostPages = 1, "disk of the shop's computer is full"),
                (() => database.Frozen = true, "cannot be written"),
            }
        )
        {
            SqliteConnection.ClearAllPools();
            spoil();
            HttpResponseMessage? answer = null;
            // Room is left in pages that are begun: it may take some acts until the disk is full.
            for (var n = 0; n < 40 && answer is not { StatusCode: (HttpStatusCode)507 }; n++)
            {
                answer = await host.PostJsonAsync(
                    $"/api/v1/jobs/{job.JobId}/events",
                    JsonSerializer.Deserialize<JsonObject>(EventText.Of(note with { Id = Guid.NewGuid() }))!
                );
                kept += answer.StatusCode == HttpStatusCode.Created ? 1 : 0;
            }
            Assert.Equal((HttpStatusCode)507, answer!.StatusCode);
            Assert.Contains(
                words,
                (await TestHost.JsonAsync(answer)).GetProperty("detail").GetString(),
                StringComparison.Ordinal
            );
            Assert.Equal(kept, host.Store.Find("J-0148")!.Version);
            (database.MostPages, database.Frozen) = (null, false);
            SqliteConnection.ClearAllPools();
        }
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(
                    $"/api/v1/jobs/{job.JobId}/events",
                    JsonSerializer.Deserialize<JsonObject>(EventText.Of(note))!
                )
            ).StatusCode
        );
        Assert.Equal(kept + 1, host.Store.Find("J-0148")!.Version);
        Assert.Null(host.Store.Broken(job.JobId));
        await host.DisposeAsync();
    }

    [Fact]
    public void Two_idrums_do_not_work_on_one_folder()
    {
        using (FolderLock.Take(folder))
        {
            Assert.Contains(
                "Another Idrum works on",
                Assert.Throws<IOException>(() => FolderLock.Take(folder)).Message,
                StringComparison.Ordinal
            );
        }
        FolderLock.Take(folder).Dispose();
    }

    [Fact]
    public void A_key_that_cannot_be_read_and_a_clock_set_back_are_said_at_the_start()
    {
        Directory.CreateDirectory(Path.Combine(folder, "keys"));
        File.WriteAllText(Path.Combine(folder, "keys", "key-1.xml"), "<key");
        Assert.Contains(
            "move it aside",
            Assert.Throws<IOException>(() => StartChecks.Keys(folder)).Message,
            StringComparison.Ordinal
        );
        var now = DateTimeOffset.UtcNow;
        var settings = new SettingStore(Database.Open(Path.Combine(folder, "idrum.db")));
        Assert.Equal("", StartChecks.Clock(null, settings, now));
        Assert.Equal("", StartChecks.Clock(now.AddMinutes(1), settings, now));
        string Said(DateTimeOffset last) => StartChecks.Clock(last, settings, now);
        Assert.Contains("90 minutes before", Said(now.AddMinutes(90)), StringComparison.Ordinal);
        // Once ahead by years: in days, and told only until somebody says that the clock is right.
        var ahead = now.AddDays(800);
        Assert.Contains("800 days before", Said(ahead), StringComparison.Ordinal);
        settings.Set(SettingStore.ClockRight, ahead.ToString("O", System.Globalization.CultureInfo.InvariantCulture));
        Assert.Equal("", Said(ahead));
        Assert.Contains("801 days before", Said(ahead.AddDays(1)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("UPDATE event SET body = replace(body, 'note', 'nota') WHERE seq = 7", "Act 8 was changed")]
    [InlineData("UPDATE event SET body = replace(body, '\"kind\"', '\"kin\"') WHERE seq = 7", "Act 8 was changed")]
    [InlineData("DELETE FROM event WHERE seq = 7", "Act 8 was removed")]
    [InlineData("DELETE FROM event WHERE seq >= 30", "Act 31 and what came after it was removed")]
    [InlineData("UPDATE event SET seq = CASE seq WHEN 7 THEN 1007 ELSE seq END", "Act 8 was removed")]
    [InlineData(
        "UPDATE event SET event_id = '00000000-0000-4000-8000-000000000001' WHERE seq = 7",
        "Act 8 was changed"
    )]
    public async Task What_is_changed_behind_its_back_shows_and_the_job_can_still_be_read(string sql, string words)
    {
        var job = await FilledAsync();
        using (var sound = Store(out _))
        {
            Assert.Null(sound.Broken(job));
        }
        SqliteConnection.ClearAllPools();
        // A text that stands in every act of the walk.
        Sql(sql.Replace("'note', 'nota'", "'\"id\"', '\"ix\"'", StringComparison.Ordinal));
        using var store = Store(out _);
        Assert.StartsWith(words, store.Broken(job), StringComparison.Ordinal);
        Assert.True(store.Find(job)!.Log.Count > 20);
    }

    [Fact]
    public async Task A_backup_is_made_in_use_checked_and_brought_back_beside_what_was_there()
    {
        var job = await FilledAsync();
        Directory.CreateDirectory(Path.Combine(folder, "authority"));
        File.WriteAllText(Path.Combine(folder, "authority", "authority.key"), "secret");
        var file = Path.Combine(folder, "out", "shop.zip");
        var now = new DateTimeOffset(2026, 3, 4, 5, 6, 7, TimeSpan.Zero);
        BackupManifest made;
        int version;
        using (var store = Store(out _))
        {
            made = BackupFormat.Make(folder, file, "", now);
            version = store.Find(job)!.Version;
            Assert.Equal((1, version), (made.Jobs, made.Acts));
            Assert.Equal(
                AppendOutcome.Added,
                (
                    await store.AppendAsync(
                        job,
                        new NoteAdded("", "later") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
                    )
                ).Outcome
            );
        }
        SqliteConnection.ClearAllPools();
        using (var zip = ZipFile.OpenRead(file))
        {
            Assert.DoesNotContain(zip.Entries, e => e.FullName.Contains("authority", StringComparison.Ordinal));
        }
        var (_, aside) = ShopRestore.Restore(file, folder, now);
        using (var store = Store(out _))
        {
            Assert.Equal(version, store.Find(job)!.Version);
            Assert.Null(store.Broken(job));
        }
        SqliteConnection.ClearAllPools();
        // What was there is not lost: put back, it holds the later act.
        Assert.Equal(Path.Combine(folder, "aside-20260304-050607"), aside);
        using var before = new JobStore(
            Database.Open(Path.Combine(aside, "idrum.db")),
            new(TestShop.Shop),
            TimeProvider.System
        );
        Assert.Equal(version + 1, before.Find(job)!.Version);
        Assert.Equal("secret", File.ReadAllText(Path.Combine(folder, "authority", "authority.key")));
    }

    [Fact]
    public async Task A_restore_killed_before_any_of_its_renames_is_finished_or_undone_at_the_next_start()
    {
        var job = await FilledAsync();
        int version;
        Directory.CreateDirectory(Path.Combine(folder, "layouts"));
        await File.WriteAllTextAsync(Path.Combine(folder, "layouts", "own.json"), "as it was");
        var file = Path.Combine(Path.GetTempPath(), $"idrum-{Guid.NewGuid():N}.zip");
        var now = new DateTimeOffset(2026, 3, 4, 5, 6, 7, TimeSpan.Zero);
        BackupFormat.Make(folder, file, Passphrase, now);
        using (var store = Store(out _))
        {
            version = store.Find(job)!.Version;
            await store.AppendAsync(
                job,
                new NoteAdded("", "later") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
            );
        }
        SqliteConnection.ClearAllPools();
        await File.WriteAllTextAsync(Path.Combine(folder, "layouts", "own.json"), "changed since");
        var (kills, done) = (0, false);
        for (var at = 0; !done; at++)
        {
            var copy = Directory.CreateTempSubdirectory("idrum-killed").FullName;
            foreach (var path in Directory.GetFiles(folder, "*", SearchOption.AllDirectories))
            {
                var to = Path.Combine(copy, Path.GetRelativePath(folder, path));
                Directory.CreateDirectory(Path.GetDirectoryName(to)!);
                File.Copy(path, to);
            }
            var left = at;
            try
            {
                ShopRestore.Restore(file, copy, now, Passphrase, _ =>
                {
                    if (left-- == 0)
                    {
                        throw new OperationCanceledException("killed");
                    }
                });
                done = true;
            }
            catch (OperationCanceledException)
            {
                kills++;
            }
            var said = ShopRestore.Finish(copy);
            Assert.Equal("", ShopRestore.Finish(copy));
            Assert.False(Directory.Exists(Path.Combine(copy, "restoring")));
            // Before the journal stands, nothing was changed; from then on it is the backup's shop, whole, and the
            // other is set aside whole.
            var undone = at <= 1;
            Assert.Equal(done, said.Length == 0);
            using (
                var store = new JobStore(
                    Database.Open(Path.Combine(copy, "idrum.db")),
                    new(TestShop.Shop),
                    TimeProvider.System
                )
            )
            {
                Assert.Equal(undone ? version + 1 : version, store.Find(job)!.Version);
                Assert.Null(store.Broken(job));
            }
            Assert.Equal(
                undone ? "changed since" : "as it was",
                await File.ReadAllTextAsync(Path.Combine(copy, "layouts", "own.json"))
            );
            if (!undone)
            {
                using var before = new JobStore(
                    Database.Open(Path.Combine(copy, "aside-20260304-050607", "idrum.db")),
                    new(TestShop.Shop),
                    TimeProvider.System
                );
                Assert.Equal(version + 1, before.Find(job)!.Version);
                // With the shop set aside and none in its place no empty one is made.
                SqliteConnection.ClearAllPools();
                File.Delete(Path.Combine(copy, "idrum.db"));
                Assert.Contains(
                    "an empty one is not made in its place",
                    Assert.Throws<InvalidDataException>(() => ShopRestore.NotEmptied(copy)).Message,
                    StringComparison.Ordinal
                );
            }
            SqliteConnection.ClearAllPools();
            Directory.Delete(copy, true);
        }
        File.Delete(file);
        Assert.True(kills >= 5, $"{kills} kills");
    }

    [Fact]
    public async Task Keys_travel_under_a_passphrase_and_without_it_all_else_comes_back()
    {
        await FilledAsync();
        var key = Path.Combine("authority", "authority.key");
        Directory.CreateDirectory(Path.Combine(folder, "authority"));
        await File.WriteAllTextAsync(Path.Combine(folder, key), "secret of the shop");
        var (file, now) = (Path.Combine(folder, "away.zip"), DateTimeOffset.UtcNow);
        Assert.Throws<IOException>(() => BackupFormat.Make(folder, file, "short", now));
        Assert.False(File.Exists(file));
        BackupFormat.Make(folder, file, Passphrase, now);
        using (var zip = ZipFile.OpenRead(file))
        {
            Assert.DoesNotContain(zip.Entries, e => e.FullName.StartsWith("authority/", StringComparison.Ordinal));
            using var sealed_ = new StreamReader(zip.GetEntry("authority.sealed")!.Open());
            var text = await sealed_.ReadToEndAsync();
            Assert.Contains("\"rounds\": 600000", text, StringComparison.Ordinal);
            Assert.DoesNotContain(Convert.ToBase64String("secret of the shop"u8)[..12], text, StringComparison.Ordinal);
        }
        string Restored(string passphrase)
        {
            var other = Directory.CreateTempSubdirectory("idrum-elsewhere").FullName;
            try
            {
                ShopRestore.Restore(file, other, now, passphrase);
                Assert.True(File.Exists(Path.Combine(other, "idrum.db")));
                Assert.False(File.Exists(Path.Combine(other, "authority.sealed")));
                return File.Exists(Path.Combine(other, key)) ? File.ReadAllText(Path.Combine(other, key)) : "none";
            }
            finally
            {
                Directory.Delete(other, true);
            }
        }
        Assert.Equal("secret of the shop", Restored(Passphrase));
        Assert.Equal("none", Restored(""));
        Assert.Contains(
            "do not open with this passphrase",
            Assert.Throws<InvalidDataException>(() => Restored("three dry roller!")).Message,
            StringComparison.Ordinal
        );
        // One bit of the head: the rounds are authenticated too.
        Changed(file, "authority.sealed", t => t.Replace("600000", "600001", StringComparison.Ordinal));
        Assert.Throws<InvalidDataException>(() => Restored(Passphrase));
    }

    /// <summary>Changes a file of a backup and its line of the manifest.</summary>
    private static void Changed(string file, string name, Func<string, string> change)
    {
        using var zip = ZipFile.Open(file, ZipArchiveMode.Update);
        string Taken(string entry)
        {
            using var reader = new StreamReader(zip.GetEntry(entry)!.Open());
            var text = reader.ReadToEnd();
            reader.Close();
            zip.GetEntry(entry)!.Delete();
            return text;
        }
        void Put(string entry, string text)
        {
            using var writer = new StreamWriter(zip.CreateEntry(entry).Open());
            writer.Write(text);
        }
        var after = change(Taken(name));
        Put(name, after);
        var manifest = System.Text.Json.Nodes.JsonNode.Parse(Taken("manifest.json"))!;
        var line = manifest["files"]!.AsArray().Single(f => (string)f!["name"]! == name)!;
        var bytes = System.Text.Encoding.UTF8.GetBytes(after);
        line["bytes"] = bytes.Length;
        line["sha256"] = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
        Put("manifest.json", manifest.ToJsonString());
    }

    [Fact]
    public async Task A_backup_that_unpacks_to_more_than_it_says_is_refused()
    {
        await FilledAsync();
        var file = Path.Combine(folder, "bomb.zip");
        BackupFormat.Make(folder, file, "", DateTimeOffset.UtcNow);
        using (var zip = ZipFile.Open(file, ZipArchiveMode.Update))
        {
            zip.GetEntry("manifest.json")!.Delete();
            await using var again = new StreamWriter(zip.CreateEntry("manifest.json").Open());
            await again.WriteAsync(
                """{"format":"idrum-backup","version":1,"madeAt":"2026-01-01T00:00:00Z","jobs":1,"acts":1,"files":[{"name":"idrum.db","bytes":1000000000000,"sha256":""}]}"""
            );
        }
        Assert.Contains(
            "less room",
            Assert.Throws<IOException>(() => ShopRestore.Restore(file, folder, DateTimeOffset.UtcNow)).Message,
            StringComparison.Ordinal
        );
        Assert.False(Directory.Exists(Path.Combine(folder, "restoring")));
    }

    [Theory]
    [InlineData("keys/key-1.xml")]
    [InlineData("devices.json")]
    [InlineData("layouts/../idrum.db")]
    [InlineData("layouts/.hidden")]
    public async Task A_backup_that_names_anything_else_is_refused_whole(string name)
    {
        await FilledAsync();
        var file = Path.Combine(folder, "more.zip");
        BackupFormat.Make(folder, file, "", DateTimeOffset.UtcNow);
        using (var zip = System.IO.Compression.ZipFile.Open(file, System.IO.Compression.ZipArchiveMode.Update))
        {
            var entry = zip.GetEntry("manifest.json")!;
            using var reader = new StreamReader(entry.Open());
            var manifest = System.Text.Json.Nodes.JsonNode.Parse(await reader.ReadToEndAsync())!;
            reader.Close();
            entry.Delete();
            manifest["files"]!
                .AsArray()
                .Add(
                    System.Text.Json.Nodes.JsonNode.Parse(
                        $$"""{"name":"{{name}}","bytes":1,"sha256":"{{Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData("x"u8))}}"}"""
                    )
                );
            await using (var extra = zip.CreateEntry(name).Open())
            {
                extra.Write("x"u8);
            }
            await using var again = new StreamWriter(zip.CreateEntry("manifest.json").Open());
            await again.WriteAsync(manifest.ToJsonString());
        }
        Assert.Contains(
            "belongs to no backup",
            Assert.Throws<InvalidDataException>(() => ShopRestore.Restore(file, folder, DateTimeOffset.UtcNow)).Message,
            StringComparison.Ordinal
        );
        Assert.False(Directory.Exists(Path.Combine(folder, "restoring")));
        Assert.True(File.Exists(DatabasePath));
    }

    [Theory]
    [InlineData("cut")]
    [InlineData("changed")]
    [InlineData("missing")]
    [InlineData("outside")]
    [InlineData("letter")]
    public async Task An_unsound_backup_changes_nothing(string fault)
    {
        await FilledAsync();
        var file = Path.Combine(folder, "shop.zip");
        BackupFormat.Make(folder, file, "", DateTimeOffset.UtcNow);
        SqliteConnection.ClearAllPools();
        switch (fault)
        {
            case "cut":
                File.WriteAllBytes(file, File.ReadAllBytes(file)[..2000]);
                break;
            case "letter":
                File.WriteAllText(file, "Dear shop");
                break;
            default:
                using (var zip = ZipFile.Open(file, ZipArchiveMode.Update))
                {
                    if (fault == "outside")
                    {
                        var manifest = zip.GetEntry("manifest.json")!;
                        string text;
                        using (var reader = new StreamReader(manifest.Open()))
                        {
                            text = reader.ReadToEnd();
                        }
                        manifest.Delete();
                        using var writer = new StreamWriter(zip.CreateEntry("manifest.json").Open());
                        writer.Write(text.Replace("\"idrum.db\"", "\"../idrum.db\"", StringComparison.Ordinal));
                    }
                    else
                    {
                        zip.GetEntry("idrum.db")!.Delete();
                        if (fault == "changed")
                        {
                            using var writer = new StreamWriter(zip.CreateEntry("idrum.db").Open());
                            writer.Write("another");
                        }
                    }
                }
                break;
        }
        var before = Bytes();
        Assert.Contains(
            "Nothing was changed",
            Assert.Throws<InvalidDataException>(() => ShopRestore.Restore(file, folder, DateTimeOffset.UtcNow)).Message,
            StringComparison.Ordinal
        );
        Assert.Equal(before, Bytes());
        Assert.Empty(Directory.GetDirectories(folder, "aside-*"));
    }

    [Fact]
    public async Task Daily_backups_are_made_once_a_day_and_the_oldest_go()
    {
        await FilledAsync();
        var clock = new TestClock();
        var settings = new SettingStore(Database.Open(DatabasePath));
        settings.Set(SettingStore.BackupsKept, "3");
        using var desk = new BackupDesk(
            new() { DataFolder = folder, ContentFolder = folder },
            settings,
            clock,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<BackupDesk>.Instance
        );
        for (var day = 0; day < 5; day++)
        {
            Assert.True(desk.MakeDue());
            clock.Now += TimeSpan.FromHours(2);
            Assert.False(desk.MakeDue());
            clock.Now += TimeSpan.FromHours(22);
        }
        Assert.Equal(
            ["idrum-2026-03-06.zip", "idrum-2026-03-05.zip", "idrum-2026-03-04.zip"],
            desk.List().Select(f => f.Name)
        );
        Assert.Equal("", desk.Worry());
        // One dated ahead, by its name or its time, stops nothing, counts for no day and pushes no good one out; it is
        // named.
        var ahead = Path.Combine(folder, "backups", "idrum-2031-01-01.zip");
        File.Copy(desk.List()[0].FullName, ahead);
        Assert.True(desk.MakeDue());
        Assert.Contains("idrum-2031-01-01.zip is dated ahead", desk.Worry(), StringComparison.Ordinal);
        File.SetLastWriteTimeUtc(desk.List()[1].FullName, clock.Now.UtcDateTime.AddYears(1));
        clock.Now += TimeSpan.FromDays(1);
        Assert.True(desk.MakeDue());
        Assert.Equal(
            ["idrum-2031-01-01.zip", "idrum-2026-03-08.zip", "idrum-2026-03-07.zip"],
            desk.List().Take(3).Select(f => f.Name)
        );
        File.Delete(ahead);
        File.Delete(Path.Combine(folder, "backups", "idrum-2026-03-07.zip"));
        clock.Now += TimeSpan.FromDays(3);
        Assert.StartsWith("The last daily backup is of 8 Mar", desk.Worry(), StringComparison.Ordinal);
        settings.Set(SettingStore.BackupFolder, DatabasePath + "/within");
        Assert.False(desk.MakeDue());
        Assert.StartsWith("The daily backup could not be made", desk.Trouble, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_longer_file_of_the_same_job_extends_it_and_a_changed_one_is_refused()
    {
        var host = new TestHost();
        await host.InitializeAsync();
        var other = new TestHost { Demo = false };
        await other.InitializeAsync();
        var job = host.Store.Find("J-0148")!;
        async Task<string> Export() => await host.Client.GetStringAsync("/api/v1/jobs/J-0148/export");
        Assert.Equal(HttpStatusCode.Created, (await other.PostJsonAsync("/api/v1/jobs", await Export())).StatusCode);
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(
                    $"/api/v1/jobs/{job.JobId}/events",
                    new
                    {
                        kind = "note-added",
                        id = Guid.NewGuid(),
                        operationId = "",
                        text = "Meanwhile",
                    }
                )
            ).StatusCode
        );
        var longer = await Export();
        Assert.Equal(HttpStatusCode.Created, (await other.PostJsonAsync("/api/v1/jobs", longer)).StatusCode);
        Assert.Equal("Meanwhile", other.Store.Find("J-0148")!.State.Notes[^1].Text);
        Assert.Null(other.Store.Broken(job.JobId));
        // Changed after it was written.
        var answer = await other.PostJsonAsync(
            "/api/v1/jobs",
            longer.Replace("Meanwhile", "Meanwhale", StringComparison.Ordinal)
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains(
            "was changed after the file was written",
            await answer.Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
        // Broken in the shop, the file says so.
        using (var connection = new SqliteConnection($"Data Source={host.DatabasePath};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "UPDATE event SET body = replace(body, 'Meanwhile', 'Meanwhale')";
            command.ExecuteNonQuery();
        }
        await host.RestartAsync();
        Assert.Contains(
            "was changed.",
            JsonDocument.Parse(await Export()).RootElement.GetProperty("chain").GetProperty("broken").GetString(),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "changed behind Idrum",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync("/jobs/J-0148/strip")),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "changed behind Idrum",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync("/jobs/J-0148/report")),
            StringComparison.Ordinal
        );
        await host.DisposeAsync();
        await other.DisposeAsync();
    }

    [Fact]
    public async Task A_backup_is_unpacked_as_work_that_tells_how_far_it_is_and_can_be_stopped()
    {
        await using var host = new TestHost();
        await host.InitializeAsync();
        var file = Path.Combine(folder, "far.zip");
        await File.WriteAllBytesAsync(file, await host.Client.GetByteArrayAsync("/shop/file"));
        var shares = new List<double>();
        BackupFormat.Check(file, "", shares.Add);
        Assert.True(shares.Count > 3);
        Assert.Equal(shares.Order(), shares);
        Assert.Equal(1, shares[^1], 9);
        using var stop = new CancellationTokenSource();
        Assert.Throws<OperationCanceledException>(() => BackupFormat.Check(file, "", _ => stop.Cancel(), stop.Token));

        // Nothing is looked at: the page that asks is led to the shop.
        using var none = await host.Client.GetAsync("/shop/restoring");
        Assert.Equal("/", none.Headers.GetValues("HX-Redirect").Single());
        // What is no backup is told where it was asked for, and its copy is gone.
        var desk = host.Get<RestoreDesk>();
        var brought = Path.Combine(host.DataFolder, "brought-x.zip");
        File.WriteAllText(brought, "Dear shop");
        var work = desk.Begin(brought, "")!;
        await work.Done;
        Assert.Contains("is not sound", work.Wrong);
        Assert.False(File.Exists(brought));
        Assert.Contains("is not sound", await host.Client.GetStringAsync("/shop/restoring"));
        // One at a time: what is sound is begun with, and no other is taken meanwhile.
        File.Copy(file, brought);
        work = desk.Begin(brought, "")!;
        Assert.Null(desk.Begin(file, ""));
        await work.Done;
        Assert.Equal(brought, desk.Waiting.File);
        Assert.Null(desk.Begin(file, ""));
        Assert.True(File.Exists(file));
        var told = await host.Client.GetStringAsync("/shop/restoring");
        Assert.Contains("are brought back", told);
        // It takes its own place and no more of the page, whatever the page says of links.
        Assert.Contains("hx-target=\"this\" hx-select=\"unset\"", told);
    }

    [Fact]
    public async Task The_page_of_the_shop_backs_up_exports_and_refuses_what_is_no_backup()
    {
        var host = new TestHost();
        await host.InitializeAsync();
        Assert.Contains(
            "Backed up and checked",
            await (
                await host.Client.PostAsync(
                    "/shop/backup",
                    new FormUrlEncodedContent([
                        new("folder", ""),
                        new("kept", "5"),
                        new("__RequestVerificationToken", await host.TokenAsync("/shop")),
                    ])
                )
            ).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
        var refused = await host.Client.PostAsync(
            "/shop/backup",
            new FormUrlEncodedContent([
                new("folder", "here"),
                new("kept", "0"),
                new("__RequestVerificationToken", await host.TokenAsync("/shop")),
            ])
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("value=\"here\"", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        using (var zip = new ZipArchive(await host.Client.GetStreamAsync("/shop/export")))
        {
            Assert.Contains(zip.Entries, e => e.FullName == "jobs/J-0148.json");
            using var csv = new StreamReader(zip.GetEntry("jobs.csv")!.Open());
            Assert.Equal(host.Store.List().Count + 1, (await csv.ReadToEndAsync()).Trim().Split('\n').Length);
        }
        var file = Path.Combine(folder, "whole.zip");
        await File.WriteAllBytesAsync(file, await host.Client.GetByteArrayAsync("/shop/file"));
        Assert.Equal(host.Store.List().Count, BackupFormat.Check(file).Jobs);
        async Task<HttpResponseMessage> WithKeysAsync(string passphrase) =>
            await host.Client.PostAsync(
                "/shop/file",
                new FormUrlEncodedContent([
                    new("passphrase", passphrase),
                    new("__RequestVerificationToken", await host.TokenAsync("/shop")),
                ])
            );
        var weak = await WithKeysAsync("short");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, weak.StatusCode);
        Assert.Contains("12 to 200 signs", await weak.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        await File.WriteAllBytesAsync(file, await (await WithKeysAsync(Passphrase)).Content.ReadAsByteArrayAsync());
        Assert.Contains(BackupFormat.Check(file, Passphrase).Files, f => f.Name == "authority.sealed");
        Assert.Throws<InvalidDataException>(() => BackupFormat.Check(file, Passphrase + "?"));
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await host.TokenAsync("/shop")), "__RequestVerificationToken" },
            { new ByteArrayContent([1, 2, 3]), "backup", "letter.zip" },
        };
        var wrong = await host.Client.PostAsync("/shop/restore", form);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        Assert.Contains("is not sound", await wrong.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        await host.DisposeAsync();
    }

    /// <summary>A write-ahead log that is cut leaves a database that is sound in itself: what was answered is known
    /// beside it.</summary>
    [Fact]
    public async Task Acts_that_were_answered_and_are_gone_are_named_once()
    {
        var folder = Directory.CreateTempSubdirectory("idrum-marks").FullName;
        try
        {
            var path = Path.Combine(folder, "idrum.db");
            JobStore Open() => new(Database.Open(path), new(TestShop.Shop), TimeProvider.System);
            var (first, second) = (Guid.NewGuid(), Guid.NewGuid());
            var log = RandomWalk.Log(5, 12);
            using (var store = Open())
            {
                Assert.Empty(store.Missing());
                foreach (var e in log)
                {
                    Assert.Equal(AppendOutcome.Added, (await store.AppendAsync(first, e)).Outcome);
                }
                await store.AppendAsync(second, (JobOpened)log[0] with { Id = Guid.NewGuid(), Number = "J-second" });
                Assert.Empty(store.Missing());
            }
            // The last three acts of one job and the whole of the other were never written to the disk.
            SqliteConnection.ClearAllPools();
            using (var connection = new SqliteConnection($"Data Source={path}"))
            {
                connection.Open();
                using var cut = connection.CreateCommand();
                cut.CommandText = $"""
                    DELETE FROM event WHERE job_id = '{first}' AND seq >= {log.Count - 3};
                    UPDATE job SET version = {log.Count
                        - 3}, head = (SELECT hash FROM event WHERE job_id = '{first}' AND seq = {log.Count
                        - 4}) WHERE job_id = '{first}';
                    DELETE FROM event WHERE job_id = '{second}'; DELETE FROM job WHERE job_id = '{second}';
                    """;
                cut.ExecuteNonQuery();
            }
            using (var store = Open())
            {
                // The chain of what is left holds.
                Assert.Null(store.Broken(first));
                var number = store.Find(first)!.State.Number;
                Assert.Equal(
                    new[] { $"{number}: 3 of {log.Count} acts are gone", "J-second is gone with its 1 acts" }.Order(),
                    store.Missing().Order()
                );
                Assert.Empty(store.Missing());
                // What the phone still has is taken again.
                foreach (var e in log)
                {
                    await store.AppendAsync(first, e);
                }
                Assert.Equal(log.Count, store.Find(first)!.Version);
                Assert.Empty(store.Missing());
            }
        }
        finally
        {
            SqliteConnection.ClearAllPools();
            Directory.Delete(folder, true);
        }
    }
}
