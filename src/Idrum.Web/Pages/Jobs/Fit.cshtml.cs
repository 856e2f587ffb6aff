using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Supply;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Fit.</summary>
public sealed class FitModel(JobServices services) : JobPage(services)
{
    private static readonly string[] WheelFields = ["motorPrice", "unitPrice", "ratePerHour"];

    private VisitOf? shown;

    /// <summary>The part a foreseen view is of; empty where it is the next one.</summary>
    public string InWork { get; init; } = "";

    /// <summary>Whether a foreseen view is of a second coat.</summary>
    public bool CoatsAgain { get; init; }

    public override Station Shown => Station.Fit;

    /// <summary>The part in work: the one asked for, else the first target nothing was done to.</summary>
    public Part? Part =>
        View.Layout.FindPart(Request.Query["part"].ToString())
        ?? View.Layout.FindPart(InWork)
        ?? State.Targets.Where(t => !State.Fitted.ContainsKey(t)).Select(View.Layout.FindPart).FirstOrDefault();

    /// <summary>The step that took off what the part in work sits on: the picture shows it where it was taken to, not
    /// gone.</summary>
    public IReadOnlyList<Operation> Carrier =>
        Part is { On.IsNone: false } part
            ? [.. View.Layout.Operations.Where(o => o.TakesOff.Contains(part.On) && State.Out.Contains(o.Id)).Take(1)]
            : [];

    public Procedure? Procedure => Part is { } part ? View.Machine.Handbook.For(part, View.Layout) : null;

    /// <summary>How far the part in work is glued; null where it is not begun.</summary>
    public GlueState? Glue => Part is { } part ? State.Glue.GetValueOrDefault(part.Id) : null;

    /// <summary>Temperatures offered, °C: what the shop has set is among them.</summary>
    public IReadOnlyList<double> Warmths =>
        [.. new[] { 5, 8, 10, 12, 15, 18, 20, 22, 25, 28, 32, 36, Services.Glue.Habits.Celsius }.Distinct().Order()];

    /// <summary>Whether the shop reads °F.</summary>
    public bool Fahrenheit => Services.Money.Terms.Fahrenheit;

    /// <summary>How warm it is where the shop works, °C.</summary>
    public double Celsius =>
        double.TryParse(Request.Query["celsius"].ToString(), CultureInfo.InvariantCulture, out var asked)
        && Warmths.Contains(asked)
            ? asked
            : Services.Glue.Habits.Celsius;

    /// <summary>Whether the way of doing it is chosen at the head of the steps: there alone, so that steps, times and what is recorded are of one way.</summary>
    public bool ByWay => !Foreseen && Glue is null && Procedure is { Schools.Count: > 1 };

    /// <summary>Window of a way of doing it, minutes.</summary>
    public BondTimes? TimesOf(School? school, double? celsius = null) =>
        Services.Glue.Habits.Times(View.Machine.Handbook, school, celsius);

    /// <summary>All windows: school → temperature → earliest, latest, press, handling, cure, minutes.</summary>
    public string AllTimes =>
        System.Text.Json.JsonSerializer.Serialize(
            Procedure!
                .Schools.Where(s => s.Adhesive.Length > 0)
                .ToDictionary(
                    s => s.Id,
                    s =>
                        Warmths.ToDictionary(
                            w => w.ToString(CultureInfo.InvariantCulture),
                            w =>
                                TimesOf(s, w) is { } t
                                    ? new[] { t.Earliest, t.Latest, t.Press, t.Handling, t.Cure }
                                        .Select(m => Math.Round(m, 1))
                                        .ToArray()
                                    : []
                        )
                )
        );

    /// <summary>The way shown: the one the part is glued by, else the one asked for, else the usual one.</summary>
    public string School =>
        Glue?.School
        ?? Procedure
            ?.School(
                Request.Query["school"] is [{ Length: > 0 } asked] ? asked : Supplies.WayOf(State, View.Layout, Part!)
            )
            ?.Id
        ?? "";

