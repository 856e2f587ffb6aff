using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Money;

namespace Idrum.Core.Machines;

/// <summary>One removal operation and the steps it goes back in.</summary>
public sealed record Operation
{
    /// <summary>Stable id within the layout.</summary>
    public required OperationId Id { get; init; }

    /// <summary>Short name of the step, for lists.</summary>
    public required string Name { get; init; }

    /// <summary>What to do, one action, imperative.</summary>
    public required string Do { get; init; }

    /// <summary>Why, or how, in a second line.</summary>
    public string Why { get; init; } = "";

    /// <summary>What is physically in the way: all groups, one operation of each.</summary>
    public IReadOnlyList<IReadOnlyList<OperationId>> Needs { get; init; } = [];

    /// <summary>What prudence wants done before although nothing blocks: all groups, one of each. Never
    /// mirrored.</summary>
    public IReadOnlyList<IReadOnlyList<OperationId>> First { get; init; } = [];

    /// <summary>Parts that leave the machine.</summary>
    public IReadOnlyList<PartId> TakesOff { get; init; } = [];

    /// <summary>Parts that are loose afterwards but stay.</summary>
    public IReadOnlyList<PartId> Loosens { get; init; } = [];

    /// <summary>Parts that can be replaced afterwards, beside those taken off.</summary>
    public IReadOnlyList<PartId> Frees { get; init; } = [];

    /// <summary>Screws, nuts, rings and clips.</summary>
    public IReadOnlyList<FastenerGroup> Fasteners { get; init; } = [];

    /// <summary>Plugs parted.</summary>
    public IReadOnlyList<Plug> Plugs { get; init; } = [];

    /// <summary>Tools, each with what would do instead.</summary>
    public IReadOnlyList<ToolUse> Tools { get; init; } = [];

    /// <summary>Ties, tape, grease and the like, in words.</summary>
    public IReadOnlyList<string> Consumables { get; init; } = [];

    /// <summary>Which way the part moves.</summary>
    public Motion? Motion { get; init; }

    /// <summary>Where the repairer is: door, behind, left, right, above or slanting.</summary>
    public string View { get; init; } = "door";

    /// <summary>Where the repairer is instead where he came in by another of several ways.</summary>
    public IReadOnlyList<SeenFrom> SeenFrom { get; init; } = [];

    /// <summary>Region id of the machine.</summary>
    public string Region { get; init; } = "";

    /// <summary>What it held up or lets drop when it is free.</summary>
    public string Drops { get; init; } = "";

    /// <summary>What a second person does; empty where one is enough.</summary>
    public string Helper { get; init; } = "";

    /// <summary>Hazard ids, from the safety list.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];

    /// <summary>Time to take out.</summary>
    public required Spread Minutes { get; init; }

    /// <summary>What to photograph, note or keep for the new part before; ticked off in the job.</summary>
    public IReadOnlyList<StepNote> Notes { get; init; } = [];

    /// <summary>What to do when it does not go as planned.</summary>
    public string IfNot { get; init; } = "";

    /// <summary>How it goes back; empty in a file means one step that takes all of its own.</summary>
    public IReadOnlyList<RefitStep> Refit { get; init; } = [];

    /// <summary>What other machines or schools change in this operation; the first that holds counts.</summary>
    public IReadOnlyList<StepChange> Changes { get; init; } = [];

    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>Fasteners that come out, not only loosened.</summary>
    public IEnumerable<FastenerGroup> Removed => Fasteners.Where(f => !f.LoosenOnly);

    /// <summary>The steps it goes back in: those of the file, or the one that takes all of its own.</summary>
    public IReadOnlyList<RefitStep> Steps => Refit.Count > 0 ? Refit : [RefitStep.Whole(this)];

    /// <summary>The step of that id, or null.</summary>
    public RefitStep? FindStep(string id) => Steps.FirstOrDefault(s => s.Id == id);

    /// <summary>Groups that go back in at a step; a step that names none takes those no other names, if it is the only
    /// one.</summary>
    public IEnumerable<FastenerGroup> FastenersOf(RefitStep step) =>
        Several ? Removed.Where(f => step.Fasteners.Contains(f.Id)) : Removed;

    /// <summary>Plugs joined at a step.</summary>
    public IEnumerable<Plug> PlugsOf(RefitStep step) => Several ? Plugs.Where(p => step.Plugs.Contains(p.Id)) : Plugs;

