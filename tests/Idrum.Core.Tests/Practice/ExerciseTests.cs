using Idrum.Core.Diagnosis;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Practice;

/// <summary>Exercises: whoever does as is best known loses nothing, whoever acts at random does, haste that opens a live machine ends it;
/// luck changes no mark.</summary>
public class ExerciseTests
{
    private static MachineKnowledge Machine(string id) => TestShop.Shop.For(TestShop.Shop.FindLayout(id)!);

    /// <summary>Plays with a choice of the next act; the supply is put as the act needs it, as a careful hand does.</summary>
    private static Exercise Play(ExerciseSpec spec, Func<Exercise, ExerciseMove> choose, bool careful = true)
    {
        var machine = Machine(spec.LayoutId);
        var exercise = Exercise.Of(spec, machine, []);
        while (!exercise.Over && exercise.Decisions.Count < 60)
        {
            var next = choose(exercise);
            if (careful)
            {
                var runs =
                    next.Kind == MoveKind.Check
                    && machine.Diagnostician.Model.Catalog.FindFinding(next.Id) is { Runs: true };
                if (runs && exercise.Isolated)
                {
                    exercise.Try(new(MoveKind.Power));
                }
                else if (!runs && !exercise.Isolated)
                {
                    exercise.Try(new(MoveKind.Isolate));
                }
            }
            Assert.Equal("", exercise.Try(next));
        }
        return exercise;
    }

    [Fact]
    public void Made_of_a_job_it_has_what_was_found_there_and_is_the_same_for_the_same_seed()
    {
        var machine = Machine("ostrel-ot50");
        var model = machine.Diagnostician.Model;
        var fault = model.Faults.First(f => f.Id == "roller-flat");
        for (var seed = 1; seed <= 5; seed++)
        {
            var spec = new ExerciseSpec("ostrel-ot50", 2, seed) { Faults = [fault.Id], FromJob = "J-0001" };
            var exercise = Exercise.Of(spec, machine, []);
            Assert.Equal([fault.Id], exercise.Hidden);
            Assert.NotEmpty(exercise.Evidence);
            Assert.Equal(exercise.Evidence, Exercise.Of(spec, machine, []).Evidence);
            Assert.Equal(100, Play(spec, Advised).Marks);
        }
        Assert.True(model.Has([fault.Id]));
        Assert.False(model.Has(["no-such-fault"]));
        Assert.False(model.Has([.. model.Faults.Select(f => f.Id)]));
    }

    private static ExerciseMove Advised(Exercise e)
    {
        var advice = e.Prices.Advice;
        return advice.Kind switch
        {
            AdviceKind.Check => new(MoveKind.Check, advice.Id),
            AdviceKind.Open => new(MoveKind.Open, advice.Id),
            AdviceKind.Repair or AdviceKind.Bring => new(MoveKind.Repair, advice.Id),
            AdviceKind.Refer => new(MoveKind.HandOver),
            _ => new(MoveKind.End),
        };
    }

    private static ExerciseMove AtRandom(Exercise e, Random random)
    {
        var model = e.Knowledge.Diagnostician.Model;
        for (var tries = 0; tries < 200; tries++)
        {
            var move =
                random.NextDouble() < 0.6
                    ? new ExerciseMove(MoveKind.Check, model.Findings[random.Next(model.Findings.Count)].Id)
                    : new(MoveKind.Repair, model.Faults[random.Next(model.Faults.Count)].Id);
            if (
                e.Refused(move).Length == 0
                && !(
                    move.Kind == MoveKind.Check
                    && model.Catalog.FindFinding(move.Id)
                        is { Live: true }
                            or { Group: FindingGroup.Complaint or FindingGroup.Before }
                )
            )
            {
                return move;
            }
        }
        return new(MoveKind.End);
    }

    [Theory]
    [InlineData("ostrel-ot50")]
    [InlineData("quenby-qd62")]
    [InlineData("marlune-mf20")]
    public void Whoever_does_what_is_best_known_has_full_marks_and_whoever_acts_at_random_has_not(string layout)
    {
        var (best, random) = (new List<double>(), new List<double>());
        for (var seed = 1; seed <= TestSize.Of(3, 6); seed++)
        {
            var luck = new Random(seed);
            var perfect = Play(new(layout, 1 + seed % 3, seed), Advised);
            Assert.Equal("", perfect.Unsafe);
            Assert.True(perfect.Over);
            Assert.Equal(0, perfect.Lost, 6);
            best.Add(perfect.Marks);
            random.Add(Play(new(layout, 1 + seed % 3, seed), e => AtRandom(e, luck)).Marks);
        }
        Assert.All(best, m => Assert.Equal(100, m));
        Assert.True(random.Average() < 70, $"{random.Average()}");
    }

    [Fact]
    public void A_mark_rests_on_what_was_known_and_not_on_what_came_of_it()
    {
        // Machines of which the same is complained: whatever is hidden in them, the same first act is worth the same.
        var machine = Machine("ostrel-ot50");
        var groups = Enumerable
            .Range(1, 60)
            .Select(seed => Exercise.Of(new("ostrel-ot50", 2, seed), machine, []))
            .GroupBy(e => string.Join(',', e.Evidence.Keys.Order()))
            .Where(g => g.Select(e => string.Join(',', e.Hidden)).Distinct().Count() > 1)
            .ToList();
        Assert.NotEmpty(groups);
        foreach (var group in groups)
        {
            // Wear is known to whoever practises; it is compared among machines worn about alike.
            var move = new ExerciseMove(MoveKind.Repair, machine.Diagnostician.Model.Faults[0].Id);
            foreach (var alike in group.GroupBy(e => Math.Round(e.Wear, 2)).Where(g => g.Count() > 1))
            {
                Assert.Single(
                    alike
                        .Select(e => Math.Round(Exercise.Of(e.Spec, machine, [new(MoveKind.Isolate), move]).Lost, 6))
                        .Distinct()
                );
            }
        }
    }

