using System.Globalization;
using Idrum.Core.Jobs.Log;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>Commands with parameters and rows as records.</summary>
internal static class SqlRows
{
    internal static SqliteCommand Command(
        this SqliteConnection connection,
        SqliteTransaction? transaction,
        string sql,
        params (string Name, object? Value)[] parameters
    )
    {
        var command = connection.CreateCommand();
        command.Transaction = transaction;
#pragma warning disable CA2100 // The text is a constant of this assembly; every value is a parameter.
        command.CommandText = sql;
#pragma warning restore CA2100
        foreach (var (name, value) in parameters)
        {
            command.Parameters.AddWithValue(name, value ?? DBNull.Value);
        }
        return command;
    }

    internal static string Text(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);

    internal static DateTimeOffset Time(string text) =>
        DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.RoundtripKind);

    /// <summary>Rises when a summary holds something new.</summary>
    internal const int SummaryShape = 7;

    internal const string SummaryColumns =
        "number, place, layout_id, station, closed, opened_at, last_at, steps_out, next_timer_at, part_due_at, call_back_of, fault_id, words, tag, complaints, return_by";

    /// <summary>Reads a summary from columns 0 … 15 in the order of <see cref="SummaryColumns"/>.</summary>
    internal static JobSummary Summary(SqliteDataReader r) =>
        new(
            r.GetString(0),
            r.GetString(1),
            r.GetString(2),
            Enum.Parse<Station>(r.GetString(3)),
            r.GetInt64(4) == 1,
            Time(r.GetString(5)),
            Time(r.GetString(6)),
            r.GetInt32(7),
            r.IsDBNull(8) ? null : Time(r.GetString(8)),
            r.IsDBNull(9) ? null : Time(r.GetString(9)),
            r.GetString(10),
            r.GetString(11),
            r.GetString(12),
            r.GetString(13),
            r.GetString(14),
            r.IsDBNull(15) ? null : Time(r.GetString(15))
        );

    internal static (string, object?)[] Parameters(Guid jobId, JobSummary s, int version) =>
        [
            ("$job", jobId.ToString()),
            ("$number", s.Number),
            ("$place", s.Place),
            ("$layout", s.LayoutId),
            ("$station", s.Station.ToString()),
            ("$closed", s.Closed ? 1 : 0),
            ("$opened", Text(s.OpenedAt)),
            ("$last", Text(s.LastAt)),
            ("$out", s.StepsOut),
            ("$timer", s.NextTimerAt is { } t ? Text(t) : null),
            ("$due", s.PartDueAt is { } d ? Text(d) : null),
            ("$callback", s.CallBackOf),
            ("$fault", s.FaultId.Value),
            ("$words", s.Words),
            ("$version", version),
            ("$tag", s.Tag),
            ("$complaints", s.Complaints),
            ("$return", s.ReturnBy is { } back ? Text(back) : null),
            ("$shape", SummaryShape),
        ];
}
