using Idrum.Core.Basics;

namespace Idrum.Core.Fitting;

/// <summary>Something that takes the hands of who works.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Seconds">How long it takes, seconds; 0 or more.</param>
/// <param name="Persons">How many persons it takes: 1 or 2.</param>
/// <param name="From">Earliest start, seconds from now.</param>
/// <param name="Until">Latest start, seconds from now; null where there is none.</param>
/// <param name="Tail">Seconds that must pass after its end before the visit is over; 0 where nothing is waited
/// for.</param>
public sealed record Chore(string Id, int Seconds, int Persons = 1, int From = 0, int? Until = null, int Tail = 0);

/// <summary>Between the end of one chore and the start of another pass at least <paramref name="Min"/> and at most
/// <paramref name="Max"/> seconds.</summary>
/// <param name="From">Chore that ends.</param>
/// <param name="To">Chore that starts.</param>
/// <param name="Min">Least wait, seconds; 0 is a plain "after".</param>
/// <param name="Max">Longest wait, seconds; null where there is none.</param>
public sealed record TimeLag(string From, string To, int Min = 0, int? Max = null);

/// <summary>A chore with its time.</summary>
/// <param name="Id">The chore.</param>
/// <param name="Start">Start, seconds from now.</param>
/// <param name="End">End, seconds from now.</param>
public sealed record ScheduledChore(string Id, int Start, int End);

/// <summary>What is to be put in time.</summary>
/// <param name="Chores">The chores; at most 128.</param>
/// <param name="Lags">What lies between them.</param>
/// <param name="Persons">Who works: 1 or 2.</param>
public sealed record ScheduleProblem(IReadOnlyList<Chore> Chores, IReadOnlyList<TimeLag> Lags, int Persons = 1)
{
    /// <summary>Measures how long is searched; without one work is counted, and the same problem always ends
    /// alike.</summary>
    public TimeProvider? Clock { get; init; }

    /// <summary>The same for somebody slower or faster.</summary>
    /// <param name="factor">Every chore takes that many times as long; waits stay as they are.</param>
    public ScheduleProblem AtPace(double factor) =>
        this with
        {
            Chores = [.. Chores.Select(c => c with { Seconds = (int)Math.Ceiling(c.Seconds * factor) })],
        };

    /// <summary>What makes this no problem at all, field by field; empty where it is one.</summary>
    public IReadOnlyList<FieldError> Check()
    {
        var errors = new FieldErrors();
        errors.If(Persons is not (1 or 2), "/persons", "One or two persons work on a machine.");
        errors.If(Chores.Count > 128, "/chores", "At most 128 chores are put in time at once.");
        var ids = new HashSet<string>();
        for (var i = 0; i < Chores.Count; i++)
        {
            var c = Chores[i];
            errors.If(!ids.Add(c.Id), $"/chores/{i}/id", $"'{c.Id}' is there twice.");
            errors.If(
                c.Seconds < 0 || c.From < 0 || c.Tail < 0 || c.Until < 0,
                $"/chores/{i}",
                "Times are not below zero."
            );
            errors.If(
                c.Persons < 1 || c.Persons > Persons,
                $"/chores/{i}/persons",
                $"It takes {c.Persons} persons, and {Persons} work."
            );
        }
        for (var i = 0; i < Lags.Count; i++)
        {
            var l = Lags[i];
            errors.If(
                !ids.Contains(l.From) || !ids.Contains(l.To),
                $"/lags/{i}",
                $"'{l.From}' or '{l.To}' is no chore."
            );
            errors.If(l.From == l.To, $"/lags/{i}", "A chore does not wait for itself.");
            errors.If(l.Min < 0, $"/lags/{i}/min", "A wait is not below zero.");
            errors.If(l.Max < l.Min, $"/lags/{i}/max", $"The latest ({l.Max} s) lies before the earliest ({l.Min} s).");
        }
        return errors.All;
    }
}

/// <summary>Chores in time, with the proof of it.</summary>
/// <param name="Items">Chores by their start; empty where there is no way.</param>
/// <param name="Seconds">When the last chore and all that is waited for is over, seconds from now; −1 where there is no
/// way, or none was found in time.</param>
/// <param name="Bound">No way is over before, seconds from now.</param>
/// <param name="Optimal">Whether that is proved the earliest; where <paramref name="Items"/> is empty, that there is no
/// way.</param>
/// <param name="Broken">The lag that cannot be kept: without its latest there would be a way. Null where there is one,
/// or no single lag is to blame.</param>
public sealed record Schedule(
    IReadOnlyList<ScheduledChore> Items,
    int Seconds,
    int Bound,
    bool Optimal,
    TimeLag? Broken = null
)
{
    /// <summary>Whether there is a way.</summary>
    public bool Found => Seconds >= 0;
}
