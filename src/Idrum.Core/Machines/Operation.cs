namespace Idrum.Core.Machines;

/// <summary>One removal operation and its refit.</summary>
public sealed record Operation
{
    /// <summary>Stable id within the layout.</summary>
    public required string Id { get; init; }
    /// <summary>Short name of the step, for lists.</summary>
    public required string Name { get; init; }
    /// <summary>What to do, one action, imperative.</summary>
    public required string Do { get; init; }
    /// <summary>Why, or how, in a second line.</summary>
    public string Why { get; init; } = "";
    /// <summary>Operations that come first: all groups, one of each group.</summary>
    public IReadOnlyList<IReadOnlyList<string>> Needs { get; init; } = [];
    /// <summary>Parts that leave the machine.</summary>
    public IReadOnlyList<string> TakesOff { get; init; } = [];
    /// <summary>Parts that are loose afterwards but stay.</summary>
    public IReadOnlyList<string> Loosens { get; init; } = [];
    /// <summary>Parts that can be replaced afterwards, beside those taken off.</summary>
    public IReadOnlyList<string> Frees { get; init; } = [];
    /// <summary>Screws, nuts, rings and clips.</summary>
    public IReadOnlyList<FastenerGroup> Fasteners { get; init; } = [];
    /// <summary>Plugs parted.</summary>
    public IReadOnlyList<Plug> Plugs { get; init; } = [];
    /// <summary>Tool ids, from the tool list.</summary>
    public IReadOnlyList<string> Tools { get; init; } = [];
    /// <summary>Which way the part moves.</summary>
    public Motion? Motion { get; init; }
    /// <summary>What it carries and what drops when it is free.</summary>
    public string Drops { get; init; } = "";
    /// <summary>Persons needed.</summary>
    public int Persons { get; init; } = 1;
    /// <summary>Hazard ids, from the safety list.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];
    /// <summary>Typical time, out and in.</summary>
    public required OperationTime Minutes { get; init; }
    /// <summary>What to photograph or note first.</summary>
    public string Note { get; init; } = "";
    /// <summary>What to do when it does not go as planned.</summary>
    public string IfNot { get; init; } = "";
    /// <summary>How it goes back.</summary>
    public required Refit Refit { get; init; }
    /// <summary>Where repairers disagree; the first is the default.</summary>
    public IReadOnlyList<School> Schools { get; init; } = [];
    /// <summary>Only on machines where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>Fasteners that come out, not only loosened.</summary>
    public IEnumerable<FastenerGroup> Removed => Fasteners.Where(f => !f.LoosenOnly);
}

/// <summary>Fasteners of one kind at one place.</summary>
public sealed record FastenerGroup
{
    /// <summary>Stable id within the layout.</summary>
    public required string Id { get; init; }
    /// <summary>How many.</summary>
    public required int Count { get; init; }
    /// <summary>Drive: cross, hex, square, star, nut, ring, clip, slot.</summary>
    public required string Head { get; init; }
    /// <summary>Driver or wrench size as printed on the tool, e.g. <c>8 mm</c> or <c>5/16 in</c>; may be empty.</summary>
    public string Size { get; init; } = "";
    /// <summary>Length under the head; 0 where it does not matter.</summary>
    public double LengthMm { get; init; }
    /// <summary>Thread: sheet-metal, machine, left-hand or empty.</summary>
    public string Thread { get; init; } = "";
    /// <summary>Finish, for telling look-alikes apart.</summary>
    public string Finish { get; init; } = "";
    /// <summary>Where they sit.</summary>
    public required string Where { get; init; }
    /// <summary>True where they are only loosened and stay in.</summary>
    public bool LoosenOnly { get; init; }

    /// <summary>Same to the eye: head, size and finish agree, so they can be swapped by mistake.</summary>
    public bool LooksLike(FastenerGroup other) =>
        Id != other.Id && Head == other.Head && Size == other.Size && Finish == other.Finish;

    /// <summary>Same in every respect: swapping them does no harm.</summary>
    public bool SameKind(FastenerGroup other) =>
        Head == other.Head && Size == other.Size && Finish == other.Finish && Thread == other.Thread && LengthMm == other.LengthMm;
}

/// <summary>A plug that is parted.</summary>
/// <param name="Id">Stable id within the layout.</param>
/// <param name="Name">What it feeds.</param>
/// <param name="Wires">Wires by colour, in the order of the terminals.</param>
/// <param name="Where">Where it sits.</param>
/// <param name="LooksLike">Name of a plug it is easily taken for, or empty.</param>
public sealed record Plug(string Id, string Name, IReadOnlyList<string> Wires, string Where, string LooksLike = "");

/// <summary>How a part moves out of the machine.</summary>
/// <param name="Text">In words, with the viewpoint.</param>
/// <param name="View">side or front.</param>
/// <param name="Kind">slide, lift, tilt, pull, hinge or turn.</param>
/// <param name="Path">Points of the arrow in mm on the drawing, at least two.</param>
public sealed record Motion(string Text, string View, string Kind, IReadOnlyList<IReadOnlyList<double>> Path);

/// <summary>Time of an operation.</summary>
/// <param name="Out">To take out.</param>
/// <param name="In">To put back.</param>
public sealed record OperationTime(Spread Out, Spread In);

/// <summary>A time with its spread, minutes.</summary>
/// <param name="Low">One in ten is faster.</param>
/// <param name="Typical">The usual time; what planning adds up.</param>
/// <param name="High">One in ten is slower.</param>
public readonly record struct Spread(double Low, double Typical, double High)
{
    /// <summary>Adds two independent steps. Typical times add; the distances to low and high add in squares
    /// (independent deviations), which is narrower than adding ends.</summary>
    public static Spread operator +(Spread a, Spread b)
    {
        var typical = a.Typical + b.Typical;
        return new(
            typical - double.Hypot(a.Typical - a.Low, b.Typical - b.Low),
            typical,
            typical + double.Hypot(a.High - a.Typical, b.High - b.Typical));
    }

    /// <summary>Adds two independent steps; see the operator.</summary>
    public static Spread Add(Spread left, Spread right) => left + right;
}

/// <summary>How an operation is undone.</summary>
public sealed record Refit
{
    /// <summary>What to do, one action.</summary>
    public required string Do { get; init; }
    /// <summary>The trap or the reason.</summary>
    public string Why { get; init; } = "";
    /// <summary>What must be seen before the step counts as done.</summary>
    public IReadOnlyList<RefitCheck> Checks { get; init; } = [];
    /// <summary>Operations whose refit must come after this one, although removal does not say so or says the contrary.</summary>
    public IReadOnlyList<string> Before { get; init; } = [];
}

/// <summary>A check made while putting back.</summary>
/// <param name="Id">Stable id within the layout.</param>
/// <param name="Text">What to look for.</param>
public sealed record RefitCheck(string Id, string Text);

/// <summary>One way of doing a thing on which repairers disagree.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What is done.</param>
/// <param name="Why">Why it is the default, or when it is right.</param>
public sealed record School(string Id, string Text, string Why = "");
