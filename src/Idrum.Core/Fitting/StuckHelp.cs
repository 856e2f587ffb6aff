using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>What helps where a kind of thing will not go, gentlest first.</summary>
/// <param name="Thing">What is stuck, in words.</param>
/// <param name="Heads">Heads of fasteners it is for.</param>
/// <param name="Kinds">Kinds of part it is for.</param>
/// <param name="Plugs">Whether it is for plugs.</param>
/// <param name="Ways">What to try, in order of gentleness.</param>
public sealed record StuckHelp(
    string Thing,
    IReadOnlyList<FastenerHead> Heads,
    IReadOnlyList<string> Kinds,
    bool Plugs,
    IReadOnlyList<StuckWay> Ways
)
{
    /// <summary>What may be tried at a step, for each kind of thing that may hold it; nothing that would spoil a part
    /// lying at the step.</summary>
    /// <param name="all">What the shop knows.</param>
    /// <param name="operation">The step.</param>
    /// <param name="layout">The machine.</param>
    public static IReadOnlyList<StuckHelp> At(IReadOnlyList<StuckHelp> all, Operation operation, Layout layout)
    {
        var heads = operation.Fasteners.Select(f => f.Head).ToHashSet();
        var kinds = operation
            .TakesOff.Concat(operation.Frees)
            .Concat(operation.Loosens)
            .Select(p => layout.FindPart(p)?.Kind ?? "")
            .ToHashSet();
        return
        [
            .. all.Where(h =>
                    h.Heads.Any(heads.Contains) || h.Plugs && operation.Plugs.Count > 0 || h.Kinds.Any(kinds.Contains)
                )
                .Select(h => h with { Ways = [.. h.Ways.Where(w => !w.NotBy.Any(kinds.Contains))] }),
        ];
    }
}

/// <summary>One thing to try.</summary>
/// <param name="Do">What is done.</param>
/// <param name="Caution">What must hold before; empty where nothing can be hurt.</param>
public sealed record StuckWay(string Do, string Caution = "")
{
    /// <summary>Kinds of part it would spoil: not tried at a step that has one.</summary>
    public IReadOnlyList<string> NotBy { get; init; } = [];
}