    /// <summary>Whether the file has several steps, each of which says what goes back in it; so on a machine that has
    /// but one of them too.</summary>
    private bool Several => OfSeveral || Refit.Count > 1;

    [System.Text.Json.Serialization.JsonIgnore]
    private bool OfSeveral { get; init; }

    /// <summary>Typical minutes out and in.</summary>
    public double TypicalMinutes => Minutes.Typical + Steps.Sum(s => s.Minutes.Typical);

    /// <summary>As it is seen by who came in by what is open: of a group of ways the first that is open
    /// counts.</summary>
    /// <param name="open">Whether an operation is out, or is to be by then.</param>
    public Operation SeenThrough(Func<OperationId, bool> open) =>
        SeenFrom.FirstOrDefault(s =>
            open(s.Through) && !Needs.Any(g => g.Contains(s.Through) && g.TakeWhile(m => m != s.Through).Any(open))
        )
            is { } seen
            ? this with
            {
                View = seen.View,
            }
            : this;

    /// <summary>As it is where the conditions are decided.</summary>
    internal Operation For(Func<Condition?, bool> holds)
    {
        var change = Changes.FirstOrDefault(c => holds(c.When));
        return this with
        {
            OfSeveral = Several,
            Hazards = [.. Hazards.Union(change?.Hazards ?? [])],
            Do = change?.Do ?? Do,
            Why = change?.Why ?? Why,
            Minutes = change?.Minutes ?? Minutes,
            Helper = change?.Helper ?? Helper,
            Fasteners = [.. Fasteners.Where(f => holds(f.When)).Select(f => f with { When = null })],
            Plugs = [.. Plugs.Where(p => holds(p.When)).Select(p => p with { When = null })],
            Tools = [.. Tools.Where(t => holds(t.When)).Select(t => t with { When = null })],
            Refit = [.. Refit.Where(s => holds(s.When)).Select(s => s.For(holds))],
            Changes = [],
            When = null,
        };
    }
}

/// <summary>One step of the way back.</summary>
public sealed record RefitStep
{
    /// <summary>Id of the one step of an operation that lists none.</summary>
    public const string WholeId = "back";

    /// <summary>Stable id within the operation.</summary>
    public required string Id { get; init; }

    /// <summary>What to do, one action.</summary>
    public required string Do { get; init; }

    /// <summary>The trap or the reason.</summary>
    public string Why { get; init; } = "";

    /// <summary>Time it takes.</summary>
    public required Spread Minutes { get; init; }

    /// <summary>Tools, each with what would do instead.</summary>
    public IReadOnlyList<ToolUse> Tools { get; init; } = [];

    /// <summary>Fastener groups of the operation that go in now.</summary>
    public IReadOnlyList<string> Fasteners { get; init; } = [];

    /// <summary>Plugs of the operation that are joined now.</summary>
    public IReadOnlyList<string> Plugs { get; init; } = [];

    /// <summary>What must be seen before the step counts as done.</summary>
    public IReadOnlyList<RefitCheck> Checks { get; init; } = [];

    /// <summary>Steps (<c>operation/step</c>) that come before, if their operation was removed.</summary>
    public IReadOnlyList<StepRef> After { get; init; } = [];

    /// <summary>Steps (<c>operation/step</c>) that come after, if their operation was removed.</summary>
    public IReadOnlyList<StepRef> Before { get; init; } = [];

    /// <summary>Step of the same operation that it follows at once, with nothing between: what the other leaves hanging or
    /// unheld, this one secures. Empty where anything may come between; binds where that step is on this
    /// machine.</summary>
    public string DirectlyAfter { get; init; } = "";

    /// <summary>Operations that must still be out; they join the plan.</summary>
    public IReadOnlyList<OperationId> StillOut { get; init; } = [];

    /// <summary>Where the repairer is; empty for the place it came out from.</summary>
    public string View { get; init; } = "";

    /// <summary>What a second person does.</summary>
    public string Helper { get; init; } = "";

    /// <summary>Hazard ids.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];

    /// <summary>What to do when it does not go as planned.</summary>
    public string IfNot { get; init; } = "";

    /// <summary>What other machines or schools change in this step; the first that holds counts.</summary>
    public IReadOnlyList<StepChange> Changes { get; init; } = [];

    /// <summary>Only where this holds.</summary>
    public Condition? When { get; init; }