    /// <summary>Whether the van holds one for the part in work: of a job that is foreseen, when it was taken
    /// along.</summary>
    private bool InVan =>
        Part is { } part && Purchase.OutOfVan(State, View.Layout, part, Services.Money.Supplier, Van) is not null;

    /// <summary>Where the part in work is most likely from.</summary>
    public string UsualSource => Supplies.UsualSource(State, View.Layout, Part!, InVan);

    public override async Task<IActionResult> OnPostAsync(string number)
    {
        if (Request.Form["kind"] != "part-fitted" || !Load(number))
        {
            return await base.OnPostAsync(number);
        }
        var next = LocalAddress.Of(Request.Form["next"].ToString(), Request.Path + Request.QueryString);
        if (
            Request.Form["action"] == PartFitted.AllReplaced
            && Guid.TryParse(Request.Form["id"], out var again)
            && View.Job.History.Knows(again)
        )
        {
            return this.SeeOther(next);
        }
        if (
            View.Layout.FindPart(Request.Form["partId"].ToString()) is not { } part
            || !Guid.TryParse(Request.Form["id"], out var id)
            || View.Job.History.Knows(id)
            || EventForm.Read(Request.Form) is not { Event: PartFitted said }
        )
        {
            return await base.OnPostAsync(number);
        }
        var all = said.Action == PartFitted.AllReplaced;
        var fitted = all ? said with { Action = FittedAs.Replaced } : said;
        var acts = GoesIn.Acts(
            View.Job.History,
            fitted,
            all
                ?
                [
                    .. GoesIn
                        .Twins(State, part, View.Machine)
                        .Select(t => t.Id)
                        .Where(t => Request.Form["twins"].Contains(t.Value)),
                ]
                : [],
            Request.Form["seats"] == "yes" && !View.Stripping,
            View.Machine,
            Services.Money.Supplier,
            Van
        );
        return acts.Count < 2 && !all ? await base.OnPostAsync(number) : await RecordAllAsync(acts, fitted, next);
    }

    /// <summary>Parts that go in the same way with the one in work, by one tap; none without a link.</summary>
    public IReadOnlyList<Part> Twins => !Foreseen && Part is { } part ? GoesIn.Twins(State, part, View.Machine) : [];

    /// <summary>What the new part is held against: of a belt its length, ribs and width, of others the layout's limits;
    /// empty where the layout says nothing.</summary>
    public string Figures => Part is { } part ? PartFigures.Of(part, View.Layout) : "";

    /// <summary>The steps of the way back that are done with twins of the part in work.</summary>
    public IEnumerable<(Operation Operation, RefitStep Step)> TwinSeats =>
        Seats is null ? [] : Twins.Select(SeatOf).OfType<(Operation, RefitStep)>();

    /// <summary>The step of the way back that is done with the part in work, or null.</summary>
    public (Operation Operation, RefitStep Step)? Seats =>
        !Foreseen && Part is { } part && !View.Stripping ? SeatOf(part) : null;

    private (Operation Operation, RefitStep Step)? SeatOf(Part part) =>
        StepForward.Seated(
            State with
            {
                Fitted = State.Fitted.SetItem(part.Id, new(part.Id, FittedAs.Replaced, "", [], "")),
            },
            part,
            View.Machine
        )
            is { } seated
        && View.Layout.FindOperation(seated.OperationId) is { } operation
            ? (operation, operation.FindStep(seated.StepId)!)
            : null;

    /// <summary>Whether the next thing is to coat or to join, not to call it done.</summary>
    public bool Waiting =>
        Procedure is { Glues: true }
        && Glue?.JoinedAt is null
        && View.Machine.Diagnostician.Model.Catalog.FindFault(State.FaultId)?.Action != FaultAction.Clean;

