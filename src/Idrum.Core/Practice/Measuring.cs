using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Practice;

/// <summary>Measures a simulated machine: three readings of each part a check is of, as a hand takes them.</summary>
/// <param name="knowledge">The machine's kind.</param>
/// <param name="machine">The machine.</param>
/// <param name="seed">Which tools and hand.</param>
internal sealed class Measuring(MachineKnowledge knowledge, SimulatedMachine machine, int seed)
{
    private const int Usual = 3;
    private int readings;

    /// <summary>What readings say of a check; of several parts the one that speaks loudest for wear goes for the check, as <see
    /// cref="GaugedSet.Evidence"/> takes it.</summary>
    /// <param name="f">The check.</param>
    /// <param name="way">How it is measured.</param>
    /// <param name="renewed">Parts that are new.</param>
    /// <returns>Part by part; and all of it for the check, null where it tells nothing.</returns>
    internal (IReadOnlyList<GaugeResult> Results, GradedFinding? Said) Of(
        Finding f,
        ReadInstead way,
        IReadOnlyCollection<PartId> renewed
    )
    {
        var (layout, book, protocol) = (knowledge.Layout, knowledge.Handbook.Gauging, way.Protocol);
        var catalog = knowledge.Diagnostician.Model.Catalog;
        var tools = new SimulatedTools(
            knowledge,
            [.. knowledge.Diagnostician.Model.Faults.Select(x => x.Id).Where(machine.Has)],
            seed
        )
        {
            Shows = id => catalog.FindFinding(id)!.IndexOf(machine.Answer(id)),
        };
        var places = protocol.Positions.Where(p => !p.Optional).ToList();
        var drums = protocol.Round ? new double?[] { 0, 135 } : [null];
        var times = drums.Length > 1 ? 1 : (Usual + places.Count - 1) / places.Count;
        var results = new List<GaugeResult>();
        foreach (var part in way.Parts.Count > 0 ? way.Parts.Cast<Part?>() : [null])
        {
            var isNew = part is not null && renewed.Contains(part.Id);
            var read = (
                from _ in Enumerable.Range(0, times)
                from drum in drums
                from place in places
                select tools.Read(protocol, part, place, drum ?? 0, readings++, isNew) is { } value
                    ? new GaugeReading(value, "", place.Id, drum)
                    : new GaugeReading(0, "", place.Id, drum, true)
            ).ToList();
            if (
                Gauge.Of(protocol, layout, part, read, new(book, [layout], 50)).Result is
                { Likelihoods.Count: > 0 } result
            )
            {
                results.Add(result);
            }
        }
        // The first outcome of a check is the sound one.
        var sound = f.Outcomes[0].Id;
        return (
            results,
            results.Count == 0
                ? null
                : new(
                    f.Id,
                    results
                        .MinBy(r => r.Likelihoods.GetValueOrDefault(sound) / r.Likelihoods.Values.Max())!
                        .Likelihoods,
                    EvidenceSource.Reading
                )
        );
    }
}
