using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Practice;

/// <summary>What is practised: a machine with hidden faults, made by a seed.</summary>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Level">1: one fault. 2: as they come, several at once. 3: as they come, in a machine that does not go by the book. 4: as 2,
/// and glue, belt, plugs and screws are put back by one's own hand.</param>
/// <param name="Seed">The same seed, the same machine.</param>
public sealed record ExerciseSpec(string LayoutId, int Level, int Seed)
{
    /// <summary>The level at which the hands' part is practised too.</summary>
    public const int ByHand = 4;

    /// <summary>The levels, in words.</summary>
    public static IReadOnlyList<(int Level, string Words)> Levels { get; } =
    [
        (1, "One fault that shows itself"),
        (2, "As they come: one fault or several"),
        (3, "As they come, in a machine that does not go by the book"),
        (ByHand, "As they come, and put together again by your own hand: glue, belt, plugs, screws"),
    ];

    /// <summary>What is wrong with the machine, where the exercise is made of a job; empty where the seed draws it.</summary>
    public IReadOnlyList<FaultId> Faults { get; init; } = [];

    /// <summary>Number of that job; shown once the exercise is over.</summary>
    public string FromJob { get; init; } = "";

    /// <summary>An exercise made of a closed job: its machine with the causes that were put right or handed over; complaint and answers
    /// are drawn anew, as another customer would tell it.</summary>
    /// <param name="job">The job.</param>
    /// <param name="knowledge">Its machine's kind, by the files.</param>
    /// <param name="seed">For what is drawn.</param>
    /// <returns>Null where the job is open, or nothing was found in it that a customer complains of and the model knows.</returns>
    public static ExerciseSpec? Of(JobState job, MachineKnowledge knowledge, int seed)
    {
        var model = knowledge.Diagnostician.Model;
        List<FaultId> found =
        [
            .. job
                .Found.Where(f => f.Decision is Decided.Change or Decided.HandOver && !f.FaultId.IsNone)
                .Select(f => f.FaultId)
                .Distinct(),
        ];
        if (job.Closed is null || found.Count == 0)
        {
            return null;
        }
        // Where the model has not all of them together it is the first that was met.
        return new[] { found, [found[0]] }
            .Where(model.Has)
            .Select(faults => new ExerciseSpec(job.Machine.LayoutId, 2, seed) { Faults = faults, FromJob = job.Number })
            .FirstOrDefault(spec => Exercise.BareJob(spec, knowledge).Machine.Complaints.Count > 0);
    }
}
