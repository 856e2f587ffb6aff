namespace Idrum.Core.Machines;

/// <summary>One kind of machine, as read from a layout file: parts, removal operations, drive geometry and drawing.
/// Lengths are millimetres, times minutes, money the shop's currency. Immutable.</summary>
public sealed record Layout
{
    /// <summary>File format name; always <c>idrum-layout</c>.</summary>
    public required string Format { get; init; }
    /// <summary>Version of the file format; this code reads 1.</summary>
    public required int Version { get; init; }
    /// <summary>Stable id, lower case with hyphens.</summary>
    public required string Id { get; init; }
    /// <summary>Name shown to people.</summary>
    public required string Title { get; init; }
    /// <summary>Letter of the arrangement in the field guide's table.</summary>
    public required string Arrangement { get; init; }
    /// <summary>What sets this arrangement apart, in one line.</summary>
    public required string Summary { get; init; }
    /// <summary>What can be seen of or asked about the machine.</summary>
    public IReadOnlyList<LayoutFact> Facts { get; init; } = [];
    /// <summary>All parts.</summary>
    public required IReadOnlyList<Part> Parts { get; init; }
    /// <summary>All removal operations, in the order a repairer would list them.</summary>
    public required IReadOnlyList<Operation> Operations { get; init; }
    /// <summary>Places that can be reached in more than one way.</summary>
    public IReadOnlyList<WayIn> Ways { get; init; } = [];
    /// <summary>Geometry of belt, drum, idler and motor.</summary>
    public required DriveGeometry Drive { get; init; }
    /// <summary>The working drawing.</summary>
    public required Drawing Drawing { get; init; }

    /// <summary>The operation of that id, or null.</summary>
    public Operation? FindOperation(string id) => IdIndex<Operation>.Find(Operations, id, static o => o.Id);

    /// <summary>The part of that id, or null.</summary>
    public Part? FindPart(string id) => IdIndex<Part>.Find(Parts, id, static p => p.Id);

    /// <summary>The parts of one of these kinds.</summary>
    public IEnumerable<Part> PartsOfKind(IEnumerable<string> kinds) => Parts.Where(p => kinds.Contains(p.Kind));

    /// <summary>True where the fact holds for this machine; an unnamed fact does not hold.</summary>
    public bool Has(string factId) => Facts.Any(f => f.Id == factId && f.Value);

    /// <summary>This layout as it is on one machine: facts that vary are set, and operations, plugs and parts that belong
    /// to facts that do not hold are left out everywhere.</summary>
    /// <param name="facts">Fact id → value; ids that the layout does not let vary are passed over.</param>
    public Layout For(IReadOnlyDictionary<string, bool> facts)
    {
        var set = Facts.Select(f => f.Varies && facts.TryGetValue(f.Id, out var v) ? f with { Value = v } : f).ToList();
        bool Holds(Condition? when) => when is null || set.Any(f => f.Id == when.Fact && f.Value) == when.Is;
        var parts = Parts.Where(p => Holds(p.When)).ToList();
        var operations = Operations.Where(o => Holds(o.When)).ToList();
        if (parts.Count == Parts.Count && operations.Count == Operations.Count && set.SequenceEqual(Facts))
        {
            return this;
        }
        var kept = operations.Select(o => o.Id).ToHashSet();
        // A group of which nothing is left asked only for operations this machine does not have.
        IReadOnlyList<IReadOnlyList<string>> Prune(IReadOnlyList<IReadOnlyList<string>> groups) =>
            [.. groups.Select(g => (IReadOnlyList<string>)[.. g.Where(kept.Contains)]).Where(g => g.Count > 0)];
        return this with
        {
            Facts = set,
            Parts = [.. parts.Select(p => p with { SeenAfter = Prune(p.SeenAfter) })],
            Operations = [.. operations.Select(o => o with { Needs = Prune(o.Needs) })],
            Ways = [.. Ways.Select(w => w with { Options = [.. w.Options.Where(kept.Contains)] }).Where(w => w.Options.Count > 1)],
        };
    }
}

/// <summary>Something that can be seen or asked: hinged top, belt switch, gas …</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What the repairer sees.</param>
/// <param name="Value">Whether it holds for this layout, or by default where it varies.</param>
/// <param name="Varies">True where single machines of this layout differ.</param>
public sealed record LayoutFact(string Id, string Text, bool Value, bool Varies = false);

/// <summary>A condition on one fact of the layout.</summary>
/// <param name="Fact">Fact id.</param>
/// <param name="Is">The value it must have.</param>
public sealed record Condition(string Fact, bool Is = true);

/// <summary>A choice between operations that lead to the same place.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Title">The place, as a question.</param>
/// <param name="Options">Operation ids; at least two.</param>
public sealed record WayIn(string Id, string Title, IReadOnlyList<string> Options);

/// <summary>One part of a machine.</summary>
public sealed record Part
{
    /// <summary>Stable id within the layout.</summary>
    public required string Id { get; init; }
    /// <summary>Kind, shared by all layouts: belt, drum-roller, front-felt …</summary>
    public required string Kind { get; init; }
    /// <summary>Name in the trade's words.</summary>
    public required string Name { get; init; }
    /// <summary>How many of them there are.</summary>
    public int Count { get; init; } = 1;
    /// <summary>Whether it wears and may be a target.</summary>
    public bool Wears { get; init; }
    /// <summary>Price of one, in the shop's currency.</summary>
    public double Price { get; init; }
    /// <summary>Operations after which it can be looked at and touched: all groups, one of each.</summary>
    public IReadOnlyList<IReadOnlyList<string>> SeenAfter { get; init; } = [];
    /// <summary>What it is sold with, and what must come over from the old one.</summary>
    public string SoldWith { get; init; } = "";
    /// <summary>Small parts that come over from the old part.</summary>
    public IReadOnlyList<string> Transfer { get; init; } = [];
    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }
}
