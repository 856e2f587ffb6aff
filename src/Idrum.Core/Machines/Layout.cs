using System.Runtime.CompilerServices;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>One kind of machine, as read from a layout file and with its variants resolved: parts, removal operations
/// and how they go back,
/// drive geometry, solids. Lengths are millimetres, times minutes, money the shop's currency. Immutable.</summary>
public sealed record Layout
{
    /// <summary>Most operations of a layout.</summary>
    public const int MostOperations = 256;

    /// <summary>Most refit steps of a layout.</summary>
    public const int MostSteps = 512;

    /// <summary>Most different tools of a layout: sets of tools are bit sets.</summary>
    public const int MostTools = 64;

    /// <summary>Version of the file format that is written.</summary>
    public const int FormatVersion = 3;

    /// <summary>The earliest version that is read, for ever. What a later one added may be left out in it.</summary>
    public const int EarliestVersion = 2;

    /// <summary>File format name; always <c>idrum-layout</c>.</summary>
    public required string Format { get; init; }

    /// <summary>inside-lip or over-collar: where the front of the drum rests, and so which face of felt and glides
    /// wears. Empty where nobody says.</summary>
    public string FrontLoad { get; init; } = "";

    /// <summary>Width of the glued strip of a felt, mm; 0 where nobody says: <see cref="UsualGlueMm"/>.</summary>
    public double GlueWidthMm { get; init; }

    /// <summary>Width of the glued strip where a file says nothing, mm.</summary>
    public const double UsualGlueMm = 40;

    /// <summary>The air it moves; null where nobody says.</summary>
    public AirSpec? Air { get; init; }

    /// <summary>Version of the file format.</summary>
    public required int Version { get; init; }

    /// <summary>Stable id, lower case with hyphens.</summary>
    public required string Id { get; init; }

    /// <summary>Name shown to people.</summary>
    public required string Title { get; init; }

    /// <summary>Key of the arrangement it belongs to.</summary>
    public required string Arrangement { get; init; }

    /// <summary>What sets this arrangement apart, in one line.</summary>
    public required string Summary { get; init; }

    /// <summary>The layout it was made from, or null.</summary>
    public LayoutParent? From { get; init; }

    /// <summary>What can be seen of or asked about the machine.</summary>
    public IReadOnlyList<LayoutFact> Facts { get; init; } = [];

    /// <summary>Where repairers disagree; the first option is the default.</summary>
    public IReadOnlyList<SchoolQuestion> Schools { get; init; } = [];

    /// <summary>Kinds of part, tools and regions of this layout's own, beside the shared vocabulary.</summary>
    public OwnWords? Words { get; init; }

    /// <summary>All parts.</summary>
    public required IReadOnlyList<Part> Parts { get; init; }

    /// <summary>All removal operations, in the order a repairer would list them.</summary>
    public required IReadOnlyList<Operation> Operations { get; init; }

    /// <summary>Places that can be reached in more than one way.</summary>
    public IReadOnlyList<WayIn> Ways { get; init; } = [];

    /// <summary>Pairs of which the mirror falls away on the way back.</summary>
    public IReadOnlyList<NotMirrored> NotMirrored { get; init; } = [];

    /// <summary>Geometry of belt, drum, tensioner and motor.</summary>
    public required DriveGeometry Drive { get; init; }

    /// <summary>Width, height and depth of the machine, mm.</summary>
    public required IReadOnlyList<double> Size { get; init; }

    /// <summary>The machine as solids.</summary>
    public required IReadOnlyList<Solid> Solids { get; init; }

    /// <summary>Pairs of parts whose solids must not run through each other.</summary>
    public IReadOnlyList<IReadOnlyList<PartId>> Apart { get; init; } = [];

    /// <summary>Operations of the file whose condition does not hold on this machine; not in files. They take no act,
    /// and what stood in their way
    /// stands in the way of what needed them.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public IReadOnlyList<Operation> Passed { get; init; } = [];

    /// <summary>The operation of that id, or null.</summary>
    public Operation? FindOperation(OperationId id) => IdIndex<Operation>.Find(Operations, id, static o => o.Id);

    /// <summary>The part of that id, or null.</summary>
    public Part? FindPart(PartId id) => IdIndex<Part>.Find(Parts, id, static p => p.Id);

    /// <summary>The operation that holds a fastener group, or null.</summary>
    public Operation? OwnerOf(string fastenerId) =>
        Operations.FirstOrDefault(o => o.Fasteners.Any(f => f.Id == fastenerId));

    /// <summary>The parts of one of these kinds.</summary>
    public IEnumerable<Part> PartsOfKind(IEnumerable<string> kinds) => Parts.Where(p => kinds.Contains(p.Kind));

    /// <summary>Value of a fact, or null where the layout has no such fact.</summary>
    public string? ValueOf(string factId) => Facts.FirstOrDefault(f => f.Id == factId)?.Value;

    /// <summary>True where the fact holds for this machine; an unnamed fact does not hold.</summary>
    public bool Has(string factId) => ValueOf(factId) == "yes";