    internal static RefitStep Whole(Operation o) =>
        new()
        {
            Id = WholeId,
            Do = "Put back: " + o.Name,
            Minutes = o.Minutes,
            Tools = o.Tools,
            Fasteners = [.. o.Removed.Select(f => f.Id)],
            Plugs = [.. o.Plugs.Select(p => p.Id)],
        };

    internal RefitStep For(Func<Condition?, bool> holds)
    {
        var change = Changes.FirstOrDefault(c => holds(c.When));
        return this with
        {
            Hazards = [.. Hazards.Union(change?.Hazards ?? [])],
            Do = change?.Do ?? Do,
            Why = change?.Why ?? Why,
            Minutes = change?.Minutes ?? Minutes,
            Helper = change?.Helper ?? Helper,
            Tools = [.. Tools.Where(t => holds(t.When)).Select(t => t with { When = null })],
            Changes = [],
            When = null,
        };
    }
}

/// <summary>What another machine or school changes in a step.</summary>
public sealed record StepChange
{
    /// <summary>Where it holds.</summary>
    public required Condition When { get; init; }

    /// <summary>What to do instead, or null.</summary>
    public string? Do { get; init; }

    /// <summary>The reason instead, or null.</summary>
    public string? Why { get; init; }

    /// <summary>Time instead, or null.</summary>
    public Spread? Minutes { get; init; }

    /// <summary>What a second person does instead, or null.</summary>
    public string? Helper { get; init; }

    /// <summary>Hazards beside those of the step.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];
}

/// <summary>Where the repairer is when he came in by one of several ways.</summary>
/// <param name="Through">The operation he came in by; stands in a group of the needs.</param>
/// <param name="View">door, behind, left, right, above or slanting.</param>
public sealed record SeenFrom(OperationId Through, string View);

/// <summary>A tool, with those that would do instead.</summary>
/// <param name="Any">Tool ids; the first is the usual one.</param>
/// <param name="When">Only where this holds.</param>
[JsonConverter(typeof(ToolUseConverter))]
public sealed record ToolUse(IReadOnlyList<string> Any, Condition? When = null);

/// <summary>What is done before a step so that it goes back as it was.</summary>
public enum NoteKind
{
    /// <summary>A photo is taken.</summary>
    Photo,

    /// <summary>Something is written down or marked.</summary>
    Note,

    /// <summary>A small part is kept for the new one.</summary>
    Transfer,
}

/// <summary>What of a fastener is turned or pulled.</summary>
public enum FastenerHead
{
    /// <summary>A cross.</summary>
    Cross,

    /// <summary>A straight slot.</summary>
    Flat,

    /// <summary>A slotted head.</summary>
    Slot,

    /// <summary>A hexagon.</summary>
    Hex,

    /// <summary>A square.</summary>
    Square,

    /// <summary>A star.</summary>
    Star,

    /// <summary>A nut.</summary>
    Nut,

    /// <summary>A snap ring.</summary>
    Ring,

    /// <summary>A clip.</summary>
    Clip,
}

/// <summary>What is to be photographed, noted or kept before a step, and ticked off.</summary>
/// <param name="Id">Stable id within the layout.</param>
/// <param name="Kind">What is done.</param>
/// <param name="Text">What of.</param>
public sealed record StepNote(string Id, NoteKind Kind, string Text);

/// <summary>Fasteners of one kind at one place.</summary>
public sealed record FastenerGroup
{
    /// <summary>Stable id within the layout.</summary>
    public required string Id { get; init; }

    /// <summary>How many.</summary>
    public required int Count { get; init; }

    /// <summary>What is turned or pulled.</summary>
    public required FastenerHead Head { get; init; }

    /// <summary>Whether it is loosened the other way round.</summary>
    [JsonIgnore]
    public bool IsLeftHand => Thread == "left-hand";

    /// <summary>Driver or wrench size as printed on the tool, e.g. <c>8 mm</c> or <c>5/16 in</c>; may be
    /// empty.</summary>
    public string Size { get; init; } = "";

    /// <summary>Length under the head; 0 where it does not matter.</summary>
    public double LengthMm { get; init; }

    /// <summary>Thread: sheet-metal, machine, left-hand or empty.</summary>
    public string Thread { get; init; } = "";

    /// <summary>Tip: pointed, blunt or empty.</summary>
    public string Tip { get; init; } = "";

    /// <summary>Finish, for telling look-alikes apart.</summary>
    public string Finish { get; init; } = "";