    /// <summary>Whether it is coated once more: the window was missed.</summary>
    public bool Again => CoatsAgain || Request.Query["again"] == "yes" || Form.Is("glue-coated");

    /// <summary>The rest of the visit; null where nothing is left or the job is foreseen.</summary>
    public VisitOf? Visit => shown ??= VisitBy(Way);

    /// <summary>The way that is asked about for the part in work; null where it is begun or none is named.</summary>
    private AskedWay? Way =>
        Part is { } part && Glue is null && Request.Query["school"] is [{ Length: > 0 } school]
            ? new(part.Id, school)
            : null;

    private VisitOf? VisitBy(AskedWay? way) =>
        !Foreseen && Services.Visits.Of(View, Persons, Now, HttpContext.RequestAborted, way) is { } timed
            ? new VisitOf(timed.Visit, View.Layout, timed.At, Persons) { Leave = LeaveTyped, Left = LeftBy(timed) }
            : null;

    private string LeaveTyped => Request.Query["leave"].ToString().Trim();

    /// <summary>What is not done by the time he must leave, and by which other way it would be.</summary>
    private LeftBy? LeftBy(TimedVisit timed)
    {
        if (LeaveTyped.Length == 0)
        {
            return null;
        }
        var (at, error) = Leaving.Read(LeaveTyped, Now, Terms.Zone);
        if (at is not { } leave)
        {
            return new(null, error!.Message, []);
        }
        var leaving = Leaving.Of(timed.Visit, timed.At, leave);
        return new(
            leaving,
            "",
            leaving.Short == 0
            || Part is not { } part
            || Glue is not null
            || Procedure is not { Schools.Count: > 1 } procedure
                ? []
                :
                [
                    .. procedure
                        .Schools.Where(s => s.Id != School)
                        .Select(s =>
                            (
                                s,
                                Services.Visits.Of(
                                    View,
                                    Persons,
                                    Now,
                                    HttpContext.RequestAborted,
                                    new AskedWay(part.Id, s.Id)
                                )
                            )
                        )
                        .Where(x => x.Item2 is { Visit.Broken: "" })
                        .Select(x => (x.s, x.Item2!.At.AddMinutes(x.Item2.Visit.Minutes))),
                ]
        );
    }

    /// <summary>What is best done while the part in work is waited for; null where its own turn has come.</summary>
    public VisitItem? Meanwhile =>
        Visit?.Visit.Items is [{ Start: < 0.5 } first, ..] && first.PartId != Part?.Id ? first : null;

    private int Persons => Request.Query["persons"] == "2" ? 2 : 1;

    /// <summary>What was asked for in the address.</summary>
    public string Asked(string name) => Request.Query[name].ToString().Trim();

    /// <summary>Whether a blower wheel sits on the shaft of what is changed here, and the motor can be had without
    /// it.</summary>
    public bool HasWheel =>
        Part?.Kind is PartKinds.Motor or PartKinds.BlowerWheel
        && View.Layout.Parts.Any(p => p is { Kind: PartKinds.Motor, SoldAs: not SoldAs.Assembly })
        && View.Layout.Parts.Any(p => p.Kind == PartKinds.BlowerWheel);

    /// <summary>Price of the motor alone, by the layout.</summary>
    public double? MotorPrice => View.Layout.Parts.FirstOrDefault(p => p.Kind == PartKinds.Motor)?.Price;

    /// <summary>Small parts that come over from the old one, and those that need not as something bought brings or
    /// replaces them.</summary>
    public (IReadOnlyList<string> Stays, IReadOnlyList<(string Small, string Why)> Falls) Transfer =>
        Supplies.Transfer(Part!, Bought);

    /// <summary>The pieces the part sits among, with what becomes of each.</summary>
    public IReadOnlyList<(StackPiece Piece, PieceFate Fate)> Stack =>
        Part is { Stack.Count: > 0 } part ? PartStack.Of(part, Bought) : [];

