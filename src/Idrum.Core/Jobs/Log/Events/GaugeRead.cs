using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Gauging;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>One reading of a protocol, as the tool showed it. What several say together is worked out from them and the
/// machine.</summary>
/// <param name="Protocol">Protocol id.</param>
/// <param name="PartId">The part; empty where it is of the machine.</param>
/// <param name="Position">Position id; of a rim gap the clock.</param>
/// <param name="Value">The number; null where the circuit is open.</param>
/// <param name="Unit">Its unit; empty for the protocol's.</param>
/// <param name="DrumDeg">How far the drum was turned, degrees clockwise.</param>
/// <param name="Open">The meter showed an open circuit.</param>
/// <param name="Instrument">Instrument id; empty for the protocol's.</param>
/// <param name="MainsHertz">Mains, 50 or 60 Hz; 0 where it does not matter.</param>
public sealed record GaugeRead(
    string Protocol,
    PartId PartId,
    string Position,
    double? Value,
    string Unit = "",
    double? DrumDeg = null,
    bool Open = false,
    string Instrument = "",
    int MainsHertz = 0
) : JobEvent
{
    internal override bool StandsAlone => true;

    internal override ActEffect Effect => new() { Kept = "Read, kept here: {value} {unit}", Beside = true };

    /// <summary>As gauging takes it.</summary>
    internal GaugeReading Reading => new(Value ?? 0, Unit, Position, DrumDeg, Open);

    internal override void Check(JobCheck check)
    {
        var book = check.Machine.Handbook.Gauging;
        if (book.Find(Protocol) is not { } protocol)
        {
            check.Errors.Add("protocol", $"There is no protocol '{FieldErrors.Short(Protocol)}'.");
            return;
        }
        var layout = check.Machine.Layout;
        var part = protocol.Whole ? null : layout.FindPart(PartId);
        check.Errors.If(!protocol.On(layout), "protocol", "This machine has nothing that is measured so.");
        check.Errors.If(
            !protocol.Whole && (part is null || !protocol.PartsOf(layout).Contains(part)),
            "partId",
            $"Of which part? {string.Join(", ", protocol.PartsOf(layout).Select(p => p.Id))}."
        );
        check.Errors.If(Value is null && !Open, "value", "A number, as the tool shows it.");
        check.Errors.If(MainsHertz is not (0 or 50 or 60), "mainsHertz", "The mains have 50 or 60 Hz.");
        if (check.Errors.All.Count == 0)
        {
            foreach (
                var error in Gauge.CheckOne(
                    protocol,
                    layout,
                    part,
                    Reading,
                    new(book, [layout], 50) { Instrument = Instrument }
                )
            )
            {
                check.Errors.Add(error.Pointer == "at" ? "position" : error.Pointer, error.Message);
            }
        }
    }

    internal override JobState Apply(JobState state) => state with { Gauged = state.Gauged.Add(this) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var book = machine.Handbook.Gauging;
        var protocol = book.Find(Protocol);
        var of = machine.Layout.FindPart(PartId)?.Name ?? protocol?.Name ?? Protocol;
        var at = protocol?.Positions.FirstOrDefault(p => p.Id == Position);
        var unit =
            Unit.Length > 0 ? Unit
            : at?.Unit is { Length: > 0 } own ? own
            : protocol is null ? ""
            : book.InstrumentOf(protocol, Instrument).Unit;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{of}, {Wording.Inside(at?.Name ?? Position)}: {(Open ? "open" : string.Create(CultureInfo.InvariantCulture, $"{Value:0.###} {unit}"))}"
        );
    }
}

/// <summary>A limit was set for one part of this machine instead of the layout's, and why.</summary>
/// <param name="Protocol">Protocol id.</param>
/// <param name="PartId">The part; empty where it is of the machine.</param>
/// <param name="Limit">In the quantity's unit; null to go by the layout again.</param>
/// <param name="Reason">Why.</param>
public sealed record GaugeLimitSet(string Protocol, PartId PartId, double? Limit, string Reason) : JobEvent
{
    internal override ActEffect Effect => new() { NeedsShop = true, Beside = true };

    internal override void Check(JobCheck check)
    {
        var protocol = check.Machine.Handbook.Gauging.Find(Protocol);
        check.Errors.If(protocol is null, "protocol", $"There is no protocol '{FieldErrors.Short(Protocol)}'.");
        check.Errors.Text(Reason, "reason", FieldErrors.ShortText, Limit is not null);
        if (Limit is not { } limit || protocol is null)
        {
            return;
        }
        var part = check.Machine.Layout.FindPart(PartId);
        if (protocol.LimitOf(protocol.Whole ? null : part) is not GaugeLimit usual)
        {
            check.Errors.Add("limit", "Its limit follows from the machine and is not set.");
            return;
        }
        check.Errors.If(
            !double.IsFinite(limit) || Math.Sign(limit - usual.New) != Math.Sign(usual.Worn - usual.New),
            "limit",
            string.Create(
                CultureInfo.InvariantCulture,
                $"New is {usual.New:0.##} {usual.Unit}: a limit lies on the worn side of it."
            )
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            GaugeLimits = Limit is null
                ? state.GaugeLimits.Remove(new(Protocol, PartId))
                : state.GaugeLimits.SetItem(new(Protocol, PartId), this),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        Limit is { } limit
            ? string.Create(
                CultureInfo.InvariantCulture,
                $"Limit of {machine.Layout.FindPart(PartId)?.Name ?? Protocol}: {limit:0.###}, {Reason}"
            )
            : $"Limit of {machine.Layout.FindPart(PartId)?.Name ?? Protocol}: the layout's";
}
