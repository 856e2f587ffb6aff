using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>What a job found different from its layout, as a layout of its own: screws more or fewer, obstacles that are not there.</summary>
public static class MachineVariant
{
    /// <summary>Whether there is anything to keep.</summary>
    public static bool Differs(JobState state) => state.Absent.Count > 0 || state.Differences.Values.Any(d => d != 0);

    /// <summary>The layout as this machine is.</summary>
    /// <param name="layout">The layout the job is worked with, its conditions not decided.</param>
    /// <param name="state">The job.</param>
    /// <param name="id">Id of the new layout.</param>
    /// <param name="title">Its title.</param>
    public static Layout Of(Layout layout, JobState state, string id, string title)
    {
        var gone = state.Absent.Where(o => layout.FindOperation(o) is not null).ToHashSet();
        IReadOnlyList<IReadOnlyList<string>> Open(IReadOnlyList<IReadOnlyList<string>> groups) =>
            // What is not there counts as done: a group it stands in asks for nothing.
            [.. groups.Where(g => !g.Any(gone.Contains))];
        IReadOnlyList<string> Keys(IReadOnlyList<string> keys) => [.. keys.Where(k => !gone.Contains(k.Split('/')[0]))];
        // One can stay in by a turn only where there are others, and where it comes out later.
        bool StaysIn(FastenerGroup f) => !gone.Contains(f.LeftInTill) && f.LeftIn < f.Count + state.Differences.GetValueOrDefault(f.Id);
        var operations = layout.Operations.Where(o => !gone.Contains(o.Id)).Select(o => o with
        {
            Needs = Open(o.Needs),
            First = Open(o.First),
            Fasteners = [.. o.Fasteners.Select(f => f with
            {
                Count = Math.Max(1, f.Count + state.Differences.GetValueOrDefault(f.Id)),
                At = state.Differences.GetValueOrDefault(f.Id) != 0 && f.At.Count > 1 ? [f.At[0]] : f.At,
                LeftIn = StaysIn(f) ? f.LeftIn : 0,
                LeftInTill = StaysIn(f) ? f.LeftInTill : "",
            }).Where(f => layout.OwnerOf(f.Id)!.Fasteners.First(x => x.Id == f.Id).Count + state.Differences.GetValueOrDefault(f.Id) > 0)],
            Refit = [.. o.Refit.Select(s => s with { After = Keys(s.After), Before = Keys(s.Before), StillOut = [.. s.StillOut.Where(x => !gone.Contains(x))] })],
        }).Select(o => o with { Refit = [.. o.Refit.Select(s => s with { Fasteners = [.. s.Fasteners.Where(id => o.Fasteners.Any(f => f.Id == id))] })] }).ToList();
        return layout with
        {
            Id = id,
            Title = title,
            From = new(layout.Id, Variants.HashOf(layout)),
            Operations = operations,
            Parts = [.. layout.Parts.Select(p => p with { SeenAfter = Open(p.SeenAfter) })],
            Ways = [.. layout.Ways.Select(w => w with { Options = [.. w.Options.Where(o => !gone.Contains(o))] }).Where(w => w.Options.Count > 1)],
            NotMirrored = [.. layout.NotMirrored.Where(n => !gone.Contains(n.Operation) && !gone.Contains(n.Through))],
        };
    }
}