    /// <summary>Whether a condition of a file that is no layout holds on this machine; a fact it does not name is not
    /// so.</summary>
    public bool Holds(Condition? when) =>
        when is null || when.Holds(id => ValueOf(id) ?? "no", id => Schools.FirstOrDefault(s => s.Id == id)?.Option.Id);

    /// <summary>Groups counted when an operation is done: its own that come out (less the screw that stays in by a
    /// turn) and those that
    /// stayed in until now.</summary>
    public IEnumerable<(FastenerGroup Group, int Count)> CountedAt(Operation operation) =>
        operation
            .Removed.Select(f =>
                (f, f.LeftIn > 0 && FindOperation(f.LeftInTill) is not null ? f.Count - f.LeftIn : f.Count)
            )
            .Concat(
                LeftIn
                    .GetValue(Operations, static ops =>
                        ops.SelectMany(o => o.Fasteners).Where(f => f.LeftIn > 0).ToLookup(f => f.LeftInTill)
                    )[operation.Id]
                    .Select(f => (f, f.LeftIn))
            );

    /// <summary>Groups of which one stays in, by the operation at which it comes out; hangs on the list, like the index
    /// of ids.</summary>
    private static readonly ConditionalWeakTable<
        IReadOnlyList<Operation>,
        ILookup<OperationId, FastenerGroup>
    > LeftIn = [];

    /// <summary>This layout as it is on one machine and for one repairer: facts that vary are set, schools taken, and
    /// whatever belongs to
    /// conditions that do not hold is left out everywhere. The result has no conditions. An operation that is not here
    /// is passed through
    /// (<see cref="Passed"/>) by what needed nothing else in its stead; in a group with others that are here it is a
    /// way that does not exist.</summary>
    /// <param name="facts">Fact id → value; ids that the layout does not let vary are passed over.</param>
    /// <param name="schools">School id → option; a school not named takes its first option.</param>
    public Layout For(IReadOnlyDictionary<string, string> facts, IReadOnlyDictionary<string, string> schools)
    {
        var set = Facts.Select(f => f.Varies && facts.TryGetValue(f.Id, out var v) ? f with { Value = v } : f).ToList();
        var taken = Schools
            .Select(s =>
                schools.TryGetValue(s.Id, out var o) && s.Options.Any(x => x.Id == o) ? s with { Taken = o } : s
            )
            .ToList();
        bool Holds(Condition? when) =>
            when is null
            || when.Holds(
                id => set.FirstOrDefault(f => f.Id == id)?.Value,
                id => taken.FirstOrDefault(s => s.Id == id)?.Option.Id
            );
        var parts = Parts.Where(p => Holds(p.When)).Select(p => p with { When = null }).ToList();
        var operations = Operations.Where(o => Holds(o.When)).Select(o => o.For(Holds)).ToList();
        var kept = operations.Select(o => o.Id).ToHashSet();
        IReadOnlyList<OperationId> Here(IReadOnlyList<OperationId> group) => [.. group.Where(kept.Contains)];
        // Of a group of which nothing is here its members are passed through.
        IReadOnlyList<IReadOnlyList<OperationId>> InTheWay(IReadOnlyList<IReadOnlyList<OperationId>> groups) =>
            [.. groups.Select(g => Here(g) is { Count: > 0 } here ? here : g)];
        // Prudence asks for nothing that is not here.
        IReadOnlyList<IReadOnlyList<OperationId>> Prudence(IReadOnlyList<IReadOnlyList<OperationId>> groups) =>
            [.. groups.Select(Here).Where(g => g.Count > 0)];
        return this with
        {
            Facts = set,
            Schools = taken,
            Parts = [.. parts.Select(p => p with { SeenAfter = InTheWay(p.SeenAfter) })],
            Operations = [.. operations.Select(o => o with { Needs = InTheWay(o.Needs), First = Prudence(o.First) })],
            Passed =
            [
                .. Passed,
                .. Operations
                    .Where(o => !kept.Contains(o.Id))
                    .Select(o => o with { Needs = InTheWay(o.Needs), When = null }),
            ],
            Ways =
            [
                .. Ways.Select(w => w with { Options = [.. w.Options.Where(kept.Contains)] })
                    .Where(w => w.Options.Count > 1),
            ],
            Solids =
            [
                .. Solids
                    .Where(s => Holds(s.When) && parts.Any(p => p.Id == s.Part))
                    .Select(s => s with { When = null }),
            ],
        };
    }
}

/// <summary>The parent of a variant, pinned.</summary>
/// <param name="Id">Layout id.</param>
/// <param name="Hash">SHA-256 of its resolved text, hexadecimal; empty where any will do.</param>
public sealed record LayoutParent(string Id, string Hash = "");

/// <summary>Something that can be seen or asked: hinged top, belt switch, size of a nut … Question and values stand in
/// the vocabulary.</summary>
/// <param name="Id">Id in the vocabulary of facts.</param>
/// <param name="Value">Value id for this layout, or by default where it varies.</param>
/// <param name="Varies">Whether single machines of this layout differ in it.</param>
/// <param name="Values">Values met on this layout; empty where all of the vocabulary are.</param>
public sealed record LayoutFact(string Id, string Value, bool Varies = false, IReadOnlyList<string>? Values = null);

