using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>A machine opened without a complaint: everything that wears is looked at and changed as one set, region by
/// region.</summary>
public static class Reconditioning
{
    /// <summary>Wear parts by the region where they come free, in the order the plan for all of them reaches the
    /// regions.</summary>
    /// <param name="layout">The machine, its conditions decided.</param>
    /// <param name="removal">Operations in the order they are done.</param>
    /// <returns>Region id and its parts; a part that no operation of the plan frees stands last, without a
    /// region.</returns>
    public static IReadOnlyList<(string Region, IReadOnlyList<Part> Parts)> ByRegion(
        Layout layout,
        IReadOnlyList<Operation> removal
    )
    {
        int Frees(Part part) =>
            removal.ToList().FindIndex(o => o.Frees.Contains(part.Id) || o.TakesOff.Contains(part.Id));
        return
        [
            .. layout
                .Parts.Where(p => p.Wears)
                .Select(p => (Part: p, At: Frees(p)))
                .OrderBy(p => p.At < 0 ? int.MaxValue : p.At)
                .GroupBy(p => p.At < 0 ? "" : removal[p.At].Region)
                .Select(g => (g.Key, (IReadOnlyList<Part>)[.. g.Select(p => p.Part)])),
        ];
    }
}
