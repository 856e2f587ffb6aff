using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Tests.Fitting;

namespace Idrum.Core.Tests.Jobs;

/// <summary>The rest of a visit in time, looked at with the words of the trade.</summary>
public class VisitPlanTests : JobStory
{
    private const double Close = 0.02;

    /// <summary>What a repairer would say against it; empty where nothing.</summary>
    private static List<string> Against(Visit visit, Layout layout, IReadOnlyList<PartId> targets, bool alone = true)
    {
        var faults = new List<string>();
        var at = visit.Items.ToDictionary(i => i.Chore);
        var row = visit.Items.OrderBy(i => i.Start).ThenBy(i => i.End).ToList();
        for (var i = 1; alone && i < row.Count; i++)
        {
            if (row[i].Start < row[i - 1].End - Close)
            {
                faults.Add($"one person does {row[i - 1].Chore} and {row[i].Chore} at once");
            }
        }
        // Cleaned, then replaced: no lint on wet glue or under a new roller.
        if (
            at.TryGetValue(new(ChoreKind.Clean), out var clean)
            && visit
                .Items.Where(i => i.Chore.Kind is ChoreKind.Coat or ChoreKind.Join or ChoreKind.Fit)
                .Select(i => (double?)i.Start)
                .Min()
                < clean.End - Close
        )
        {
            faults.Add("it is cleaned after something new is in");
        }
        foreach (var target in targets)
        {
            var part = layout.FindPart(target)!;
            var acts = visit.Items.Where(i => i.PartId == target).ToList();
            if (acts.Count == 0)
            {
                faults.Add($"{target} is not fitted");
                continue;
            }
            // Nothing is fitted before it is free, and nothing goes back over it before it is in.
            var frees = layout
                .Operations.Where(o => o.Frees.Contains(target) || o.TakesOff.Contains(target))
                .Select(o => o.Id)
                .ToList();
            var free = visit
                .Items.Where(i => i.Chore.Kind == ChoreKind.Out && frees.Contains(i.Chore.About))
                .Select(i => (double?)i.End)
                .Min();
            if (free is { } freed && acts.Min(a => a.Start) < freed - Close)
            {
                faults.Add($"{target} is fitted before it is free");
            }
            var over = visit
                .Items.Where(i =>
                    i.Chore.Kind == ChoreKind.In && frees.Contains(StepRef.Parse(i.Chore.About).Operation)
                )
                .Select(i => (double?)i.Start)
                .Min();
            if (over is { } back && acts.Max(a => a.End) > back + Close)
            {
                faults.Add($"{target} goes back before it is fitted");
            }
            if (acts.Max(a => a.End) > at[new(ChoreKind.Prove)].Start + Close)
            {
                faults.Add($"{target} is fitted after the proof");
            }
        }
        foreach (var glue in visit.Glue)
        {
            var join = at[new(ChoreKind.Join, glue.PartId)];
            if (join.Start < glue.Opens - Close || join.Start > glue.Closes + Close)
            {
                faults.Add($"{glue.PartId} is joined outside its window");
            }
            var on = layout.FindPart(glue.PartId)!.On;
            var carrier = visit
                .Items.Where(i =>
                    i.Chore.Kind == ChoreKind.In
                    && layout.Operations.Any(o =>
                        o.TakesOff.Contains(on) && StepRef.Parse(i.Chore.About).Operation == o.Id
                    )
                )
                .Select(i => (double?)i.Start)
                .Min();
            if (carrier < glue.Load - Close)
            {
                faults.Add($"what {glue.PartId} is glued to is lifted on wet");
            }
        }
        if (row[^1].Chore.Kind != ChoreKind.Prove)
        {
            faults.Add("something comes after the proof");
        }
        return faults;
    }

    [Fact]
    public void No_visit_is_called_the_earliest_where_a_solver_that_may_split_every_chain_ends_earlier()
    {
        var (asked, proved) = (0, 0);
        for (var seed = 0; seed < 12; seed++)
        {
            var one = VisitOracle.Draw(
                TestShop.Shop,
                TestShop.Shop.Layouts[seed % TestShop.Shop.Layouts.Count],
                new Random(seed)
            );
            var against = VisitOracle.Against(one, 3);
            Assert.True(against is null or "open", $"seed {seed}, {string.Join('+', one.Targets)}: {against}");
            asked += against is null ? 1 : 0;
            proved += one.Visit.Proof.Optimal ? 1 : 0;
        }
        Assert.True(asked >= 6 && proved >= 6, $"{asked} put to the solver, {proved} proved");
    }