    [Fact]
    public void Opening_with_the_supply_on_ends_it_without_a_mark()
    {
        var spec = new ExerciseSpec("ostrel-ot50", 1, 3);
        var machine = Machine(spec.LayoutId);
        var hasty = Exercise.Of(spec, machine, [new(MoveKind.Open, "belt")]);
        Assert.True(hasty.Over);
        Assert.Contains("supply on", hasty.Unsafe);
        Assert.Equal(0, hasty.Marks);
        Assert.False(hasty.Right);
        var switchedOn = Exercise.Of(
            spec,
            machine,
            [new(MoveKind.Isolate), new(MoveKind.Open, "belt"), new(MoveKind.Power)]
        );
        Assert.Contains("stood open", switchedOn.Unsafe);
        Assert.Equal(0, switchedOn.Marks);
        // Hasty in every exercise: never rewarded, however quick.
        Assert.All(Enumerable.Range(1, 5), seed =>
            Assert.Equal(0, Play(new("quenby-qd62", 2, seed), e => new(MoveKind.Open, "belt"), careful: false).Marks)
        );
    }

    [Fact]
    public void It_is_the_same_again_and_costs_what_the_job_costs()
    {
        var spec = new ExerciseSpec("quenby-qd62", 2, 11);
        var played = Play(spec, Advised);
        var again = Exercise.Of(spec, Machine(spec.LayoutId), played.Decisions.Select(d => d.Move));
        Assert.Equal(played.Minutes, again.Minutes);
        Assert.Equal(played.Evidence.OrderBy(e => e.Key), again.Evidence.OrderBy(e => e.Key));
        // The same acts in the bare job, without any reckoning, come to the same minutes and money.
        var bare = Exercise.BareJob(spec, Machine(spec.LayoutId));
        var catalog = TestShop.Shop.Catalog;
        foreach (var move in played.Decisions.Select(d => d.Move))
        {
            switch (move.Kind)
            {
                case MoveKind.Check:
                    bare.Check(catalog.FindFinding(move.Id)!);
                    break;
                case MoveKind.Open:
                    bare.OpenTo([bare.Knowledge.Layout.FindPart(move.Id)!]);
                    break;
                case MoveKind.Repair:
                    bare.Repair(catalog.FindFault(move.Id)!);
                    break;
                case MoveKind.HandOver:
                    bare.HandOver();
                    break;
            }
        }
        Assert.Equal(bare.Cost, played.Minutes + played.Money / catalog.Costs.RatePerHour * 60, 6);
        Assert.True(played.Clairvoyant >= 0);
    }

    [Theory]
    [InlineData(MoveKind.Check, "no-such")]
    [InlineData(MoveKind.Open, "no-such")]
    [InlineData(MoveKind.Repair, "no-such")]
    [InlineData((MoveKind)99, "")]
    [InlineData(MoveKind.Power, "")]
    public void A_move_that_cannot_be_is_refused_with_a_word(MoveKind kind, string id)
    {
        var spec = new ExerciseSpec("ostrel-ot50", 1, 3);
        var machine = Machine(spec.LayoutId);
        Assert.NotEmpty(Exercise.Of(spec, machine, []).Refused(new(kind, id)));
        Assert.Throws<ArgumentException>(() => Exercise.Of(spec, machine, [new(kind, id)]));
    }

    [Fact]
    public void A_part_changed_blindly_is_told_what_a_look_would_have_told()
    {
        var machine = Machine("ostrel-ot50");
        var told = Enumerable
            .Range(1, 12)
            .SelectMany(seed =>
                Exercise
                    .Of(
                        new("ostrel-ot50", 2, seed),
                        machine,
                        [new(MoveKind.Isolate), new(MoveKind.Repair, "motor-bearings")]
                    )
                    .Decisions
            )
            .Where(d => d.Lost > 5)
            .ToList();
        Assert.NotEmpty(told);
        Assert.All(told, d => Assert.NotEmpty(d.Why));
        Assert.Contains(told, d => d.Why.Contains("would have told", StringComparison.Ordinal));
    }

    [Fact]
    public void What_smells_burnt_and_is_run_before_it_was_looked_at_ends_it_and_after_that_it_does_not()
    {
        var machine = Machine("quenby-qd62");
        var burnt = Enumerable
            .Range(1, 400)
            .Select(seed => new ExerciseSpec("quenby-qd62", 1, seed) { Faults = ["idler-seized"], FromJob = "J-0001" })
            .First(spec => Exercise.Of(spec, machine, []).Evidence.GetValueOrDefault("burning") == "yes");
        var hasty = Exercise.Of(burnt, machine, []);
        Assert.Equal("", hasty.Try(new(MoveKind.Check, "start-listen")));
        Assert.Contains("nothing is run before", hasty.Unsafe, StringComparison.Ordinal);
        Assert.Equal((true, 0), (hasty.Over, hasty.Marks));
        var careful = Exercise.Of(burnt, machine, []);
        foreach (
            var check in machine
                .Diagnostician.Model.Catalog.Moves.Single(m => m.Id == "burning")
                .Checks.Where(c => careful.Refused(new(MoveKind.Check, c)).Length == 0)
                .Append("start-listen")
        )
        {
            Assert.Equal("", careful.Try(new(MoveKind.Check, check)));
            Assert.Equal("", careful.Unsafe);
        }
    }
}
