using System.Collections.Immutable;
using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What of a job fits when the machine turns out to be another than was thought: steps done, screws counted,
/// parts worked on. What
/// does not fit is said, and what lies in a tray for it stays an open item until it is put back by hand.</summary>
public sealed record CarryOver
{
    /// <summary>Operations done that the other layout has too.</summary>
    public IReadOnlyList<OperationId> Operations { get; init; } = [];

    /// <summary>Refit steps done that the other layout has too.</summary>
    public IReadOnlyList<StepRef> Steps { get; init; } = [];

    /// <summary>Fastener group counted → group of the other layout it stands for.</summary>
    public IReadOnlyDictionary<string, string> Fasteners { get; init; } = new Dictionary<string, string>();

    /// <summary>Part worked on or found → part of the other layout it stands for.</summary>
    public IReadOnlyDictionary<PartId, PartId> Parts { get; init; } = new Dictionary<PartId, PartId>();

    /// <summary>Whether what was signed as safe covers all that the other machine asks for; else it is signed
    /// anew.</summary>
    public bool StaysSafe { get; init; }

    /// <summary>What lies in trays and has no place on the other layout, in words.</summary>
    public IReadOnlyList<string> Strays { get; init; } = [];

    /// <summary>What else could not be carried, in words.</summary>
    public IReadOnlyList<string> Lost { get; init; } = [];

