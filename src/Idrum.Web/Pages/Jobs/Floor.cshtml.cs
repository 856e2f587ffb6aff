using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;
using Idrum.Web.Drawing;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Floor mode: one step fills the screen, while stripping and while rebuilding.</summary>
public sealed class FloorModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Rebuilding ? Station.Rebuild : Station.Strip;

    /// <summary>True where the machine goes together again.</summary>
    public bool Rebuilding => State.Station >= Station.Rebuild || !View.Stripping && State.Station == Station.Fit;

    /// <summary>Where no step is left the page that comes next is shown at once.</summary>
    public override async Task<IActionResult> OnGetAsync(string number)
    {
        var shown = await base.OnGetAsync(number);
        return shown is PageResult && OnFloor is null && View.Odd.Count == 0 ? LocalRedirect(Onward.Address) : shown;
    }

    /// <summary>What comes after the floor: the parts where it is open far enough, the proof where all is back and
    /// nothing else is open; else what hinders.</summary>
    public (string Address, string Words) Onward =>
        !Rebuilding
            ? View.Stripping || State.Targets.Count == 0
                ? (To("strip"), "To Strip")
                : (To("fit"), "On to Fit")
            : View.Open.Any(o => o.Station is Station.Fit or Station.Rebuild) || View.Ledger.Remarks.Any()
                ? (To("rebuild"), "To Rebuild: something is open")
                : (To("prove"), "On to Prove");

    /// <summary>The step in work, or null where there is none.</summary>
    public FloorStep? Current =>
        Rebuilding
            ? NextIn is { } next
                ? new(next.Move.Operation, next.Move)
                : null
            : View.Stripping && State.SafeBy.Length > 0
                ? new(View.Plan!.Removal[0], null)
                : null;

    /// <summary>What the step in work waits for: a part that is not in, glue that does not bear it.</summary>
    public IReadOnlyList<WayBackWait> Waits => LookedAt is null && Rebuilding ? NextIn?.Waits ?? [] : [];

    /// <summary>Steps behind, in the order they were done: looked back at, nothing changes.</summary>
    public IReadOnlyList<FloorStep> Earlier =>
        Rebuilding
            ?
            [
                .. View
                    .Job.History.Effective.SelectMany(Back)
                    .Where(m => !View.Refit.Any(r => r.Ref == m.Ref))
                    .DistinctBy(m => m.Ref)
                    .Select(m => new FloorStep(m.Operation, m)),
            ]
            : [.. State.Out.Select(View.Layout.FindOperation).OfType<Operation>().Select(o => new FloorStep(o, null))];

    private IEnumerable<RefitMove> Back(JobEvent e) =>
        e switch
        {
            StepRefitted s when View.Layout.FindOperation(s.OperationId) is { } o && o.FindStep(s.StepId) is { } step =>
                [new(o, step)],
            OperationRefitted r when View.Layout.FindOperation(r.OperationId) is { } o => o.Steps.Select(
                step => new RefitMove(o, step)
            ),
            _ => [],
        };

    /// <summary>The earlier step looked back at, or null.</summary>
    public FloorStep? LookedAt =>
        Request.Query["look"].ToString() is { Length: > 0 } key ? Earlier.FirstOrDefault(o => o.Key == key) : null;

    /// <summary>The step shown.</summary>
    public FloorStep? OnFloor => LookedAt ?? Current;

    /// <summary>The operation of the step shown.</summary>
    public Operation? Step => OnFloor?.Operation;

    /// <summary>The move of the way back shown, or null while stripping.</summary>
    public RefitMove? Move => OnFloor?.Move;

    /// <summary>Fasteners that come out or go in at the step shown, with how many.</summary>
    public IReadOnlyList<(FastenerGroup Group, int Count)> Counted =>
        Move is { } move
            ? [.. move.Fasteners.Select(f => (f, State.OutCount(f.Id)))]
            :
            [
                .. View
                    .Layout.CountedAt(Step!)
                    .Select(c =>
                        (
                            c.Group,
                            LookedAt is not null && Record is { } r
                                ? r.Out.GetValueOrDefault(c.Group.Id)
                                : State.Ledger.ExpectedAt(Step!, c.Group, c.Count)
                        )
                    ),
            ];

    /// <summary>Tools of the step shown.</summary>
    public IReadOnlyList<ToolUse> Tools => Move?.Step.Tools ?? Step!.Tools;

    /// <summary>The picture of the step shown.</summary>
    public DrawingRequest Picture =>
        new()
        {
            Views = [Viewpoint],
            Conditions = View.Conditions,
            Focus =
            [
                .. Step!.TakesOff.Count + Step.Loosens.Count > 0 ? Step.TakesOff.Concat(Step.Loosens) : Step.Frees,
            ],
            Exploded =
                Move is not null && !State.StepsIn.Any(k => k.Operation == Step.Id) && Step.TakesOff.Count > 0
                    ? [Step]
                    : [],
            Step = StepDrawn,
            Inward = Move is not null,
            CloseUp = true,
        };

    /// <summary>The operation as the picture shows it at this step: only the fasteners and plugs of the step, and
    /// nothing moves that is not moved now.</summary>
    public Operation StepDrawn
    {
        get
        {
            if (Move is not { } move)
            {
                var here = Counted.Select(c => c.Group.Id).ToHashSet();
                return Step! with
                {
                    Fasteners =
                    [
                        .. Step!
                            .Fasteners.Concat(Counted.Select(c => c.Group))
                            .DistinctBy(f => f.Id)
                            .Where(f => f.LoosenOnly || here.Contains(f.Id))
                            .Select(f => f.LeftInTill == Step.Id ? f.LeftOnes : f),
                    ],
                };
            }
            var begun = State.StepsIn.Any(k => k.Operation == move.Operation.Id);
            return move.Operation with
            {
                Fasteners =
                [
                    .. move
                        .Fasteners.Concat(move.Operation.Fasteners.Where(f => f.LoosenOnly))
                        .Select(f => f with { LeftInAt = [] }),
                ],
                Plugs = [.. move.Plugs],
                Motion = begun || move.Operation.TakesOff.Count == 0 ? null : move.Operation.Motion,
                Tools = move.Step.Tools,
            };
        }
    }

    /// <summary>Where the repairer is.</summary>
    public string Viewpoint => Move?.Step.View is { Length: > 0 } view ? view : Step!.View;

    /// <summary>Notes the step asks for, not ticked off yet first.</summary>
    public IReadOnlyList<StepNote> Notes =>
        Move is not null ? [] : [.. Step!.Notes.OrderBy(n => State.Ticked.ContainsKey(n.Id))];

    /// <summary>Whether the step may be left out with a reason.</summary>
    public bool MayLeaveOut =>
        Move is null && LookedAt is null && JobPlan.MayLeaveOut(State, View.Layout, View.Plan, Step!);

    /// <summary>What prudence wants first and was left out; empty where all was done.</summary>
    public IReadOnlyList<string> LeftOut =>
        Move is not null || LookedAt is not null
            ? []
            :
            [
                .. Step!
                    .First.Where(g =>
                        !g.Any(id =>
                            State.WhollyOut.Contains(id) || State.Absent.Contains(id) || State.LeftOut.Contains(id)
                        )
                    )
                    .Select(g => string.Join(" or ", g.Select(id => View.Layout.FindOperation(id)?.Name ?? id))),
            ];

    /// <summary>The step before the shown one, to look back at; or null.</summary>
    public FloorStep? Before =>
        LookedAt is { } at ? Neighbour(at, -1)
        : Earlier.Count > 0 ? Earlier[^1]
        : null;

    /// <summary>The step after the looked-at one, or null where that is the one in work.</summary>
    public FloorStep? After => LookedAt is { } at ? Neighbour(at, 1) : null;

    public Removal? Record => Step is null ? null : State.Removals.FirstOrDefault(r => r.OperationId == Step.Id);

    /// <summary>Tray compartments of the step, by fastener group.</summary>
    public IReadOnlyDictionary<string, string> Trays =>
        Rebuilding || LookedAt is not null
            ? Counted.Select(c => c.Group.Id).Distinct().ToDictionary(id => id, State.Ledger.TrayOf)
            : View.Trays(Step!);

    /// <summary>Position and length of the run.</summary>
    public (int At, int Of) Progress
    {
        get
        {
            if (!Rebuilding)
            {
                return (State.Out.Count + 1, State.Out.Count + View.Plan!.Removal.Count);
            }
            var all = State
                .Removals.Select(r => View.Layout.FindOperation(r.OperationId))
                .OfType<Operation>()
                .Sum(o => o.Steps.Count);
            return (all - View.Refit.Count + 1, all);
        }
    }

    /// <summary>Typical minutes still to go.</summary>
    public double MinutesLeft =>
        Rebuilding ? View.Refit.Sum(m => m.Step.Minutes.Typical) : View.Plan?.Removal.Sum(o => o.Minutes.Typical) ?? 0;

    public int MinutesIn =>
        State.Removals.Count == 0 ? 0 : Math.Max(0, (int)(Now - State.Removals[0].DoneAt).TotalMinutes);

    /// <summary>The place of a group, and another group on this machine that looks the same and lies in another
    /// tray.</summary>
    public string PlaceOf(FastenerGroup group) =>
        View.Ledger.LookAlike(group) is not { } twin ? group.Where
        : group.SameKind(twin.Group) ? $"{group.Where} · same kind as {twin.Tray}"
        : $"{group.Where} · like {twin.Tray}, but {FastenerWords.Difference(group, twin.Group, View.Inch)}: keep apart";

    /// <summary>Cautions of this step.</summary>
    public IReadOnlyList<Hazard> Hazards =>
        Cautions.Before(View.Layout, View.Machine.Words, State.Out, Step!, Rebuilding, Move?.Step.Hazards);

    /// <summary>What is glued and may still slip while the machine is closed on it: it has not cured yet.</summary>
    public IEnumerable<(Part Part, GlueState Glue)> MaySlip =>
        !Rebuilding
            ? []
            : State
                .Glue.Where(g => g.Value.MaySlip(Foreseen ? State.LastAt : Now))
                .Select(g => (Part: View.Layout.FindPart(g.Key)!, g.Value))
                .Where(g => g.Part is not null);

    /// <summary>Photos that belong to the step, whether it comes out or goes in.</summary>
    public IReadOnlyList<PhotoAdded> Photos => [.. State.Photos.Where(p => p.OperationId == Step!.Id)];

    /// <summary>What was noted at the step.</summary>
    public IEnumerable<string> Noted =>
        State
            .Notes.Where(n => n.OperationId == Step!.Id)
            .Select(n => n.Text)
            .Concat(
                State
                    .Problems.Where(p => p.OperationId == Step!.Id)
                    .Select(p => p.WhatWords + (p.Text.Length > 0 ? ": " + p.Text : ""))
            );

    /// <summary>What broke or was cut at the step and is not made good.</summary>
    public IEnumerable<Owed> OwedHere => Owed.Open(State, View.Machine).Where(o => o.OperationId == Step!.Id);

    /// <summary>What helps where the step will not go.</summary>
    public IReadOnlyList<StuckHelp> Helps => StuckHelp.At(View.Machine.Handbook.Stuck, Step!, View.Layout);

    /// <summary>What the green button records: the act, how many pieces, of what and where.</summary>
    public (string Verb, int Count, string Unit) DoneWords
    {
        get
        {
            var n = Counted.Sum(c => c.Count);
            var piece = Counted.All(c =>
                c.Group.Head
                    is FastenerHead.Cross
                        or FastenerHead.Hex
                        or FastenerHead.Star
                        or FastenerHead.Square
                        or FastenerHead.Flat
                        or FastenerHead.Slot
            )
                ? "screw"
                : "piece";
            var unit =
                n == 0
                    ? ""
                    : $"{piece}{(n == 1 ? "" : "s")} {(Rebuilding ? "from" : "in")} {string.Join(", ", Counted.Where(c => c.Count > 0).Select(c => Trays.GetValueOrDefault(c.Group.Id, "–")).Distinct())}";
            return (
                Rebuilding
                    ? n > 0
                        ? "In"
                        : "Done"
                    : Step!.TakesOff.Count > 0 || n > 0
                        ? "Off"
                        : "Done",
                n,
                unit
            );
        }
    }

    /// <summary>What is seen with the green button: the one check or plug of the step, or that all of them are so; empty
    /// where there is nothing to see.</summary>
    public string SeenWords =>
        Move is not { } move
            ? ""
            : move
                .Plugs.Take(move.Plugs.Count() == 1 ? 1 : 0)
                .Select(p => $"joined: {p.Name}")
                .Concat(move.Step.Checks.Select(c => c.Text.TrimEnd('.')))
                .ToList() switch
            {
                [] => "",
                [var one] => one,
                var all => $"all {all.Count} seen",
            };

    private FloorStep? Neighbour(FloorStep at, int by)
    {
        var place = Earlier.ToList().FindIndex(e => e.Key == at.Key) + by;
        return place >= 0 && place < Earlier.Count ? Earlier[place] : null;
    }
}

/// <summary>A step on the floor.</summary>
/// <param name="Operation">The operation.</param>
/// <param name="Move">The move of the way back; null while stripping.</param>
public sealed record FloorStep(Operation Operation, RefitMove? Move)
{
    public string Key => Move?.Ref.ToString() ?? Operation.Id;

    public string Do => Move?.Step.Do ?? Operation.Do;

    public string Why => Move?.Step.Why ?? Operation.Why;
}
