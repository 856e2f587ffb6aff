using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>What the shop's jobs teach: lessons of closed jobs, since when they count, and which tags stood on which
/// machines.</summary>
/// <param name="database">The database.</param>
public sealed class LearningStore(Database database)
{
    private readonly SettingStore settings = new(database);

    /// <summary>Jobs closed before this do not count; null where all do.</summary>
    public DateTimeOffset? Since =>
        settings.Get(SettingStore.LearnSince) is { Length: > 0 } text ? SqlRows.Time(text) : null;

    /// <summary>Sets since when jobs count.</summary>
    /// <param name="since">The moment; null for all jobs.</param>
    public void SetSince(DateTimeOffset? since) =>
        settings.Set(SettingStore.LearnSince, since is { } at ? SqlRows.Text(at) : "");

    /// <summary>How many closed jobs teach something, whether they count or not.</summary>
    public int Count
    {
        get
        {
            using var connection = database.Connect();
            using var command = connection.Command(null, "SELECT COUNT(*) FROM job WHERE closed = 1 AND lesson <> ''");
            return Convert.ToInt32(command.ExecuteScalar(), System.Globalization.CultureInfo.InvariantCulture);
        }
    }

    /// <summary>Lessons of the newest closed jobs.</summary>
    /// <param name="most">Jobs at most.</param>
    /// <param name="since">Closed since; null for always.</param>
    public IReadOnlyList<JobLesson> Lessons(int most = Learning.MostJobs, DateTimeOffset? since = null)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT lesson FROM job WHERE closed = 1 AND lesson <> '' AND last_at >= $since ORDER BY last_at DESC LIMIT $most",
            ("$since", since is { } at ? SqlRows.Text(at) : ""),
            ("$most", most)
        );
        using var reader = command.ExecuteReader();
        var list = new List<JobLesson>();
        while (reader.Read())
        {
            list.Add(JsonSerializer.Deserialize<JobLesson>(reader.GetString(0), IdrumJson.Options)!);
        }
        return list;
    }

    /// <summary>Tag as read off and layout of every job that has a tag.</summary>
    public IReadOnlyList<(string Tag, string LayoutId)> Tags()
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT tag, layout_id FROM job WHERE tag <> ''");
        using var reader = command.ExecuteReader();
        var tags = new List<(string, string)>();
        while (reader.Read())
        {
            tags.Add((reader.GetString(0), reader.GetString(1)));
        }
        return tags;
    }
}