    public static TheoryData<string> Layouts => [.. TestShop.Shop.Layouts.Select(l => l.Id)];

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Whatever_wears_alone_with_the_felts_and_all_at_once_is_put_in_time_soundly(string layoutId)
    {
        var layout = TestShop.Shop.FindLayout(layoutId)!;
        var machine = TestShop.Shop.For(layout, new Dictionary<string, string>(), new Dictionary<string, string>());
        var wears = machine.Layout.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
        var felts = machine
            .Layout.Parts.Where(p => p.Wears && TestShop.Shop.Handbook.For(p.Kind) is { Glues: true })
            .Select(p => p.Id)
            .ToList();
        foreach (var targets in wears.Select(w => felts.Append(w).Distinct().ToList()).Append(wears))
        {
            var plan = machine.Planner.Plan(new(targets, [], new Dictionary<string, OperationId>()))!;
            var fits = targets
                .Select(t =>
                    VisitPlan.FitOf(
                        machine.Layout.FindPart(t)!,
                        machine.Layout,
                        "",
                        null,
                        TestShop.Shop.Handbook,
                        GlueHabits.Usual
                    )
                )
                .ToList();
            var visit = VisitPlan.Of(machine.Planner, plan.Removal, plan.Refit, fits, true, Logs.Now, 1, default);
            Assert.True(visit.Broken.Length == 0, $"{layoutId} {string.Join(",", targets)}: {visit.Broken}");
            Assert.Equal([], Against(visit, machine.Layout, targets));
            Assert.True(visit.Quick <= visit.Minutes && visit.Minutes <= visit.Slow);
            // Hands are never idle longer than all waits for glue together.
            var hands = visit.Items.Sum(i => i.End - i.Start);
            Assert.True(visit.Minutes <= hands + visit.Glue.Sum(g => g.Load - g.Joined + Math.Max(0, g.Opens)) + Close);
        }
    }

    [Fact]
    public void While_the_felt_is_open_the_belt_is_changed_and_the_panel_waits_for_the_felt()
    {
        OpenFor("front-felt", "belt");
        Strip();
        Do(GlueCoated.Of("front-felt", "contact", new(12, 30, 3, 15, 240), 20), 0);
        var visit = VisitPlan.Of(State, Machine, GlueHabits.Usual, At)!;
        Assert.Equal([], Against(visit, Machine.Layout, ["front-felt", "belt"]));
        Assert.Equal("belt", visit.Items[0].PartId);
        Assert.InRange(visit.Items.Single(i => i.Chore == new VisitChore(ChoreKind.Join, "front-felt")).Start, 12, 30);
        Assert.True(Assert.Single(visit.Glue).Heat > visit.Slow, "the cure outlasts the visit");
        // The repairer is late: it is joined before anything else.
        var late = VisitPlan.Of(State, Machine, GlueHabits.Usual, At.AddMinutes(29))!;
        Assert.Equal(new(ChoreKind.Join, "front-felt"), late.Items[0].Chore);
        // Its window is over: cleaned and coated again, not joined.
        var missed = VisitPlan.Of(State, Machine, GlueHabits.Usual, At.AddMinutes(31))!;
        Assert.Contains(missed.Items, i => i.Chore == new VisitChore(ChoreKind.Coat, "front-felt"));
        Assert.Equal([], Against(missed, Machine.Layout, ["front-felt", "belt"]));
    }

    [Fact]
    public void Two_are_never_slower_than_one_and_a_cold_cellar_takes_longer()
    {
        OpenFor("front-felt", "rear-felt", "roller-left", "roller-right");
        var alone = VisitPlan.Of(State, Machine, GlueHabits.Usual, At)!;
        var two = VisitPlan.Of(State, Machine, GlueHabits.Usual, At, 2)!;
        Assert.Equal([], Against(two, Machine.Layout, State.Targets, alone: false));
        Assert.True(two.Minutes <= alone.Minutes + Close, $"{two.Minutes} by two, {alone.Minutes} by one");
        Assert.True(VisitPlan.Of(State, Machine, GlueHabits.Usual with { Celsius = 8 }, At)!.Minutes >= alone.Minutes);
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Without_glue_it_is_opened_cleaned_fitted_and_closed_in_that_order(string layoutId)
    {
        var machine = TestShop.Machine(layoutId);
        var targets = machine
            .Layout.Parts.Where(p => p.Wears && TestShop.Shop.Handbook.For(p.Kind) is not { Glues: true })
            .Select(p => p.Id)
            .ToList();
        var plan = machine.Planner.Plan(new(targets, [], new Dictionary<string, OperationId>()))!;
        var fits = targets
            .Select(t =>
                VisitPlan.FitOf(
                    machine.Layout.FindPart(t)!,
                    machine.Layout,
                    "",
                    null,
                    TestShop.Shop.Handbook,
                    GlueHabits.Usual
                )
            )
            .ToList();
        var visit = VisitPlan.Of(machine.Planner, plan.Removal, plan.Refit, fits, true, Logs.Now, 1, default);
        Assert.Equal(
            [ChoreKind.Out, ChoreKind.Clean, ChoreKind.Fit, ChoreKind.In, ChoreKind.Prove],
            visit
                .Items.Select(i => i.Chore.Kind)
                .Aggregate(new List<ChoreKind>(), (row, kind) =>
                    row.Count > 0 && row[^1] == kind ? row : [.. row, kind]
                )
        );
    }

    [Fact]
    public void Nothing_is_planned_where_no_part_is_chosen()
    {
        Do(new JobOpened("J-1", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }));
        Assert.Null(VisitPlan.Of(State, Machine, GlueHabits.Usual, At));
    }
}
