using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Practice;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>An exercise as it is kept.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Person">Who practises; empty where nobody is named.</param>
/// <param name="Spec">What is practised.</param>
/// <param name="BegunAt">When it was begun.</param>
/// <param name="EndedAt">When it ended; null while it goes on.</param>
/// <param name="Moves">What was done.</param>
/// <param name="Marks">Of 100; null while it goes on.</param>
/// <param name="Lost">Minutes lost by decisions.</param>
/// <param name="Unsafe">Why it was stopped; empty where it was not.</param>
public sealed record KeptExercise(
    Guid Id,
    string Person,
    ExerciseSpec Spec,
    DateTimeOffset BegunAt,
    DateTimeOffset? EndedAt,
    IReadOnlyList<ExerciseMove> Moves,
    double? Marks,
    double? Lost,
    string Unsafe
);

/// <summary>A card of the drills that somebody was asked.</summary>
/// <param name="Card">Its id.</param>
/// <param name="Kind">Kind of drill.</param>
/// <param name="LayoutId">Machine.</param>
/// <param name="Seed">The seed that asks it.</param>
/// <param name="Box">Its box.</param>
/// <param name="Due">When it comes again.</param>
public sealed record DrillCard(string Card, string Kind, string LayoutId, int Seed, int Box, DateTimeOffset Due);

/// <summary>Practice, apart from all jobs: nothing of it teaches, costs or counts.</summary>
/// <param name="database">The database.</param>
public sealed class PracticeStore(Database database)
{
    private const string Columns =
        "exercise_id, person, layout_id, level, seed, begun_at, ended_at, moves, marks, lost, unsafe, from_job, faults";

