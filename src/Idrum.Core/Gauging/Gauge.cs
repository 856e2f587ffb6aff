using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Machines;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Gauging;

/// <summary>Readings into a verdict.</summary>
public static partial class Gauge
{
    /// <summary>P above which it is replaced, and below one less which it is good.</summary>
    public const double Sure = 0.9;

    /// <summary>Share of the way from new to the limit from which a part is watched.</summary>
    public const double WatchFrom = 0.8;

    /// <summary>Most readings of one thing.</summary>
    public const int Most = 64;

    /// <summary>Readings beyond these tell nothing more of one verdict.</summary>
    private const int Enough = 5;

    // A reading speaks for one outcome against another no louder than this: the hand may have held the tool wrong.
    private const double Loudest = 50;

    /// <summary>Judges readings.</summary>
    /// <param name="protocol">How they were taken.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="part">The part; null where the protocol is of the machine.</param>
    /// <param name="readings">As they were taken.</param>
    /// <param name="context">With what.</param>
    /// <returns>The result, or what is wrong with them by field.</returns>
    public static (GaugeResult? Result, IReadOnlyList<FieldError> Errors) Of(
        GaugeProtocol protocol,
        Layout layout,
        Part? part,
        IReadOnlyList<GaugeReading> readings,
        GaugeContext context
    )
    {
        var errors = new FieldErrors();
        errors.If(readings.Count == 0, "readings", "No reading yet.");
        errors.If(readings.Count > Most, "readings", $"{Most} readings at most.");
        errors.If(!protocol.On(layout), "protocol", "This machine has nothing that is measured so.");
        errors.If(
            !protocol.Whole && (part is null || !protocol.PartsOf(layout).Contains(part)),
            "partId",
            $"Of which part? {string.Join(", ", protocol.PartsOf(layout).Select(p => p.Id))}."
        );
        if (errors.All.Count > 0)
        {
            return (null, errors.All);
        }
        var taken = new List<Reading>();
        for (var i = 0; i < readings.Count; i++)
        {
            if (Check(protocol, layout, part, readings[i], context, $"readings/{i}", errors) is { } reading)
            {
                taken.Add(reading);
            }
        }
        errors.If(
            context.Earlier is { } e && (!(e.Hours > 0) || !double.IsFinite(e.Value) || !double.IsFinite(e.Hours)),
            "earlier",
            "An earlier reading has its value and the hours of use since, above zero."
        );
        if (errors.All.Count > 0)
        {
            return (null, errors.All);
        }
        var task = new Task(
            protocol,
            layout,
            part,
            taken,
            context,
            context.Book.InstrumentOf(protocol, context.Instrument),
            errors
        );
        var result = protocol.Reduce switch
        {
            Reduction.Belt => Belt(task),
            Reduction.Windings => Windings(task),
            Reduction.Outlet => Outlet(task),
            Reduction.RimGap => Gap(task),
            Reduction.RimAxial => Tilt(task),
            Reduction.Stretch => Stretch(task),
            Reduction.Torque => Torque(task),
            Reduction.Air => Air(task),
            _ => Plain(task),
        };
        return errors.All.Count > 0 ? (null, errors.All) : (result, []);
    }

    /// <summary>For one reading of a thing that is judged by it alone: up to where it is good, from where it is beyond, in
    /// the tool's unit, so that a device without a link can say so; null where only the shop can reckon it.</summary>
    /// <param name="protocol">How it is measured.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="tool">With what.</param>
    /// <param name="own">A limit set instead of the layout's; null for that.</param>
    public static (double Good, double Beyond)? Thresholds(
        GaugeProtocol protocol,
        Layout layout,
        Part? part,
        Instrument tool,
        double? own = null
    )
    {
        if (protocol.Reduce is not (Reduction.Mean or Reduction.Lever) || protocol.LimitOf(part) is not { } limit)
        {
            return null;
        }
        var lever =
            protocol.Reduce == Reduction.Lever && layout.Drive.Levers is { } l ? l.RimToRestMm / l.BearingToRestMm : 1;
        var at = (own ?? limit.Worn) * lever;
        var one = GaugeMath.Mean([at], tool);
        var guard = one.U * StudentT.InvCDF(0, 1, Math.Max(1, one.Freedom), Sure);
        var up = limit.Worn > limit.New ? 1 : -1;
        // Sure to be within the limit, and not so far gone that it is watched (as Judge has it).
        var watched = (limit.New + WatchFrom * ((own ?? limit.Worn) - limit.New)) * lever - up * 1e-9;
        var sure = at - up * guard;
        return (up > 0 ? Math.Min(sure, watched) : Math.Max(sure, watched), at + up * guard);
    }

