using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Measuring: what can be measured, one protocol at a time, what the readings say.</summary>
public sealed class GaugeModel(JobServices services, ShopSnapshot shop, IdrumOptions options) : JobPage(services)
{
    public override Station Shown => State.Station > Station.Find ? State.Station : Station.Find;

    /// <summary>Something that can be measured.</summary>
    /// <param name="Protocol">How.</param>
    /// <param name="Part">On which part; null for the machine.</param>
    /// <param name="Likely">How likely it is that this part, or one it speaks for, is at fault.</param>
    /// <param name="Opening">Minutes of opening before it can be reached.</param>
    /// <param name="Set">What was read so far; null where nothing was.</param>
    public sealed record Choice(GaugeProtocol Protocol, Part? Part, double Likely, double Opening, GaugedSet? Set);

    /// <summary>All that can be measured, what tells most for its minutes first.</summary>
    public IReadOnlyList<Choice> Choices { get; private set; } = [];

    /// <summary>What was read, oldest first.</summary>
    public IReadOnlyList<GaugedSet> Sets { get; private set; } = [];

    /// <summary>What is being measured; null where nothing is chosen.</summary>
    public Choice? Chosen { get; private set; }

    public Instrument Tool => View.Machine.Handbook.Gauging.InstrumentOf(Chosen!.Protocol, ToolId);

    /// <summary>The tool in the hand, where it is not the usual one.</summary>
    public string ToolId => Chosen?.Set?.Acts[^1].Instrument ?? "";

    /// <summary>Whether it is read again after the repair.</summary>
    public bool After => Request.Query["after"] == "1" || Chosen?.Set is { After: true };

    /// <summary>Where the next reading goes, by the round of positions and drum angles.</summary>
    public (GaugePosition Position, double? DrumDeg) Next { get; private set; }

    /// <summary>Units in which it can be typed, the shop's own first.</summary>
    public IReadOnlyList<string> Units =>
        UnitsOf(Next.Position.Unit.Length > 0 ? Next.Position.Unit : Tool.Unit, Terms.Units);

    /// <summary>Units like one, the shop's own first.</summary>
    /// <param name="own">The unit of tool or position.</param>
    /// <param name="units">mm or inch, as the shop has it.</param>
    public static IReadOnlyList<string> UnitsOf(string own, string units)
    {
        var like = GaugeUnits.Like(own).Where(u => u is not ("inch" or "lb" or "Ω" or "kΩ" or "MΩ" or "µF")).ToList();
        var usual = own == "mm" && units == LengthUnit.Inch ? "in" : own;
        return [usual, .. like.Where(u => u != usual)];
    }

    /// <summary>The simulated tool's reading of the next place; null where none is simulated.</summary>
    public double? Simulated { get; private set; }

    public string Typed =>
        Form.Is("gauge-read") ? Form.Value("gauge-read", "value")
        : Simulated is { } v ? v.ToString(System.Globalization.CultureInfo.InvariantCulture)
        : "";

    /// <summary>Address of one protocol.</summary>
    public string Of(GaugeProtocol protocol, Part? part) =>
        $"{To("gauge")}?protocol={protocol.Id}{(part is null ? "" : $"&part={Uri.EscapeDataString(part.Id)}")}";

    /// <summary>What is told of the part in the hand without a tool: spun, rocked, looked at; as in the walk-round. None where the
    /// machine runs or is live while it is measured: no hand goes in then.</summary>
    public IReadOnlyList<RoundModel.Look> Looks =>
        Chosen is { Part: { } part, Protocol.Caution.Length: 0 }
            ?
            [
                .. View
                    .Diagnosis.WalkRound.Where(r =>
                        r.PartIds.Contains(part.Id) && !State.Evidence.ContainsKey(r.Finding.Id)
                    )
                    .Select(r => r.Finding)
                    .Concat(
                        State
                            .Seen.Keys.Where(k => k.Part == part.Id)
                            .Select(k => View.Machine.Diagnostician.Model.Catalog.FindFinding(k.Finding)!)
                    )
                    .Distinct()
                    .OrderBy(f => f.Minutes)
                    .Select(f => new RoundModel.Look(part, f, SeenOn(part, f))),
            ]
            : [];

    /// <summary>What the same look told of the part's twins: it is judged beside them.</summary>
    public IEnumerable<(Part Twin, Outcome Seen)> TwinsOf(RoundModel.Look look) =>
        View
            .Layout.PartsOfKind([look.Part.Kind])
            .Where(p => p != look.Part)
            .Select(p => (p, Seen: SeenOn(p, look.Finding)))
            .Where(t => t.Seen is not null)
            .Select(t => (t.p, t.Seen!));

    private Outcome? SeenOn(Part part, Finding finding) =>
        State.Seen.TryGetValue(new(part.Id, finding.Id), out var seen)
            ? finding.Outcomes.FirstOrDefault(o => o.Id == seen)
            : null;

    /// <summary>Why the machine is not run now to measure what was chosen; empty where it may be.</summary>
    public string Barred => Chosen is { } c ? BarOf(c) : "";

    /// <summary>The same of one of those that can be chosen.</summary>
    public string BarOf(Choice of) =>
        RunningBar.Why(State, View.Machine, evidence ??= View.Evidence, of.Protocol, of.Part);