    /// <summary>Keeps an exercise; one of the same id gives way to it.</summary>
    public void Keep(KeptExercise e)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"INSERT INTO exercise ({Columns}) VALUES ($id, $person, $layout, $level, $seed, $begun, $ended, $moves, $marks, $lost, $unsafe, $from_job, $faults) ON CONFLICT (exercise_id) DO UPDATE SET ended_at = $ended, moves = $moves, marks = $marks, lost = $lost, unsafe = $unsafe",
            ("$id", e.Id.ToString()),
            ("$person", e.Person),
            ("$layout", e.Spec.LayoutId),
            ("$level", e.Spec.Level),
            ("$seed", e.Spec.Seed),
            ("$begun", SqlRows.Text(e.BegunAt)),
            ("$ended", e.EndedAt is { } at ? SqlRows.Text(at) : null),
            ("$moves", JsonSerializer.Serialize(e.Moves, IdrumJson.Options)),
            ("$marks", e.Marks),
            ("$lost", e.Lost),
            ("$unsafe", e.Unsafe),
            ("$from_job", e.Spec.FromJob),
            ("$faults", JsonSerializer.Serialize(e.Spec.Faults, IdrumJson.Options))
        );
        command.ExecuteNonQuery();
    }

    /// <summary>The exercise of that id, or null.</summary>
    public KeptExercise? Find(Guid id) => Read("exercise_id = $id", 1, ("$id", id.ToString())).FirstOrDefault();

    /// <summary>Exercises of a person, the newest first.</summary>
    /// <param name="person">Who.</param>
    /// <param name="most">Exercises at most.</param>
    public IReadOnlyList<KeptExercise> Of(string person, int most) =>
        Read("person = $person", most, ("$person", person));

    private List<KeptExercise> Read(string where, int most, (string, object?) value)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {Columns} FROM exercise WHERE {where} ORDER BY begun_at DESC LIMIT $most",
            value,
            ("$most", most)
        );
        using var r = command.ExecuteReader();
        var list = new List<KeptExercise>();
        while (r.Read())
        {
            list.Add(
                new(
                    Guid.Parse(r.GetString(0)),
                    r.GetString(1),
                    new(r.GetString(2), r.GetInt32(3), r.GetInt32(4))
                    {
                        FromJob = r.GetString(11),
                        Faults = JsonSerializer.Deserialize<List<FaultId>>(r.GetString(12), IdrumJson.Options)!,
                    },
                    SqlRows.Time(r.GetString(5)),
                    r.IsDBNull(6) ? null : SqlRows.Time(r.GetString(6)),
                    JsonSerializer.Deserialize<List<ExerciseMove>>(r.GetString(7), IdrumJson.Options)!,
                    r.IsDBNull(8) ? null : r.GetDouble(8),
                    r.IsDBNull(9) ? null : r.GetDouble(9),
                    r.GetString(10)
                )
            );
        }
        return list;
    }

    /// <summary>The card of a kind that is due first, or null.</summary>
    /// <param name="person">Who.</param>
    /// <param name="kind">Kind of drill.</param>
    /// <param name="now">The present.</param>
    public DrillCard? Due(string person, string kind, DateTimeOffset now)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT card, kind, layout_id, seed, box, due FROM drill_card WHERE person = $person AND kind = $kind AND due <= $now ORDER BY due LIMIT 1",
            ("$person", person),
            ("$kind", kind),
            ("$now", SqlRows.Text(now))
        );
        using var r = command.ExecuteReader();
        return r.Read()
            ? new(
                r.GetString(0),
                r.GetString(1),
                r.GetString(2),
                r.GetInt32(3),
                r.GetInt32(4),
                SqlRows.Time(r.GetString(5))
            )
            : null;
    }

    /// <summary>Jobs in which something was marked on a photo.</summary>
    /// <param name="most">Jobs at most.</param>
    public IReadOnlyList<Guid> Marked(int most)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT DISTINCT job_id FROM event WHERE instr(body, '\"photo-marked\"') > 0 LIMIT $most",
            ("$most", most)
        );
        using var r = command.ExecuteReader();
        var list = new List<Guid>();
        while (r.Read())
        {
            list.Add(Guid.Parse(r.GetString(0)));
        }
        return list;
    }

    /// <summary>How a kind stands for a person: asked, missed, due now.</summary>
    public (int Asked, int Missed, int Due) Standing(string person, string kind, DateTimeOffset now)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT COALESCE(SUM(asked), 0), COALESCE(SUM(missed), 0), COALESCE(SUM(due <= $now), 0) FROM drill_card WHERE person = $person AND kind = $kind",
            ("$person", person),
            ("$kind", kind),
            ("$now", SqlRows.Text(now))
        );
        using var r = command.ExecuteReader();
        r.Read();
        return (r.GetInt32(0), r.GetInt32(1), r.GetInt32(2));
    }

    /// <summary>Notes an answer and puts the card into its next box.</summary>
    public void Answered(
        string person,
        DrillQuestion question,
        string layoutId,
        int seed,
        bool right,
        DateTimeOffset now
    )
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        using var known = connection.Command(
            transaction,
            "SELECT box FROM drill_card WHERE person = $person AND card = $card",
            ("$person", person),
            ("$card", question.Card)
        );
        var box = DrillBoxes.Next(known.ExecuteScalar() is long b ? (int)b : 0, right);
        using var command = connection.Command(
            transaction,
            "INSERT INTO drill_card (person, card, kind, layout_id, seed, box, due, asked, missed) VALUES ($person, $card, $kind, $layout, $seed, $box, $due, 1, $missed) ON CONFLICT (person, card) DO UPDATE SET box = $box, due = $due, seed = $seed, asked = asked + 1, missed = missed + $missed",
            ("$person", person),
            ("$card", question.Card),
            ("$kind", question.Kind),
            ("$layout", layoutId),
            ("$seed", seed),
            ("$box", box),
            ("$due", SqlRows.Text(now.AddDays(DrillBoxes.Days[box]))),
            ("$missed", right ? 0 : 1)
        );
        command.ExecuteNonQuery();
        transaction.Commit();
    }
}
