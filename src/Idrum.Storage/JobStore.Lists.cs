using Idrum.Core.Jobs.Log;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

// Lists of jobs, by their summaries.
public sealed partial class JobStore
{
    /// <summary>All summaries: open jobs first, then the newest.</summary>
    public IReadOnlyList<JobSummary> List()
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job ORDER BY closed, last_at DESC"
        );
        return Summaries(command);
    }

    /// <summary>Open jobs, the newest first.</summary>
    public IReadOnlyList<JobSummary> Open() => Where("closed = 0 ORDER BY last_at DESC");

    /// <summary>Closed jobs, the newest first, a page of them.</summary>
    /// <param name="page">From 1 up.</param>
    /// <param name="size">Jobs of a page.</param>
    public IReadOnlyList<JobSummary> Closed(int page, int size) =>
        Where(
            "closed = 1 ORDER BY last_at DESC LIMIT $size OFFSET $skip",
            ("$size", size),
            ("$skip", (long)(page - 1) * size)
        );

    /// <summary>Jobs with something to send back, the soonest first.</summary>
    public IReadOnlyList<JobSummary> ToReturn() => Where("return_by IS NOT NULL ORDER BY return_by");

    /// <summary>Jobs in which something was done since.</summary>
    public IReadOnlyList<JobSummary> Since(DateTimeOffset at) =>
        Where("last_at >= $since ORDER BY last_at", ("$since", SqlRows.Text(at)));

    private List<JobSummary> Where(string condition, params (string Name, object? Value)[] values)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job WHERE {condition}",
            values
        );
        return Summaries(command);
    }

    private static List<JobSummary> Summaries(SqliteCommand command)
    {
        using var reader = command.ExecuteReader();
        var list = new List<JobSummary>();
        while (reader.Read())
        {
            list.Add(SqlRows.Summary(reader));
        }
        return list;
    }

    /// <summary>Jobs that have to do with one: earlier and later jobs on the same tag, the job it comes back from, and
    /// those that
    /// came back from it; newest first.</summary>
    public IReadOnlyList<JobSummary> Related(JobState state)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job WHERE number <> $number AND (($tag <> '' AND tag = $tag) OR call_back_of = $number OR number = $callback) ORDER BY opened_at DESC LIMIT 50",
            ("$number", state.Number),
            ("$tag", state.Machine.Tag),
            ("$callback", state.Machine.CallBackOf)
        );
        return Summaries(command);
    }

    /// <summary>The other jobs on a tag and the one it comes back from, each with its version: what is computed from them holds while this stays the
    /// same.</summary>
    public string StandOfTag(JobState state)
    {
        if (state.Machine.Tag.Length + state.Machine.CallBackOf.Length == 0)
        {
            return "";
        }
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT group_concat(number || ' ' || version) FROM (SELECT number, version FROM job WHERE (tag = $tag AND $tag <> '' OR number = $callback) AND number <> $number ORDER BY number)",
            ("$tag", state.Machine.Tag),
            ("$callback", state.Machine.CallBackOf),
            ("$number", state.Number)
        );
        return command.ExecuteScalar() as string ?? "";
    }
}