/// <summary>A matter on which repairers disagree.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Question">The matter, as a question.</param>
/// <param name="Options">What they do; the first is the default.</param>
public sealed record SchoolQuestion(string Id, string Question, IReadOnlyList<School> Options)
{
    /// <summary>Option taken; not in files.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public string Taken { get; init; } = "";

    /// <summary>The option taken, else the default.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public School Option => Options.FirstOrDefault(o => o.Id == Taken) ?? Options[0];
}

/// <summary>One way of doing a thing on which repairers disagree.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What is done.</param>
/// <param name="Why">Why it is the default, or when it is right.</param>
public sealed record School(string Id, string Text, string Why = "")
{
    /// <summary>The adhesive it takes; empty where nothing is glued. For ways of fitting a part.</summary>
    public string Adhesive { get; init; } = "";

    /// <summary>Where it is a way at all; null everywhere. For ways of fitting a part.</summary>
    public PartWhere? Where { get; init; }
}

/// <summary>Words a layout of the shop's own adds to the shared ones.</summary>
public sealed record OwnWords
{
    /// <summary>Kinds of part.</summary>
    public IReadOnlyList<Term> PartKinds { get; init; } = [];

    /// <summary>Tools.</summary>
    public IReadOnlyList<Term> Tools { get; init; } = [];

    /// <summary>Regions.</summary>
    public IReadOnlyList<Term> Regions { get; init; } = [];
}

/// <summary>As what a part is sold.</summary>
public enum SoldAs
{
    /// <summary>One by one.</summary>
    Single,

    /// <summary>All there are of it in the machine together.</summary>
    Set,

    /// <summary>With what it is built into.</summary>
    Assembly,
}

/// <summary>On the way back <paramref name="Operation"/> does not wait-for-room behind <paramref name="Through"/>:
/// although it was reached
/// through it, it may go back when that is back already.</summary>
/// <param name="Operation">Operation id.</param>
/// <param name="Through">Operation id within its closure.</param>
/// <param name="Why">The trap in words.</param>
public sealed record NotMirrored(OperationId Operation, OperationId Through, string Why = "");

/// <summary>A choice between operations that lead to the same place.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Title">The place, as a question.</param>
/// <param name="Options">Operation ids; at least two.</param>
public sealed record WayIn(string Id, string Title, IReadOnlyList<OperationId> Options);

/// <summary>One part of a machine.</summary>
public sealed record Part
{
    /// <summary>Stable id within the layout.</summary>
    public required PartId Id { get; init; }

    /// <summary>Kind, shared by all layouts: belt, drum-roller, front-felt …</summary>
    public required string Kind { get; init; }

    /// <summary>Name in the trade's words.</summary>
    public required string Name { get; init; }

    /// <summary>The part it sits on and leaves with; empty where it stands in the machine.</summary>
    public PartId On { get; init; } = "";

    /// <summary>How many of them there are.</summary>
    public int Count { get; init; } = 1;

    /// <summary>Whether it wears and may be a target.</summary>
    public bool Wears { get; init; }

    /// <summary>The number it is bought and kept by: parts of one number are one thing, whatever each layout says of
    /// price and bag. Empty where nobody states it.</summary>
    public string Article { get; init; } = "";

    /// <summary>Price of one as it is sold, in the shop's currency.</summary>
    public double Price { get; init; }

    /// <summary>Usual life at five loads a week, years; 0 where nobody says.</summary>
    public double LifeYears { get; init; }

    /// <summary>As what it is sold.</summary>
    public SoldAs SoldAs { get; init; }

    /// <summary>Operations after which it can be looked at and touched: all groups, one of each.</summary>
    public IReadOnlyList<IReadOnlyList<OperationId>> SeenAfter { get; init; } = [];

    /// <summary>What is in the bag and what is bought apart.</summary>
    public string SoldWith { get; init; } = "";

    /// <summary>Small parts that come over from the old part.</summary>
    public IReadOnlyList<string> Transfer { get; init; } = [];

    /// <summary>The pieces it sits among, from the outside in, itself among them; empty where there are none.</summary>
    public IReadOnlyList<StackPiece> Stack { get; init; } = [];

    /// <summary>Limits for gauging.</summary>
    public IReadOnlyList<GaugeLimit> Limits { get; init; } = [];

    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }
}

/// <summary>A limit of wear.</summary>
/// <param name="Quantity">What is measured.</param>
/// <param name="Unit">Unit of the figures.</param>
/// <param name="New">As new.</param>
/// <param name="Worn">Where it is to be replaced.</param>
public sealed record GaugeLimit(string Quantity, string Unit, double New, double Worn);

/// <summary>The air a machine moves.</summary>
/// <param name="NominalM3h">At its outlet with a clean screen and an open duct, m³/h.</param>
/// <param name="Blades">Blades of the blower wheel.</param>
public sealed record AirSpec(double NominalM3h, int Blades);
