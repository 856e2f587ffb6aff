using Idrum.Core.Jobs.Log;

namespace Idrum.Storage;

// What was lost or changed behind Idrum's back.
public sealed partial class JobStore
{
    /// <summary>What was answered once and is not in the database any more, in words; the marks begin anew from what
    /// it holds, so that each loss is told once.</summary>
    public IReadOnlyList<string> Missing()
    {
        using var connection = database.Connect();
        var missing = marks.Missing(connection);
        marks.Begin(connection);
        return missing;
    }

    /// <summary>Where a job's log was changed behind Idrum's back, in words; null where it was not.</summary>
    public string? Broken(Guid jobId)
    {
        using var connection = database.Connect();
        if (Chain.Broken(connection, jobId) is { } broken)
        {
            return broken;
        }
        if (Find(jobId) is not { } job)
        {
            return null;
        }
        var held = SoundDropped.Held(job.Log).ToHashSet(ReferenceEqualityComparer.Instance);
        return job
            .Log.Select((e, i) => (Act: e as ICarriesAttachment, Place: i + 1))
            .Where(e => e.Act is not null && held.Contains(e.Act))
            .Select(e => BrokenFile(e.Act!, e.Place))
            .FirstOrDefault(words => words is not null);
    }

    /// <summary>Whether the file an act carries was changed or removed, in words.</summary>
    private string? BrokenFile(ICarriesAttachment act, int place) =>
        FindAttachment(act.CarriedName) is not { } file
            ? $"The {act.Carries.Name} of act {place} was removed or changed."
        : act.CarriedSha256 is { } hash && hash != file.Sha256 ? $"The {act.Carries.Name} of act {place} was changed."
        : null;
}