    /// <summary>Whether one reading can be what it says it is; messages name the field under a place.</summary>
    public static IReadOnlyList<FieldError> CheckOne(
        GaugeProtocol protocol,
        Layout layout,
        Part? part,
        GaugeReading reading,
        GaugeContext context
    )
    {
        var errors = new FieldErrors();
        Check(protocol, layout, part, reading, context, "", errors);
        return errors.All;
    }

    private sealed record Reading(double Value, GaugePosition At, double? DrumDeg, bool Open, double ClockDeg);

    private sealed record Task(
        GaugeProtocol Protocol,
        Layout Layout,
        Part? Part,
        IReadOnlyList<Reading> Readings,
        GaugeContext Context,
        Instrument Tool,
        FieldErrors Errors
    )
    {
        public IReadOnlyList<double> At(string position) =>
            [.. Readings.Where(r => r.At.Id == position && !r.Open).Select(r => r.Value)];

        public Measured? Mean(string position) =>
            At(position) is { Count: > 0 } values ? GaugeMath.Mean(values, Tool) : null;

        // Places of readings that do not fit the others at the same position.
        public IReadOnlyList<int> Odd =>
            [
                .. Readings
                    .Select((r, i) => (r, i))
                    .Where(r => !r.r.Open)
                    .GroupBy(r => r.r.At.Id)
                    .SelectMany(g =>
                    {
                        var same = g.ToList();
                        return GaugeMath.Outliers([.. same.Select(r => r.r.Value)], Tool).Select(k => same[k].i);
                    })
                    .Order(),
            ];

        // The position that is needed and was not read yet.
        public GaugePosition? Lacks =>
            Protocol.Positions.FirstOrDefault(p => !p.Optional && Readings.All(r => r.At.Id != p.Id));
    }

    private static Reading? Check(
        GaugeProtocol protocol,
        Layout layout,
        Part? part,
        GaugeReading reading,
        GaugeContext context,
        string under,
        FieldErrors errors
    )
    {
        string Field(string name) => under.Length > 0 ? $"{under}/{name}" : name;
        var tool = context.Book.InstrumentOf(protocol, context.Instrument);
        var clock = 0.0;
        GaugePosition? position;
        if (protocol.Round)
        {
            if (RimGap.ClockDeg(reading.At) is not { } degrees)
            {
                errors.Add(Field("at"), "Where on the clock? 12:00, 1:30, 3:00 and so on.");
                return null;
            }
            clock = degrees;
            position = protocol.Positions.FirstOrDefault(p => RimGap.ClockDeg(p.Id) == degrees)
                ?? protocol.Positions[0];
            if (reading.DrumDeg is { } drum && !(drum is >= -360 and <= 720))
            {
                errors.Add(Field("drumDeg"), "How far was the drum turned on? 0 to 360 degrees.");
                return null;
            }
        }
        else
        {
            position = protocol.Positions.FirstOrDefault(p => p.Id == reading.At);
            if (position is null && reading.At.Length == 0)
            {
                position = protocol.Positions[0];
            }
            if (position is null)
            {
                errors.Add(
                    Field("at"),
                    $"Where was it read? {string.Join(", ", protocol.Positions.Select(p => p.Id))}."
                );
                return null;
            }
        }
        var unit = position.Unit.Length > 0 ? position.Unit : tool.Unit;
        if (reading.Open)
        {
            if (protocol.Reduce != Reduction.Windings)
            {
                errors.Add(Field("open"), "Only a resistance can be open.");
                return null;
            }
            return new(double.PositiveInfinity, position, reading.DrumDeg, true, clock);
        }
        if (!double.IsFinite(reading.Value))
        {
            errors.Add(Field("value"), "A number, as the tool shows it.");
            return null;
        }
        if (GaugeUnits.Convert(reading.Value, reading.Unit.Length > 0 ? reading.Unit : unit, unit) is not { } value)
        {
            errors.Add(
                Field("unit"),
                $"'{FieldErrors.Short(reading.Unit)}' is no unit of it: {string.Join(", ", GaugeUnits.Like(unit))}."
            );
            return null;
        }
        var (low, high, is_) = Bounds(protocol, layout, part, position, unit);
        if (!(value >= low && value <= high))
        {
            errors.Add(
                Field("value"),
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{is_}: {value:0.##} {GaugeUnits.Written(unit)} cannot be it. {low:0.##} to {high:0.##} {GaugeUnits.Written(unit)} are taken; is it the right unit?"
                )
            );
            return null;
        }
        return new(value, position, reading.DrumDeg, false, clock);
    }