    /// <summary>What came for the part, and what the way of fitting it that is shown goes in with.</summary>
    private IReadOnlyList<Core.Supply.Article> Bought =>
        Supplies.GoesInWith(
            State,
            View.Layout,
            Part!,
            School,
            Services.Money.Supplier.For(View.Layout, State.Machine.Tag)
        );

    /// <summary>Motor and blower as one unit, as it is sold for this machine; null where it is not.</summary>
    public Core.Supply.Article? Unit =>
        Services
            .Money.Supplier.For(View.Layout, State.Machine.Tag)
            .FirstOrDefault(a =>
                a.Covers.Count == 2
                && a.Covers.Keys.All(k => View.Layout.FindPart(k)?.Kind is PartKinds.Motor or PartKinds.BlowerWheel)
            );

    /// <summary>Ways in which the part is sold for itself, as coil or ready-built can, the cheapest in money and
    /// minutes first; empty where there are not two.</summary>
    public IReadOnlyList<Core.Supply.WayOfBuying> Ways =>
        Part is null
            ? []
            : Core.Supply.WayOfBuying.Of(
                View.Layout,
                Part,
                Services.Money.Supplier.For(View.Layout, State.Machine.Tag),
                View.Machine.Handbook,
                Services.Money.Terms.RatePerHour
            );

    /// <summary>How seized wheels behave, and on how many of the shop's own that rests.</summary>
    public (WheelOdds Odds, int Tried) WheelsKnown => Services.Money.Wheel;

    /// <summary>The choice asked about; null where none is, or what was typed cannot be.</summary>
    public WheelChoice? Wheel => WheelAsked is { } choice && choice.Check().Count == 0 ? choice : null;

    /// <summary>What cannot be, field by field.</summary>
    public IReadOnlyList<FieldError> WheelWrong =>
        Asked("unitPrice").Length == 0 && Asked("motorPrice").Length == 0
            ? []
            :
            [
                .. WheelFields.Where(n => Number(n) is null).Select(n => new FieldError(n, "A number is needed here.")),
                .. WheelAsked?.Check() ?? [],
            ];

    // Without a link nothing can be asked: what the files and the shop's rate say is worked out beforehand.
    private WheelChoice? WheelAsked =>
        (Foreseen ? MotorPrice : Number("motorPrice")) is { } motor
        && (Foreseen ? Unit?.Price : Number("unitPrice")) is { } unit
        && (Foreseen ? Services.Money.Terms.RatePerHour : Number("ratePerHour")) is { } rate
        && View.Layout.Parts.FirstOrDefault(p => p.Kind == PartKinds.Motor) is { } turned
        && View.Machine.Handbook.For(turned, View.Layout) is { } how
            ? new(motor, unit, how.MinutesOf("motor"), how.MinutesOf("unit"), rate)
            : null;

    private double? Number(string name) => TypedNumber.Read(Asked(name));

    /// <summary>The cause whose why is still to be asked before this part goes in, or null.</summary>
    public Fault? Asks =>
        Part is { } part ? WhyToAsk.Of(State, part.Kind, View.Machine.Diagnostician.Model.Catalog) : null;

    /// <summary>What may stand behind a cause on this machine.</summary>
    public IEnumerable<Fault> Behind(Fault fault) =>
        View.Machine.Diagnostician.Model.Faults.Where(f =>
            f.Id != fault.Id
            && (
                fault.With.Any(w => w.Fault == f.Id && w.Factor > 1)
                || f.With.Any(w => w.Fault == fault.Id && w.Factor > 1)
            )
        );

    /// <summary>Causes found behind others that are not decided yet.</summary>
    public IEnumerable<Fault> BehindFound =>
        State
            .Why.Values.Where(w => w != "none" && State.Found.All(f => f.FaultId != w))
            .Distinct()
            .Select(w => View.Machine.Diagnostician.Model.Catalog.FindFault(w))
            .OfType<Fault>();
}
