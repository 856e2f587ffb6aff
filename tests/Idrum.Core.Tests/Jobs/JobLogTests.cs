using CsCheck;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Ledger;

namespace Idrum.Core.Tests.Jobs;

public class JobLogTests
{
    [Fact]
    public void Folding_step_by_step_gives_the_same_state_as_folding_at_once()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var log = RandomWalk.Log(seed, 60);
                    var state = JobState.Empty;
                    for (var i = 0; i < log.Count; i++)
                    {
                        state = log[i] is Undone or Restored ? Logs.Fold(log.Take(i + 1)) : Logs.Apply(state, log[i]);
                    }
                    Assert.Equal(Logs.Fold(log).Canonical(), state.Canonical());
                },
                iter: 25
            );
    }

    [Fact]
    public void Sending_any_event_twice_changes_nothing()
    {
        Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[0, 1000])
            .Sample(
                (seed, pick) =>
                {
                    var log = RandomWalk.Log(seed, 50);
                    var twice = log.Append(log[pick % log.Count]);
                    Assert.Equal(Logs.Fold(log).Canonical(), Logs.Fold(twice).Canonical());
                },
                iter: 25
            );
    }

    [Fact]
    public void Undo_gives_back_the_state_before_the_last_act()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var log = RandomWalk.Log(seed, 40);
                    if (Logs.LastAct(log) is not { } last)
                    {
                        return;
                    }
                    var before = Logs.Fold(Logs.Effective(log).Where(e => e.Id != last.Id));
                    var after = Logs.Fold(log.Append(new Undone(last.Id) { Id = Guid.NewGuid() }));
                    Assert.Equal(before.Canonical(), after.Canonical());
                },
                iter: 25
            );
    }

    [Fact]
    public void A_reading_is_taken_back_whatever_was_done_since_and_nothing_else_is()
    {
        Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[1, 1000], Gen.Int[1, 1000])
            .Sample(
                (seed, pick, brought) =>
                {
                    // A job with a reading somewhere after its opening, that came in as a file later.
                    var log = Logs.Effective(RandomWalk.Log(seed, 40)).ToList();
                    var reading = new GaugeRead("roller", "roller-left", "largest", 79.9, "mm")
                    {
                        Id = Guid.NewGuid(),
                        At = log[0].At,
                    };
                    var with = log.ToList();
                    with.Insert(1 + pick % log.Count, reading);
                    var file = new JobImported(3, true) { Id = Guid.NewGuid(), At = log[^1].At };
                    var place = 2 + pick % log.Count + brought % (with.Count - 1 - pick % log.Count);
                    with.Insert(Math.Min(place, with.Count), file);
                    var without = with.Where(e => e.Id != reading.Id).ToList();
                    var history = JobHistory.Of(with.Append(new Undone(reading.Id) { Id = Guid.NewGuid() }));
                    Assert.Equal(Logs.Fold(without).Canonical(), history.State.Canonical());
                    Assert.Equal(reading.Id, history.LastTakenBack!.Id);
                    // It is the log that says what was done, all of it.
                    Assert.Equal(with.Count + 1, history.Count);
                },
                iter: 60
            );
        // By the rules: what stands alone, while the job is open; of all else the last alone.
        var job = JobHistory.Of([
            new JobOpened("J-1", new MachineCard { LayoutId = "ostrel-ot50", Place = "x" })
            {
                Id = Guid.NewGuid(),
                At = Logs.Now,
            },
            new ComplaintStated(["squeal"], "") { Id = Guid.NewGuid(), At = Logs.Now },
            new GaugeRead("roller", "roller-left", "largest", 79.9, "mm") { Id = Guid.NewGuid(), At = Logs.Now },
            new NoteAdded("", "x") { Id = Guid.NewGuid(), At = Logs.Now },
        ]);
        IReadOnlyList<string> Wrong(JobHistory of, JobEvent target) =>
            [
                .. JobRules
                    .Check(of, new Undone(target.Id) { Id = Guid.NewGuid(), At = Logs.Now }, TestShop.Shop, Logs.Now)
                    .Select(e => e.Pointer),
            ];
        Assert.Empty(Wrong(job, job.Log[2]));
        Assert.Empty(Wrong(job, job.Log[3]));
        Assert.Equal(["eventId"], Wrong(job, job.Log[1]));
        Assert.Equal(["eventId"], Wrong(job, job.Log[0]));
        var closed = job.Add(new JobClosed("Looked at", "Not today") { Id = Guid.NewGuid(), At = Logs.Now });
        Assert.Equal(["eventId"], Wrong(closed, job.Log[2]));
    }

    [Fact]
    public void Random_walks_reach_all_stations_and_every_kind_of_event()
    {
        var events = Enumerable.Range(0, 40).SelectMany(s => RandomWalk.Log(s, 80)).ToList();
        var kinds = events.Select(e => e.GetType()).ToHashSet();
        Assert.Superset(
            new HashSet<Type>
            {
                typeof(OperationDone),
                typeof(StepRefitted),
                typeof(SchoolChosen),
                typeof(Undone),
                typeof(PartFitted),
                typeof(ProblemNoted),
                typeof(JobClosed),
                typeof(JobReopened),
                typeof(ProofRecorded),
            },
            kinds
        );
    }

    [Fact]
    public void Tray_letters_skip_I_and_O_and_go_on_after_z() =>
        Assert.Equal(
            ["A", "H", "J", "P", "Z", "AA", "AB", "BA"],
            new[] { 0, 7, 8, 13, 23, 24, 25, 48 }.Select(TrayPlan.Letter)
        );
}