    /// <summary>What a reading can be at all, and in words what it is of: a device without a link refuses by it what nobody reads.</summary>
    /// <param name="protocol">How it is measured.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="part">The part; null for the machine.</param>
    /// <param name="position">Where.</param>
    /// <param name="unit">Unit of that place: the position's, else the tool's.</param>
    /// <returns>Least and greatest, in that unit.</returns>
    public static (double Low, double High, string Is) Bounds(
        GaugeProtocol protocol,
        Layout layout,
        Part? part,
        GaugePosition position,
        string unit
    )
    {
        var drive = layout.Drive;
        if (protocol.Reduce == Reduction.Range && drive.Rollers.FirstOrDefault(r => r.Part == part?.Id) is { } roller)
        {
            return (
                roller.DiameterMm * 0.8,
                roller.DiameterMm * 1.05,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"This roller is {roller.DiameterMm:0.#} mm across when new"
                )
            );
        }
        if (protocol.Reduce == Reduction.Range)
        {
            return (10, 200, "A roller is some centimetres across");
        }
        if (protocol.Reduce == Reduction.Belt)
        {
            var belt = drive.Belt;
            return position.Id switch
            {
                "length" => (
                    belt.LengthMm * 0.85,
                    belt.LengthMm * 1.15,
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"The belt of this machine is {belt.LengthMm:0} mm long"
                    )
                ),
                "ribs" => (1, 20, "A belt has a few ribs"),
                "width" => (2, 60, "A belt is some millimetres wide"),
                _ => (0.5, 15, "A belt is some millimetres thick"),
            };
        }
        if (protocol.Reduce == Reduction.Capacitor)
        {
            return position.Id == "volts"
                ? (0, 500, "Volts left on it")
                : (0, 200, "A run capacitor has some microfarads");
        }
        if (protocol.Reduce is Reduction.Amps && position.Id == "label")
        {
            return (0.2, protocol.High, "The label names some amperes");
        }
        return (protocol.Low, protocol.High, $"{protocol.Name}, {position.Name.Inside()}");
    }

    // Beyond, near or good by one number that grows or falls towards a limit.
    private static GaugeResult Judge(
        Task task,
        List<NamedValue> values,
        GaugeLimit limit,
        Dictionary<string, (double Low, double High)> bands,
        IReadOnlyList<int> outliers,
        string next = "",
        IReadOnlyList<string>? speaks = null
    )
    {
        var q = values[0].Measured;
        if (task.Context.Limit is { } own)
        {
            limit = limit with { Worn = own };
        }
        var up = limit.Worn > limit.New;
        var p = up ? 1 - GaugeMath.Below(q, limit.Worn) : GaugeMath.Below(q, limit.Worn);
        var share = (q.Value - limit.New) / (limit.Worn - limit.New);
        var verdict =
            p >= Sure ? GaugeVerdict.Replace
            : p > 1 - Sure || share >= WatchFrom ? GaugeVerdict.Watch
            : GaugeVerdict.Good;
        var guard = q.U * (q.Freedom > 1e6 ? 1.2816 : StudentT.InvCDF(0, 1, Math.Max(1, q.Freedom), Sure));
        var left = task.Context.Earlier is { } earlier
            ? GaugeMath.Left(q, new(earlier.Value, q.Unit, earlier.U ?? q.U), earlier.Hours, limit.Worn)
            : null;
        if (next.Length == 0 && p is > 1 - Sure and < Sure && task.Readings.Count < Enough)
        {
            // One more of the same: would it be sure then? Only the hand's part of the uncertainty shrinks.
            var n = task.Readings.Count / (double)task.Readings.Select(r => r.At.Id).Distinct().Count();
            var (hand, tool) = (GaugeMath.Varying(task.Tool) / n, GaugeMath.Lasting(task.Tool));
            var closer = q with { U = q.U * Math.Sqrt(1 - hand / (hand + tool) / (n + 1)) };
            var then = up ? 1 - GaugeMath.Below(closer, limit.Worn) : GaugeMath.Below(closer, limit.Worn);
            next =
                then is >= Sure or <= 1 - Sure ? "One more reading would settle it."
                : task.Readings.Count < 3 ? "Read it again: three are usual."
                : "";
        }
        var raw = bands.ToDictionary(b => b.Key, b => GaugeMath.Within(q, b.Value.Low, b.Value.High));
        var most = Math.Max(1e-300, raw.Values.DefaultIfEmpty(0).Max());
        var likelihoods = raw.ToDictionary(b => b.Key, b => Math.Max(1 / Loudest, b.Value / most));
        var factor = Factor(q, limit);
        return new()
        {
            Protocol = task.Protocol,
            Part = task.Part,
            Values = values,
            Limit = limit,
            Probability = p,
            Verdict = verdict,
            GuardBand = guard,
            Say = Sentence(verdict, p, q, limit, left),
            NextReading = next,
            HoursLeft = left,
            Likelihoods = likelihoods,
            SpeaksFor = [.. (speaks ?? (task.Part is { } part ? [part.Id] : [])).Select(id => (id, factor))],
            Outliers = outliers,
        };
    }

    // How many times likelier worn than good: good spread evenly from new to the limit, worn as far again beyond it.
    private static double Factor(Measured q, GaugeLimit limit)
    {
        var (low, high) = (Math.Min(limit.New, limit.Worn), Math.Max(limit.New, limit.Worn));
        var span = high - low;
        var good = GaugeMath.Within(q, low, high);
        var worn =
            limit.Worn > limit.New
                ? GaugeMath.Within(q, high, high + span)
                : GaugeMath.Within(q, Math.Max(0, low - span), low);
        // Beyond both spans the nearer one counts.
        if (good + worn < 1e-9)
        {
            return (q.Value > limit.Worn) == (limit.Worn > limit.New) ? Loudest : 1 / Loudest;
        }
        return Math.Clamp(worn / Math.Max(good, 1e-12), 1 / Loudest, Loudest);
    }

    private static string Sentence(
        GaugeVerdict verdict,
        double p,
        Measured q,
        GaugeLimit limit,
        (double Hours, double Low, double High)? left
    )
    {
        var culture = CultureInfo.InvariantCulture;
        var tenths = Math.Round(p * 10);
        var sure = p >= 0.95 ? "almost surely" : string.Create(culture, $"{tenths:0} in 10");
        var unit = GaugeUnits.Written(limit.Unit);
        return verdict switch
        {
            GaugeVerdict.Replace => string.Create(
                culture,
                $"Worn, {sure}: {q} against a limit of {limit.Worn:0.##} {unit}."
            ),
            GaugeVerdict.Good => string.Create(culture, $"Good: {q}; the limit is {limit.Worn:0.##} {unit}."),
            _ => left is { } l
                ? string.Create(
                    culture,
                    $"Watch: {q}, the limit of {limit.Worn:0.##} {unit} in some {l.Hours:0} hours of use{(double.IsFinite(l.High) ? string.Create(culture, $" ({l.Low:0} to {l.High:0})") : string.Create(culture, $" ({l.Low:0} at least)"))}."
                )
                : string.Create(
                    culture,
                    $"Near: {q} against a limit of {limit.Worn:0.##} {unit}, passed {(p < 0.05 ? "hardly yet" : sure)}."
                ),
        };
    }
}
