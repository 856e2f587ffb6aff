using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Ledger;
using Idrum.Core.Listening;
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

    /// <summary>Part looked at, measured or bought for → part of the other layout it stands for; null in acts from before
    /// that was carried over, which leave all of it as it was.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyDictionary<PartId, PartId>? Looked { get; init; }

    /// <summary>Line of parts bought → what one of it is on the other machine: part → how many; nothing where it goes into
    /// none of it. Null in acts from before.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyDictionary<string, IReadOnlyDictionary<PartId, int>>? Bought { get; init; }

    /// <summary>What is said of recordings whose rates were those of another machine; empty where all that turns is
    /// alike.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public string? Recorded { get; init; }

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
    /// <param name="sold">What an article is on the machine as it is: part → how many; null where it is not sold for
    /// it.</param>
    public static CarryOver Of(
        JobState state,
        Layout before,
        Layout after,
        IEnumerable<string> safety,
        Func<string, IReadOnlyDictionary<PartId, int>?> sold
    )
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
                    var kind = group is null ? id : FastenerWords.Kind(group, state.Machine.Units == LengthUnit.Inch);
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
        string NameOf(PartId id) => before.FindPart(id)?.Name ?? id;
        var places = new Dictionary<PartId, PartId>();
        // The same place, else the only one of its kind that nothing else stands for, now or by its own id.
        PartId? Place(PartId id)
        {
            if (places.TryGetValue(id, out var known))
            {
                return known;
            }
            var alike = after.Parts.Where(p => p.Kind == before.FindPart(id)?.Kind).ToList();
            var there = alike.Find(p => p.Id == id)
                ?? (
                    alike is [var only] && !places.ContainsValue(only.Id) && before.FindPart(only.Id)?.Kind != only.Kind
                        ? only
                        : null
                );
            return there is null ? null : places[id] = there.Id;
        }
        var parts = new Dictionary<PartId, PartId>();
        foreach (
            var id in state.Targets.Concat(state.Fitted.Keys).Concat(state.Found.SelectMany(f => f.Parts)).Distinct()
        )
        {
            if (Place(id) is { } place)
            {
                parts[id] = place;
            }
            else
            {
                lost.Add($"{NameOf(id)} was chosen or worked on; {after.Title} has no such part. Decide anew on Find.");
            }
        }
        var looked = new Dictionary<PartId, PartId>();
        foreach (var id in LookedAt(state))
        {
            if (Place(id) is { } place)
            {
                looked[id] = place;
            }
            else
            {
                lost.Add($"{NameOf(id)} was seen or measured; {after.Title} has no such part, so it counts no more.");
            }
        }
        lost.AddRange(
            state.GaugeLimits.Keys.Select(l =>
                $"The limit set for {Wording.Inside(NameOf(l.Part))} was {before.Title}'s: set it anew if there is one."
            )
        );
        foreach (var id in state.Lines.Values.SelectMany(l => l.For).Concat(state.Orders.Keys).Distinct())
        {
            if (Place(id) is { } place)
            {
                looked[id] = place;
            }
        }
        var bought = new Dictionary<string, IReadOnlyDictionary<PartId, int>>();
        foreach (var line in state.Lines.Values.Where(l => l.Covers.Count > 0 || l.Astray))
        {
            bought[line.LineId] = sold(line.ArticleId) ?? new Dictionary<PartId, int>();
            if (bought[line.LineId].Count == 0 && line.Quantity - line.Missing - line.Returned > 0)
            {
                lost.Add(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{line.Name}, {line.Quantity - line.Missing - line.Returned} of them, {(line.Open > 0 ? "ordered" : "had")} for {before.Title}: not sold for {after.Title}. {(line.Open > 0 ? "Call the order off, or send it back." : "It goes back.")}"
                    )
                );
            }
        }
        var heard =
            state.Sounds.Any(s => s.Heard is { Sources.Count: > 0 }) && !TurnAlike(before, after)
                ? $"It was judged by how often the parts of {before.Title} come round. Record it again."
                : null;
        if (heard is not null)
        {
            lost.Add(
                $"What was recorded was judged by how often the parts of {before.Title} come round: record it again."
            );
        }
        return new()
        {
            Operations = operations,
            Steps = [.. state.StepsIn.Where(s => operations.Contains(s.Operation) && s.In(after) is not null)],
            Fasteners = fasteners,
            Parts = parts,
            Looked = looked,
            Bought = bought,
            Recorded = heard,
            StaysSafe = safety.All(state.SafetyItems.Contains),
            Strays = strays,
            Lost = lost,
        };
    }

    // What was seen or measured at a part, and of which part a recording speaks.
    private static IEnumerable<PartId> LookedAt(JobState state) =>
        state.Seen.Keys.Select(s => s.Part).Concat(state.Gauged.Select(g => g.PartId).Where(p => !p.IsNone)).Distinct();

    // Whether all that comes round does so equally often, so that what was heard says the same of both.
    private static bool TurnAlike(Layout before, Layout after)
    {
        var (was, now) = (SoundSource.Of(before, 50), SoundSource.Of(after, 50));
        return was.Count == now.Count
            && was.Zip(now)
                .All(p =>
                    p.First.Mechanism == p.Second.Mechanism
                    && p.First.PartIds.SequenceEqual(p.Second.PartIds)
                    && Math.Abs(p.First.Hz / p.Second.Hz - 1) < SoundSource.Same
                );
    }

    /// <summary>What carries over when a job's machine turns out to be another.</summary>
    /// <param name="state">The job.</param>
    /// <param name="shop">The shop.</param>
    /// <param name="card">The machine as it is; its layout must be one of the shop's.</param>
    public static CarryOver Of(JobState state, ShopSnapshot shop, MachineCard card)
    {
        var layout = shop.FindLayout(card.LayoutId)!;
        var after = layout.For(card.FactsOf(layout), new Dictionary<string, string>());
        var articles = shop.Supplier.For(after, card.Tag).ToList();
        return Of(
            state,
            shop.MachineOf(state).Layout,
            after,
            shop.Handbook.SafetyOf(after, card.Connection, card.HeatedBy).Select(i => i.Id),
            number => articles.Find(a => a.Id == number)?.Covers
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
        && (Looked is null || Looked.Values.All(p => after.FindPart(p) is not null))
        && (
            Bought is null
            || Bought.All(b => state.Lines.ContainsKey(b.Key) && b.Value.Keys.All(p => after.FindPart(p) is not null))
        )
        && Steps.All(s => Operations.Contains(s.Operation) && s.In(after) is not null)
        && Strays.Concat(Lost).All(t => t.Length <= FieldErrors.LongText)
        && Strays.Count + Lost.Count <= 4 * EventShape.MostEntries;

    /// <summary>The job with what was seen, measured, heard and bought as it is on the other layout. Limits set by hand
    /// were the other machine's.</summary>
    internal JobState Carry(JobState state)
    {
        if (Looked is null || Bought is null)
        {
            return state;
        }
        var carried = state with
        {
            Seen = state
                .Seen.Where(s => Looked.ContainsKey(s.Key.Part))
                .ToImmutableSortedDictionary(s => s.Key with { Part = Looked[s.Key.Part] }, s => s.Value),
            Gauged =
            [
                .. state
                    .Gauged.Where(g => g.PartId.IsNone || Looked.ContainsKey(g.PartId))
                    .Select(g => g.PartId.IsNone ? g : g with { PartId = Looked[g.PartId] }),
            ],
            GaugeLimits = state.GaugeLimits.Clear(),
            Sounds = Recorded is null
                ? state.Sounds
                :
                [
                    .. state.Sounds.Select(s =>
                        s.Heard is null
                            ? s
                            : s with
                            {
                                Heard = s.Heard with { Enough = false, Say = Recorded, Sources = [] },
                            }
                    ),
                ],
            Orders = state
                .Orders.Where(o => Looked.ContainsKey(o.Key) && !state.Lines.Values.Any(l => l.For.Contains(o.Key)))
                .ToImmutableSortedDictionary(o => Looked[o.Key], o => o.Value),
        };
        return state
            .Lines.Values.Where(l => Bought.ContainsKey(l.LineId))
            .Aggregate(carried, (s, l) => s.With(Line(l)));

        OrderLine Line(OrderLine line)
        {
            var covers = Bought[line.LineId].ToImmutableSortedDictionary();
            var meant = line.For.Where(Looked.ContainsKey).Select(p => Looked[p]).ToImmutableList();
            return line with
            {
                Covers = covers,
                Astray = covers.IsEmpty,
                For =
                    covers.IsEmpty ? []
                    : meant.IsEmpty ? [.. covers.Keys]
                    : meant,
            };
        }
    }

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
