using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

/// <summary>A value that came out, by name.</summary>
/// <param name="Name">In words.</param>
/// <param name="Measured">The value.</param>
public sealed record NamedValue(string Name, Measured Measured);

/// <summary>What a reading says is to be done.</summary>
public enum GaugeVerdict
{
    /// <summary>Nothing: it is within its limit.</summary>
    Good,

    /// <summary>It is looked at again: near the limit, or not sure.</summary>
    Watch,

    /// <summary>It is replaced; of what is no part, handed over or put right.</summary>
    Replace,
}

/// <summary>What readings say.</summary>
public sealed record GaugeResult
{
    /// <summary>The protocol.</summary>
    public required GaugeProtocol Protocol { get; init; }

    /// <summary>The part; null where it is of the machine.</summary>
    public Part? Part { get; init; }

    /// <summary>What came out, the judged quantity first.</summary>
    public required IReadOnlyList<NamedValue> Values { get; init; }

    /// <summary>The limit, in the quantity's unit.</summary>
    public required GaugeLimit Limit { get; init; }

    /// <summary>P(the limit is passed).</summary>
    public required double Probability { get; init; }

    /// <summary>What is to be done.</summary>
    public required GaugeVerdict Verdict { get; init; }

    /// <summary>How far from the limit the value must be for 9 in 10.</summary>
    public double GuardBand { get; init; }

    /// <summary>One sentence.</summary>
    public required string Say { get; init; }

    /// <summary>What to read next; empty where no reading would change the verdict.</summary>
    public string NextReading { get; init; } = "";

    /// <summary>Hours of use left; null where no earlier reading tells.</summary>
    public (double Hours, double Low, double High)? HoursLeft { get; init; }

    /// <summary>Outcome of the check it answers → P(readings | outcome), up to a factor.</summary>
    public IReadOnlyDictionary<string, double> Likelihoods { get; init; } = new Dictionary<string, double>();

    /// <summary>Parts it speaks for: how many times likelier worn than not.</summary>
    public IReadOnlyList<(PartId PartId, double Factor)> SpeaksFor { get; init; } = [];

    /// <summary>Places of readings that do not fit the others.</summary>
    public IReadOnlyList<int> Outliers { get; init; } = [];

    /// <summary>The judged quantity.</summary>
    public Measured Quantity => Values[0].Measured;
}

/// <summary>What a reading is judged with beside the machine.</summary>
/// <param name="Book">Protocols and instruments.</param>
/// <param name="Layouts">All machines of the shop, for a belt that is another's.</param>
/// <param name="MainsHertz">50 or 60 Hz.</param>
public sealed record GaugeContext(GaugingBook Book, IReadOnlyList<Layout> Layouts, int MainsHertz)
{
    /// <summary>Another instrument of the same unit; empty for the protocol's.</summary>
    public string Instrument { get; init; } = "";

    /// <summary>An earlier reading of the same quantity; null where there is none.</summary>
    public EarlierReading? Earlier { get; init; }

    /// <summary>A limit set instead of the layout's, with a reason; null for the layout's.</summary>
    public double? Limit { get; init; }
}
