using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Log;

/// <summary>What another writing of a layout would change for a job.</summary>
public static class LayoutChange
{
    /// <summary>What the job has done or decided that the other layout has no place for; empty where the job can
    /// move.</summary>
    public static IEnumerable<string> Lost(JobState state, Layout after)
    {
        foreach (var id in state.Removals.Select(r => r.OperationId).Where(id => after.FindOperation(id) is null))
        {
            yield return $"The step '{id}' was done, the other layout has none such.";
        }
        foreach (var id in state.Targets.Concat(state.Fitted.Keys).Distinct().Where(id => after.FindPart(id) is null))
        {
            yield return $"The part '{id}' is worked on, the other layout has none such.";
        }
        foreach (var id in state.Removals.SelectMany(r => r.Out.Keys).Distinct().Where(id => after.OwnerOf(id) is null))
        {
            yield return $"Screws '{id}' were counted, the other layout has none such.";
        }
        foreach (
            var (way, option) in state.WaysIn.Where(w =>
                after.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))
            )
        )
        {
            yield return $"The way '{way}' by '{option}' was chosen, the other layout has none such.";
        }
        foreach (var key in state.StepsIn.Where(s => s.In(after) is null))
        {
            yield return $"The step '{key}' was done, the other layout has none such.";
        }
    }
}
