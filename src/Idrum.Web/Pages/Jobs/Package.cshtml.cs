using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>A protocol that a device takes along: its readings are kept there raw, and it says by figures of the shop whether one alone
/// is good, near its limit or beyond it.</summary>
/// <param name="Protocol">How it is measured.</param>
/// <param name="Part">On which part; null for the machine.</param>
/// <param name="Tool">With what.</param>
/// <param name="Within">Up to where one reading alone is good, and from where it is beyond; null where only the shop can reckon it.</param>
/// <param name="Units">Units it can be typed in, the usual first.</param>
/// <param name="Action">Where readings go.</param>
/// <param name="Hertz">Mains.</param>
/// <param name="Layout">The machine.</param>
public sealed record AwayGauge(
    GaugeProtocol Protocol,
    Part? Part,
    Instrument Tool,
    (double Good, double Beyond)? Within,
    IReadOnlyList<string> Units,
    string Action,
    int Hertz,
    Layout Layout
)
{
    /// <summary>What a reading at a place can be at all.</summary>
    public (double Low, double High, string Unit, string Is) BoundsAt(GaugePosition position)
    {
        var unit = position.Unit.Length > 0 ? position.Unit : Tool.Unit;
        var (low, high, what) = Gauge.Bounds(Protocol, Layout, Part, position, unit);
        return (low, high, unit, what);
    }

    private const int MostPictures = 3;

    /// <summary>Under which it lies in the package.</summary>
    public string Key => $"gauge:{Protocol.Id}/{Part?.Id}";

    /// <summary>How many of its positions are drawn: a clock's many are alike.</summary>
    public int Pictures => Protocol.Positions.Count <= MostPictures ? MostPictures : 1;
}

/// <summary>What a device takes along to go through the job without a link.</summary>
public sealed class PackageModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    public JobPackage Package { get; private set; } = null!;

    public override async Task<IActionResult> OnGetAsync([FromRoute] string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        if (
            (
                View.Package
                ?? await Services.Gate.RunAsync(stop => JobPackage.Of(View, stop), HttpContext.RequestAborted)
            )
            is not { } package
        )
        {
            return NotFound();
        }
        Package = View.Package = package;
        return Page();
    }

    public override Task<IActionResult> OnPostAsync([FromRoute] string number) =>
        Task.FromResult<IActionResult>(NotFound());

    /// <summary>The job as a device shows it that has no link: its forms get their ids there.</summary>
    public JobPage Away => field ??= Made(new FloorModel(Services), View);

    /// <summary>What can be measured, parts in work first, then the quick.</summary>
    public IEnumerable<AwayGauge> Gauges
    {
        get
        {
            var (layout, book, evidence) = (View.Layout, View.Machine.Handbook.Gauging, View.Evidence);
            return book
                .Protocols.Where(p => p.On(layout))
                .SelectMany(p => (p.Whole ? [null] : p.PartsOf(layout).Cast<Part?>()).Select(part => (p, part)))
                .Where(g => RunningBar.Why(State, View.Machine, evidence, g.p, g.part).Length == 0)
                .OrderBy(g => g.part is { } part && State.Targets.Contains(part.Id) ? 0 : 1)
                .ThenBy(g => g.p.Minutes)
                .Select(g => Gauge(g.p, g.part));
            AwayGauge Gauge(GaugeProtocol p, Part? part)
            {
                var tool = book.InstrumentOf(p, State.Gauged.LastOrDefault(r => r.Protocol == p.Id)?.Instrument ?? "");
                return new(
                    p,
                    part,
                    tool,
                    Core.Gauging.Gauge.Thresholds(
                        p,
                        layout,
                        part,
                        tool,
                        State.GaugeLimits.GetValueOrDefault(new(p.Id, part?.Id ?? ""))?.Limit
                    ),
                    GaugeModel.UnitsOf(p.Positions[0].Unit.Length > 0 ? p.Positions[0].Unit : tool.Unit, Terms.Units),
                    To("gauge"),
                    Terms.MainsHertz,
                    layout
                );
            }
        }
    }

    /// <summary>The floor at a view; null where the view is of Fit.</summary>
    public FloorModel? FloorAt(PackageView view) =>
        view.Step.StartsWith("fit:", StringComparison.Ordinal) || view.Step == "fitted"
            ? null
            : Made(new FloorModel(Services), view.View);

    /// <summary>Fit at a view.</summary>
    public FitModel FitAt(PackageView view) =>
        Made(
            new FitModel(Services)
            {
                InWork = view.Part,
                CoatsAgain = view.Step.EndsWith(":coat", StringComparison.Ordinal),
            },
            view.View
        );

    private T Made<T>(T page, JobView view)
        where T : JobPage
    {
        page.PageContext = PageContext;
        page.Foresee(view);
        return page;
    }
}
