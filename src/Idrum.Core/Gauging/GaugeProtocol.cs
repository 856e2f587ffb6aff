using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

/// <summary>What is measured with.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">In words.</param>
/// <param name="Unit">Unit it shows.</param>
/// <param name="Resolution">Smallest step it shows.</param>
/// <param name="Error">It may be off by so much either way, all along.</param>
/// <param name="Repeat">Standard deviation of readings of one thing by a usual hand.</param>
public sealed record Instrument(string Id, string Name, string Unit, double Resolution, double Error, double Repeat)
{
    /// <summary>Readings that the usual repeatability stands for.</summary>
    public const double RepeatFreedom = 8;
}

/// <summary>Where a reading is taken.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">Short.</param>
/// <param name="Do">How the tool is held.</param>
public sealed record GaugePosition(string Id, string Name, string Do)
{
    /// <summary>Unit, where it is not the instrument's.</summary>
    public string Unit { get; init; } = "";

    /// <summary>Whether the verdict can do without it.</summary>
    public bool Optional { get; init; }
}

/// <summary>How readings become a quantity.</summary>
public enum Reduction
{
    /// <summary>Their mean.</summary>
    Mean,

    /// <summary>Largest less smallest.</summary>
    Range,

    /// <summary>Half of what two places differ by.</summary>
    HalfDifference,

    /// <summary>Play at a bearing from what a longer arm shows.</summary>
    Lever,

    /// <summary>Pull of a spring at its pin.</summary>
    PinPull,

    /// <summary>Gaps round the rim into sag, eccentricity and roundness.</summary>
    RimGap,

    /// <summary>Depths round the rim into a leaning drum.</summary>
    RimAxial,

    /// <summary>A lining held against its drum.</summary>
    Stretch,

    /// <summary>A pull into a torque.</summary>
    Torque,

    /// <summary>Which belt it is.</summary>
    Belt,

    /// <summary>Drum turns against what the belt would give.</summary>
    Slip,

    /// <summary>Resistances of a motor.</summary>
    Windings,

    /// <summary>A capacitor against its label.</summary>
    Capacitor,

    /// <summary>Current against the label.</summary>
    Amps,

    /// <summary>Voltage at rest and under load.</summary>
    Outlet,

    /// <summary>Air at the hood into a flow.</summary>
    Air,
}

/// <summary>How something is measured and judged.</summary>
public sealed record GaugeProtocol
{
    /// <summary>Stable id.</summary>
    public required string Id { get; init; }

    /// <summary>In words.</summary>
    public required string Name { get; init; }

    /// <summary>Kinds of part it speaks of.</summary>
    public required IReadOnlyList<string> Kinds { get; init; }

    /// <summary>Whether it is taken once of the machine and not of one part.</summary>
    public bool Whole { get; init; }

    /// <summary>capacitor: only where the motor has a run capacitor; empty everywhere.</summary>
    public string When { get; init; } = "";

    /// <summary>Instrument id.</summary>
    public required string Instrument { get; init; }

    /// <summary>How readings become the quantity.</summary>
    public required Reduction Reduce { get; init; }

    /// <summary>What is judged.</summary>
    public required string Quantity { get; init; }

    /// <summary>Limit where the layout has none for the part; null where it follows from the machine.</summary>
    public GaugeLimit? Limit { get; init; }

    /// <summary>Least reading that can be, in the instrument's unit.</summary>
    public double Low { get; init; }

    /// <summary>Greatest reading that can be.</summary>
    public double High { get; init; } = 1e6;

    /// <summary>Minutes it takes.</summary>
    public double Minutes { get; init; } = 2;

    /// <summary>Whether it is read round the rim, at the positions of the clock, at two angles of the drum.</summary>
    public bool Round => Reduce is Reduction.RimGap or Reduction.RimAxial;

    /// <summary>Whether it is more than the usual three readings.</summary>
    public bool Long { get; init; }

    /// <summary>What must be so before.</summary>
    public string Needs { get; init; } = "";

    /// <summary>What to do.</summary>
    public required string Do { get; init; }

    /// <summary>Why.</summary>
    public string Why { get; init; } = "";

    /// <summary>Where it can hurt; empty where it cannot.</summary>
    public string Caution { get; init; } = "";

