using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>The acts of putting a new part in: out of the van, fitted, sitting in its place; and of its twins in the
/// same go.</summary>
public static class GoesIn
{
    /// <summary>Other parts of the kind that are chosen and nothing was done to, which go in the same way: not glued, and
    /// nothing asked before.</summary>
    /// <param name="state">The job.</param>
    /// <param name="part">The part in work.</param>
    /// <param name="machine">The machine.</param>
    public static IReadOnlyList<Part> Twins(JobState state, Part part, MachineKnowledge machine) =>
        machine.Handbook.For(part, machine.Layout) is not { Glues: false }
        || WhyToAsk.Of(state, part.Kind, machine.Diagnostician.Model.Catalog) is not null
            ? []
            :
            [
                .. state
                    .Targets.Where(t => t != part.Id && !state.Fitted.ContainsKey(t) && !state.Orders.ContainsKey(t))
                    .Select(machine.Layout.FindPart)
                    .OfType<Part>()
                    .Where(p => p.Kind == part.Kind && p.Transfer.SequenceEqual(part.Transfer)),
            ];

    /// <summary>What one tap at Fit says.</summary>
    /// <param name="history">The job.</param>
    /// <param name="fitted">The part as it was said.</param>
    /// <param name="twins">Parts that went in the same way.</param>
    /// <param name="seats">Whether each sits in its place again.</param>
    /// <param name="machine">The machine.</param>
    /// <param name="supplier">What can be had.</param>
    /// <param name="van">The van with what it holds now.</param>
    /// <returns>The acts, in order; the given one is among them.</returns>
    public static IReadOnlyList<JobEvent> Acts(
        JobHistory history,
        PartFitted fitted,
        IReadOnlyList<PartId> twins,
        bool seats,
        MachineKnowledge machine,
        Supplier supplier,
        StockPlace van
    )
    {
        var (acts, held) = (new List<JobEvent>(), van.Holds.ToDictionary());
        void Do(JobEvent act)
        {
            acts.Add(act);
            history = history.Add(act with { Id = Guid.NewGuid(), At = history.State.LastAt });
        }
        foreach (var each in new[] { fitted }.Concat(twins.Select(t => fitted with { PartId = t })))
        {
            if (machine.Layout.FindPart(each.PartId) is not { } part)
            {
                continue;
            }
            if (
                each is { Source: PartSource.Van, Action: FittedAs.Replaced }
                && !Supplies.IsHere(history.State, machine.Layout, part, true)
                && Purchase.OutOfVan(history.State, machine.Layout, part, supplier, van with { Holds = held })
                    is { } taken
            )
            {
                held[taken.ArticleId] = held.GetValueOrDefault(taken.ArticleId) - taken.Quantity;
                Do(taken);
            }
            Do(each);
            if (seats && StepForward.Seated(history.State, part, machine) is { } seated)
            {
                Do(seated);
            }
        }
        return acts;
    }
}
