using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Known;

/// <summary>How a part stands, for the drawing.</summary>
public enum PartCondition
{
    /// <summary>In its place.</summary>
    InPlace,

    /// <summary>Loose but still there.</summary>
    Loose,

    /// <summary>Within reach and free to be replaced.</summary>
    Freed,

    /// <summary>Out of the machine.</summary>
    Out,

    /// <summary>Replaced in this job.</summary>
    New,
}

/// <summary>Works out how every part stands.</summary>
public static class PartStates
{
    /// <summary>Part id → condition; parts in place are not named.</summary>
    public static IReadOnlyDictionary<PartId, PartCondition> Of(JobState state, Layout layout)
    {
        var result = state
            .Fitted.Where(f => f.Value.Action == FittedAs.Replaced)
            .ToDictionary(f => f.Key, _ => PartCondition.New);
        // Hung and not yet closed: it is there again, loose.
        foreach (
            var part in state
                .Out.Except(state.WhollyOut)
                .Select(layout.FindOperation)
                .OfType<Operation>()
                .SelectMany(o => o.TakesOff.Concat(o.Loosens))
        )
        {
            result.TryAdd(part, PartCondition.Loose);
        }
        foreach (var operation in state.WhollyOut.Select(layout.FindOperation).OfType<Operation>())
        {
            Take(result, operation);
        }
        return result;
    }

    /// <summary>The same once these steps are done on a machine that was whole.</summary>
    /// <param name="done">The steps, in any order.</param>
    public static IReadOnlyDictionary<PartId, PartCondition> After(IEnumerable<Operation> done)
    {
        var result = new Dictionary<PartId, PartCondition>();
        foreach (var operation in done)
        {
            Take(result, operation);
        }
        return result;
    }

    private static void Take(Dictionary<PartId, PartCondition> result, Operation operation)
    {
        foreach (var part in operation.Loosens)
        {
            result.TryAdd(part, PartCondition.Loose);
        }
        foreach (var part in operation.Frees)
        {
            if (result.GetValueOrDefault(part) is not (PartCondition.New or PartCondition.Out))
            {
                result[part] = PartCondition.Freed;
            }
        }
        foreach (var part in operation.TakesOff)
        {
            result[part] = PartCondition.Out;
        }
    }
}