    /// <summary>Positions in their order.</summary>
    public required IReadOnlyList<GaugePosition> Positions { get; init; }

    /// <summary>The check it answers; empty where it answers none.</summary>
    public string Finding { get; init; } = "";

    /// <summary>Parts of a machine it can be taken of; for one of the machine as a whole those it speaks for.</summary>
    public IReadOnlyList<Part> PartsOf(Layout layout) =>
        When == "capacitor" && layout.Drive.Motor?.CapacitorUf is null
        || Reduce == Reduction.PinPull && layout.Drive.Tensioner.Kind != TensionerKind.SprungArm
            ? []
        // A file that names no capacitor as a part has it at its motor.
        : When == "capacitor" && Kinds.FirstOrDefault(k => layout.Parts.Any(p => p.Kind == k)) is { } kind
            ? [.. layout.Parts.Where(p => p.Kind == kind)]
        : [.. layout.Parts.Where(p => Kinds.Contains(p.Kind))];

    /// <summary>Whether a machine has it.</summary>
    public bool On(Layout layout) => Whole ? Kinds.Count == 0 || PartsOf(layout).Count > 0 : PartsOf(layout).Count > 0;

    /// <summary>The check it answers on a part: shafts at the rear have their own.</summary>
    public string FindingOf(Part? part) =>
        (Finding, part?.Kind) switch
        {
            ("shaft-look", "rear-shaft") => "rear-shaft-look",
            ("arm-feel", "idler-spring") => "spring-length",
            ("capacitor-uf", "motor") => "",
            _ => Finding,
        };

    /// <summary>The limit on a part of a machine; null where it follows from the machine.</summary>
    public GaugeLimit? LimitOf(Part? part) => part?.Limits.FirstOrDefault(l => l.Quantity == Quantity) ?? Limit;
}

/// <summary>All protocols and instruments.</summary>
/// <param name="Instruments">Instruments.</param>
/// <param name="Protocols">Protocols.</param>
public sealed record GaugingBook(IReadOnlyList<Instrument> Instruments, IReadOnlyList<GaugeProtocol> Protocols)
{
    /// <summary>None.</summary>
    public static GaugingBook None { get; } = new([], []);

    /// <summary>The protocol of that id, or null.</summary>
    public GaugeProtocol? Find(string id) => Protocols.FirstOrDefault(p => p.Id == id);

    /// <summary>The instrument of a protocol, or another of the same unit that is named.</summary>
    public Instrument InstrumentOf(GaugeProtocol protocol, string? other = null) =>
        Instruments.FirstOrDefault(i => i.Id == other && i.Unit == Usual(protocol).Unit) ?? Usual(protocol);

    private Instrument Usual(GaugeProtocol protocol) => Instruments.First(i => i.Id == protocol.Instrument);

    /// <summary>What is wrong with it, by field.</summary>
    /// <param name="words">Knows the kinds of part.</param>
    /// <param name="finding">Whether there is a check of that id.</param>
    public IReadOnlyList<FieldError> Check(Vocabulary words, Func<string, bool> finding)
    {
        var errors = new FieldErrors();
        for (var i = 0; i < Instruments.Count; i++)
        {
            errors.If(
                !(Instruments[i] is { Resolution: > 0, Error: >= 0, Repeat: > 0 }),
                $"/instruments/{i}",
                "Resolution and repeatability are above zero."
            );
        }
        for (var i = 0; i < Protocols.Count; i++)
        {
            var p = Protocols[i];
            errors.If(
                Instruments.All(m => m.Id != p.Instrument),
                $"/protocols/{i}/instrument",
                $"There is no instrument '{p.Instrument}'."
            );
            errors.If(p.Positions.Count == 0, $"/protocols/{i}/positions", "Where is it taken?");
            errors.If(
                p.Finding.Length > 0 && !finding(p.Finding),
                $"/protocols/{i}/finding",
                $"There is no finding '{p.Finding}'."
            );
            foreach (var kind in p.Kinds.Where(k => !words.HasPartKind(k)))
            {
                errors.Add($"/protocols/{i}/kinds", $"There is no kind of part '{kind}'.");
            }
        }
        return errors.All;
    }
}
