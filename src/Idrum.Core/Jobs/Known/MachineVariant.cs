using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Known;

/// <summary>What a job found different from its layout, as a layout of its own: screws more or fewer, obstacles that
/// are not there, and in words at its step what is no count (other wires, screws of another kind).</summary>
public static class MachineVariant
{
    /// <summary>Whether there is anything to keep.</summary>
    public static bool Differs(JobState state) =>
        state.Absent.Count > 0
        || state.Differences.Values.Any(d => d != 0)
        || state.Problems.Exists(p => p.OfThisMachine);

    /// <summary>The layout as this machine is.</summary>
    /// <param name="layout">The layout the job is worked with, its conditions not decided.</param>
    /// <param name="state">The job.</param>
    /// <param name="id">Id of the new layout.</param>
    /// <param name="title">Its title.</param>
    public static Layout Of(Layout layout, JobState state, string id, string title)
    {
        int Difference(string fastenerId) => state.Differences.GetValueOrDefault(fastenerId);
        var here = LayoutWithout.Of(layout, state.Absent.Where(o => layout.FindOperation(o) is not null).ToHashSet());
        return here with
        {
            Id = id,
            Title = title,
            From = new(layout.Id, Variants.HashOf(layout)),
            Operations =
            [
                .. here
                    .Operations.Select(o =>
                        o with
                        {
                            Fasteners =
                            [
                                .. o
                                    .Fasteners.Where(f => f.Count + Difference(f.Id) > 0)
                                    .Select(f => Difference(f.Id) == 0 ? f : f.WithCount(f.Count + Difference(f.Id))),
                            ],
                        }
                    )
                    .Select(o =>
                        o with
                        {
                            Notes = [.. o.Notes, .. Met(o, state)],
                            Refit =
                            [
                                .. o.Refit.Select(s =>
                                    s with
                                    {
                                        Fasteners = [.. s.Fasteners.Where(id => o.Fasteners.Any(f => f.Id == id))],
                                    }
                                ),
                            ],
                        }
                    ),
            ],
        };
    }

    /// <summary>What was met at a step, as notes of it.</summary>
    private static IEnumerable<StepNote> Met(Operation operation, JobState state)
    {
        var words = state.Problems.Where(p => p.OfThisMachine && p.OperationId == operation.Id);
        var n = 0;
        foreach (var p in words.Select(p => $"{p.WhatWords}: {p.Text}").Distinct())
        {
            string id;
            do
            {
                id = $"{operation.Id}-met-{++n}";
            } while (operation.Notes.Any(o => o.Id == id));
            yield return new(id, NoteKind.Note, p);
        }
    }
}