    private IReadOnlyDictionary<string, string>? evidence;

    public string Here => Chosen is { } c ? Of(c.Protocol, c.Part) : To("gauge");

    // What is less likely is not in question.
    private const double InQuestion = 0.15;

    protected override async Task PrepareAsync()
    {
        await base.PrepareAsync();
        await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
        Sets = GaugedSet.Of(State, View.Machine, shop.Layouts, View.Before);
        var layout = View.Layout;
        double Likely(IReadOnlyList<string> kinds) =>
            View.Diagnosis.Causes.Where(c => c.Fault.Kinds.Any(kinds.Contains)).Sum(c => c.Probability);
        // A long one splits what short ones leave together: it comes last unless two kinds of its parts are in question.
        double Whole(GaugeProtocol p) =>
            p.Long && p.Kinds.Count(k => Likely([k]) >= InQuestion) < 2 ? 0 : Likely(p.Kinds) / 2;
        double Opening(GaugeProtocol p, Part? part) =>
            View.Diagnosis.Checks.FirstOrDefault(c => c.Finding.Id == p.FindingOf(part))?.TeardownMinutes ?? 0;
        GaugedSet? Read(GaugeProtocol p, Part? part) =>
            Sets.LastOrDefault(s => s.Protocol.Id == p.Id && s.Part == part);
        Choices =
        [
            .. View
                .Machine.Handbook.Gauging.Protocols.Where(p => p.On(layout))
                .SelectMany(p =>
                    p.Whole
                        ? [new Choice(p, null, Whole(p), Opening(p, null), Read(p, null))]
                        : p.PartsOf(layout)
                            .Select(part => new Choice(
                                p,
                                part,
                                // The size of a new part tells nothing of the fault.
                                p.Reduce == Reduction.Stretch
                                    ? 0
                                    : Likely([part.Kind]),
                                Opening(p, part),
                                Read(p, part)
                            ))
                )
                .OrderByDescending(c => c.Likely / (c.Protocol.Minutes + c.Opening)),
        ];
        var (protocol, of) =
            Request.HasFormContentType && Request.Form.ContainsKey("protocol")
                ? (Request.Form["protocol"].ToString(), Request.Form["partId"].ToString())
                : (Request.Query["protocol"].ToString(), Request.Query["part"].ToString());
        Chosen = Choices.FirstOrDefault(c => c.Protocol.Id == protocol && (c.Part?.Id ?? "") == of)
            ?? Choices.FirstOrDefault(c => c.Protocol.Id == protocol);
        if (Chosen is null)
        {
            return;
        }
        Next =
            After && Chosen.Set is { After: false }
                ? NextOf(Chosen.Protocol, [])
                : NextOf(Chosen.Protocol, Chosen.Set?.Acts ?? []);
        if (
            Request.Query["at"] is [{ Length: > 0 } at]
            && Chosen.Protocol.Positions.FirstOrDefault(p => p.Id == at) is { } asked
        )
        {
            Next = (asked, Next.DrumDeg);
        }
        if (Stands && Request.Query["read"] == "simulated")
        {
            var seed = View.Job.JobId.GetHashCode();
            Simulated = new SimulatedTools(View.Machine, Hidden(seed), seed).Read(
                Chosen.Protocol,
                Chosen.Part,
                Next.Position,
                Next.DrumDeg ?? 0,
                State.Gauged.Count,
                Chosen.Part is { } part && State.Fitted.ContainsKey(part.Id)
            );
        }
    }

    /// <summary>Whether simulated tools stand in: in the demo.</summary>
    public bool Stands => options.Demo && State.Closed is null;

    // What is wrong with the demo's machine: one fault that its complaint allows, the same whatever is answered since.
    private IReadOnlyList<FaultId> Hidden(int seed)
    {
        var told = View.Machine.Diagnostician.Diagnose(
            new(State.Complaints.ToDictionary(c => c, _ => "yes"), [], State.Wear, true, State.Complaints.Count > 0),
            HttpContext.RequestAborted
        );
        var at = new Random(seed).NextDouble() * told.Causes.Sum(c => c.Probability);
        foreach (var cause in told.Causes)
        {
            at -= cause.Probability;
            if (at < 0)
            {
                return [cause.Fault.Id];
            }
        }
        return [];
    }

    private static (GaugePosition, double?) NextOf(GaugeProtocol protocol, IReadOnlyList<GaugeRead> acts)
    {
        if (!protocol.Round)
        {
            var needed = protocol.Positions.Where(p => !p.Optional).ToList();
            int Times(GaugePosition p) =>
                acts.Count(a => a.Position == p.Id || a.Position.Length == 0 && p == protocol.Positions[0]);
            // The one read least often, in their order; what is optional is offered, not asked.
            return (needed.MinBy(Times)!, null);
        }
        foreach (var drum in new[] { 0.0, 135 })
        {
            if (
                protocol.Positions.FirstOrDefault(p => acts.All(a => a.Position != p.Id || (a.DrumDeg ?? 0) != drum)) is
                { } open
            )
            {
                return (open, drum);
            }
        }
        return (protocol.Positions[0], 0);
    }
}