    /// <summary>Works it out. An operation fits one of the same id; a group of fasteners one of the same id in it, else
    /// one of the same kind
    /// in it; a part one of the same id and kind, else the only one of its kind.</summary>
    /// <param name="state">The job.</param>
    /// <param name="before">The machine as it was thought to be, conditions decided.</param>
    /// <param name="after">The machine as it is, conditions decided.</param>
    /// <param name="safety">Ids of the safety items the machine asks for as it is.</param>
    public static CarryOver Of(JobState state, Layout before, Layout after, IEnumerable<string> safety)
    {
        var (operations, strays, lost) = (new List<OperationId>(), new List<string>(), new List<string>());
        var fasteners = new Dictionary<string, string>();
        foreach (var removal in state.Removals)
        {
            var known = before.FindOperation(removal.OperationId);
            var other = after.FindOperation(removal.OperationId);
            var isOut = state.Out.Contains(removal.OperationId);
            if (other is null)
            {
                lost.Add($"The step “{known?.Name ?? removal.OperationId}” was done; {after.Title} has none such.");
            }
            else
            {
                operations.Add(other.Id);
            }
            foreach (var (id, count) in removal.Out)
            {
                var group = before.OwnerOf(id)?.Fasteners.FirstOrDefault(f => f.Id == id);
                // What stays in by a turn till later is counted at two operations of one layout: look in both.
                var there = other is null ? [] : after.CountedAt(other).Select(c => c.Group).ToList();
                var fits = there.Find(f => f.Id == id)
                    ?? there.Find(f =>
                        group is not null
                        && f.SameKind(group)
                        && !fasteners.ContainsValue(f.Id)
                        && !state.Removals.Any(r => r.Out.ContainsKey(f.Id))
                    );
                if (fits is not null)
                {
                    fasteners[id] = fits.Id;
                }
                else if (isOut && count - (removal.In?.GetValueOrDefault(id) ?? 0) is > 0 and var left)
                {
                    var kind = group is null ? id : FastenerWords.Kind(group, state.Machine.Units == "inch");
                    strays.Add(
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{left} × {kind}, tray {state.Ledger.TrayOf(id)}, from “{known?.Name ?? removal.OperationId}”"
                        )
                    );
                }
            }
            var plugs = other?.Plugs.Select(p => p.Id).ToHashSet() ?? [];
            strays.AddRange(
                (known?.Plugs ?? [])
                    .Where(p => isOut && !removal.Joined.Contains(p.Id) && !plugs.Contains(p.Id))
                    .Select(p => $"Plug “{p.Name}”, parted at “{known!.Name}”")
            );
        }
        var parts = new Dictionary<PartId, PartId>();
        foreach (
            var id in state.Targets.Concat(state.Fitted.Keys).Concat(state.Found.SelectMany(f => f.Parts)).Distinct()
        )
        {
            var part = before.FindPart(id);
            var alike = after.Parts.Where(p => p.Kind == part?.Kind).ToList();
            if (alike.Find(p => p.Id == id) is { } same)
            {
                parts[id] = same.Id;
            }
            else if (alike.Count == 1 && !parts.ContainsValue(alike[0].Id))
            {
                parts[id] = alike[0].Id;
            }
            else
            {
                lost.Add(
                    $"{part?.Name ?? id} was chosen or worked on; {after.Title} has no such part. Decide anew on Find."
                );
            }
        }
        return new()
        {
            Operations = operations,
            Steps = [.. state.StepsIn.Where(s => operations.Contains(s.Operation) && s.In(after) is not null)],
            Fasteners = fasteners,
            Parts = parts,
            StaysSafe = safety.All(state.SafetyItems.Contains),
            Strays = strays,
            Lost = lost,
        };
    }

    /// <summary>What carries over when a job's machine turns out to be another.</summary>
    /// <param name="state">The job.</param>
    /// <param name="shop">The shop.</param>
    /// <param name="card">The machine as it is; its layout must be one of the shop's.</param>
    public static CarryOver Of(JobState state, ShopSnapshot shop, MachineCard card)
    {
        var layout = shop.FindLayout(card.LayoutId)!;
        var after = layout.For(card.FactsOf(layout), new Dictionary<string, string>());
        return Of(
            state,
            shop.MachineOf(state).Layout,
            after,
            shop.Handbook.SafetyOf(after, card.Connection, card.HeatedBy).Select(i => i.Id)
        );
    }

    /// <summary>Whether everything it names is on the layout and was in the job, and no two things have become
    /// one.</summary>
    internal bool Fits(JobState state, Layout after) =>
        Operations.All(o => after.FindOperation(o) is not null && state.Removals.Any(r => r.OperationId == o))
        && Fasteners.Values.All(f => after.OwnerOf(f) is not null)
        && Parts.Values.All(p => after.FindPart(p) is not null)
        && Fasteners.Values.Distinct().Count() == Fasteners.Count
        && Parts.Values.Distinct().Count() == Parts.Count
        && Steps.All(s => Operations.Contains(s.Operation) && s.In(after) is not null)
        && Strays.Concat(Lost).All(t => t.Length <= FieldErrors.LongText)
        && Strays.Count + Lost.Count <= 4 * EventShape.MostEntries;

    /// <summary>The job on the other layout. What was left out, stuck or not there was said of the machine it was
    /// thought to be, and is asked
    /// anew; ways in and schools go back to their defaults.</summary>
    internal JobState Apply(JobState state)
    {
        ImmutableSortedDictionary<string, T> Groups<T>(IEnumerable<KeyValuePair<string, T>> of) =>
            of.Where(p => Fasteners.ContainsKey(p.Key))
                .ToImmutableSortedDictionary(p => Fasteners[p.Key], p => p.Value);
        var kept = Operations.ToHashSet();
        var targets = state.Targets.Where(Parts.ContainsKey).Select(t => Parts[t]).ToImmutableList();
        return state with
        {
            Removals =
            [
                .. state
                    .Removals.Where(r => kept.Contains(r.OperationId))
                    .Select(r =>
                        r with
                        {
                            Trays = Groups(r.Trays),
                            Out = Groups(r.Out),
                            In = r.In is null ? null : Groups(r.In),
                        }
                    ),
            ],
            Out = [.. state.Out.Where(kept.Contains)],
            StepsIn = [.. Steps],
            Differences = Groups(state.Differences),
            Settled =
            [
                .. state
                    .Settled.Where(s => Fasteners.ContainsKey(s.FastenerId))
                    .Select(s => s with { FastenerId = Fasteners[s.FastenerId] }),
            ],
            Found =
            [
                .. state
                    .Found.Select(f => f with { Parts = [.. f.Parts.Where(Parts.ContainsKey).Select(p => Parts[p])] })
                    .Where(f => f.Parts.Count > 0 || f.Decision == Decided.HandOver),
            ],
            Targets = targets,
            Fitted = state
                .Fitted.Where(f => Parts.ContainsKey(f.Key))
                .ToImmutableSortedDictionary(f => Parts[f.Key], f => f.Value with { PartId = Parts[f.Key] }),
            Glue = state
                .Glue.Where(g => Parts.ContainsKey(g.Key))
                .ToImmutableSortedDictionary(g => Parts[g.Key], g => g.Value),
            Strays = state.Strays.AddRange(Strays),
            SafeBy = StaysSafe ? state.SafeBy : "",
            SafetyItems = StaysSafe ? state.SafetyItems : [],
            Schools = state.Schools.Clear(),
            WaysIn = state.WaysIn.Clear(),
            Absent = [],
            LeftOut = [],
            Stuck = [],
            Station = targets.Count == 0 && state.Station > Station.Find ? Station.Find : state.Station,
        };
    }
}
