using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;

namespace Idrum.Storage;

/// <summary>A job as it is stored.</summary>
/// <param name="JobId">Id.</param>
/// <param name="History">Its log with its fold.</param>
public sealed record StoredJob(Guid JobId, JobHistory History)
{
    /// <summary>All events in order.</summary>
    public IReadOnlyList<JobEvent> Log => History.Log;

    /// <summary>Their fold.</summary>
    public JobState State => History.State;

    /// <summary>Rises by one with every event.</summary>
    public int Version => History.Count;
}

/// <summary>How adding an event ended.</summary>
public enum AppendOutcome
{
    /// <summary>Stored.</summary>
    Added,

    /// <summary>The same event was already stored; nothing changed.</summary>
    Repeated,

    /// <summary>Another event has this id; nothing changed.</summary>
    IdTaken,

    /// <summary>The rules forbid it; nothing changed.</summary>
    Refused,

    /// <summary>There is no such job.</summary>
    NoJob,
}

/// <summary>Result of adding an event.</summary>
/// <param name="Outcome">How it ended.</param>
/// <param name="Errors">Why it was refused.</param>
/// <param name="Job">The job afterwards, where there is one.</param>
public sealed record AppendResult(AppendOutcome Outcome, IReadOnlyList<FieldError> Errors, StoredJob? Job);