    /// <summary>Where they sit.</summary>
    public required string Where { get; init; }

    /// <summary>Their places in the machine, mm; one each, or one for all.</summary>
    public IReadOnlyList<IReadOnlyList<double>> At { get; init; } = [];

    /// <summary>True where they are only loosened and stay in.</summary>
    public bool LoosenOnly { get; init; }

    /// <summary>How tight, N·m; 0 where the layout states nothing: snug then.</summary>
    public double TorqueNm { get; init; }

    /// <summary>How many stay in by a turn until <see cref="LeftInTill"/>.</summary>
    public int LeftIn { get; init; }

    /// <summary>Operation at which those come out; they lie in the same tray.</summary>
    public OperationId LeftInTill { get; init; } = "";

    /// <summary>Which of the places in <see cref="At"/> those are, counted from 0; empty where the file does not
    /// say.</summary>
    public IReadOnlyList<int> LeftInAt { get; init; } = [];

    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>Those that stayed in, as they come out at <see cref="LeftInTill"/>: their own places where the file
    /// tells them.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public FastenerGroup LeftOnes =>
        this with
        {
            Count = LeftIn,
            At = LeftInAt.Count > 0 ? [.. LeftInAt.Where(k => k < At.Count).Select(k => At[k])] : At,
            LeftIn = 0,
            LeftInTill = "",
            LeftInAt = [],
        };

    /// <summary>The same with more or fewer of them. Places are known for one only then, and one can stay in by a turn
    /// only where there are others.</summary>
    /// <param name="count">How many; at least one.</param>
    public FastenerGroup WithCount(int count) =>
        count == Count
            ? this
            : this with
            {
                Count = count,
                At = At.Count > 1 ? [At[0]] : At,
                LeftIn = LeftIn < count ? LeftIn : 0,
                LeftInTill = LeftIn < count ? LeftInTill : "",
                LeftInAt = [],
            };

    /// <summary>Same to the eye: head, size and finish agree, so they can be swapped by mistake.</summary>
    public bool LooksLike(FastenerGroup other) =>
        Id != other.Id && Head == other.Head && Size == other.Size && Finish == other.Finish;

    /// <summary>Same in every respect: swapping them does no harm.</summary>
    public bool SameKind(FastenerGroup other) =>
        Head == other.Head
        && Size == other.Size
        && Finish == other.Finish
        && Thread == other.Thread
        && LengthMm == other.LengthMm
        && Tip == other.Tip;
}

/// <summary>A plug that is parted.</summary>
/// <param name="Id">Stable id within the layout.</param>
/// <param name="Name">What it feeds.</param>
/// <param name="Wires">Wires by colour, in the order of the terminals.</param>
/// <param name="Where">Where it sits.</param>
/// <param name="LooksLike">Name of a plug it is easily taken for, or empty.</param>
/// <param name="Sticker">Sticker or mark on it, or empty.</param>
/// <param name="Terminals">Names of its terminals, in the order of the wires.</param>
/// <param name="At">Place in the machine, mm.</param>
/// <param name="When">Only on machines where this holds.</param>
public sealed record Plug(
    string Id,
    string Name,
    IReadOnlyList<string> Wires,
    string Where,
    string LooksLike = "",
    string Sticker = "",
    IReadOnlyList<string>? Terminals = null,
    IReadOnlyList<double>? At = null,
    Condition? When = null
);

/// <summary>Kinds of movement.</summary>
public enum MotionKind
{
    /// <summary>Along its bed.</summary>
    Slide,

    /// <summary>Up and away.</summary>
    Lift,

    /// <summary>Over an edge.</summary>
    Tilt,

    /// <summary>Out.</summary>
    Pull,

    /// <summary>Round a hinge, and stays there.</summary>
    Hinge,

    /// <summary>Round its own axis or pivot.</summary>
    Turn,
}

/// <summary>How a part moves out of the machine.</summary>
/// <param name="Text">In words, with the viewpoint.</param>
/// <param name="Kind">What kind of movement it is.</param>
/// <param name="Path">Points of the arrow in mm in the machine's space, at least two; the first on the part.</param>
public sealed record Motion(string Text, MotionKind Kind, IReadOnlyList<IReadOnlyList<double>> Path);

/// <summary>A check made while putting back.</summary>
/// <param name="Id">Stable id within the layout.</param>
/// <param name="Text">What to look for.</param>
public sealed record RefitCheck(string Id, string Text);
