using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Random jobs: at every moment an act is drawn and kept when the rules allow it, so that logs wander through
/// all
/// stations with undo, problems and detours.</summary>
public static class RandomWalk
{
    public static List<JobEvent> Log(int seed, int acts)
    {
        var random = new Random(seed);
        var at = new DateTimeOffset(2026, 3, 1, 8, 0, 0, TimeSpan.Zero);
        var layout = TestShop.Shop.FindLayout(random.Next(2) == 0 ? "ostrel-ot50" : "quenby-qd62")!;
        var log = new List<JobEvent>();
        var history = JobHistory.Empty;
        bool Try(JobEvent e)
        {
            var bytes = new byte[16];
            random.NextBytes(bytes);
            at = at.AddSeconds(random.Next(5, 400));
            e = e with { Id = new Guid(bytes), At = at };
            if (JobRules.Check(history, e, TestShop.Shop, Logs.Now).Count > 0)
            {
                return false;
            }
            log.Add(e);
            history = history.Add(e);
            return true;
        }
        Try(
            new JobOpened(
                $"J-{seed:0000}",
                new MachineCard
                {
                    LayoutId = layout.Id,
                    Place = "Cellar " + seed,
                    AgeYears = random.Next(20),
                    UsesPerWeek = random.Next(30),
                }
            )
        );
        for (var n = 0; n < acts; n++)
        {
            Try(Draw(random, history, n));
        }
        return log;
    }

    private static JobEvent Draw(Random random, JobHistory history, int n)
    {
        var state = history.State;
        var machine = TestShop.Shop.MachineOf(state);
        var model = machine.Diagnostician.Model;
        T Pick<T>(IReadOnlyList<T> list) => list[random.Next(list.Count)];
        var wear = machine.Layout.Parts.Where(p => p.Wears).ToList();
        switch (random.Next(20))
        {
            case 0:
                return new ComplaintStated(
                    [
                        .. model
                            .Findings.Where(f => f.Group == FindingGroup.Complaint)
                            .Where(_ => random.Next(6) == 0)
                            .Select(f => f.Id),
                    ],
                    "Words " + n
                );
            case 1:
                var finding = Pick(model.Findings);
                return new FindingAnswered(
                    finding.Id,
                    random.Next(5) switch
                    {
                        0 => "unknown",
                        1 => "",
                        _ => Pick(finding.Outcomes).Id,
                    }
                );
            case 2:
                return new TargetsChosen(
                    [Pick(wear).Id],
                    random.Next(2) == 0 ? "" : Pick(model.Faults).Id,
                    new Dictionary<string, OperationId>(),
                    ""
                );
            case 3:
                return new SafetySigned([.. JobSafety.Of(state, machine).Select(i => i.Id)], "Signer");
            case 4 or 5 or 6 or 7 when JobPlan.Of(state, machine) is { Removal: [var next, ..] }:
                return new OperationDone(
                    next.Id,
                    machine
                        .Layout.CountedAt(next)
                        .ToDictionary(
                            c => c.Group.Id,
                            c => state.Ledger.ExpectedAt(next, c.Group, c.Count) + (random.Next(15) == 0 ? 1 : 0)
                        )
                );
            case 8 or 9 or 10 when state.Out.Count > 0:
                var back = StepForward.In(state, machine.Planner.Refit(state.Out, state.StepsIn)[0]);
                return back with
                {
                    Counts = back.Counts.ToDictionary(
                        c => c.Key,
                        c => Math.Max(0, c.Value - (random.Next(12) == 0 ? 1 : 0))
                    ),
                    Plugs = [.. back.Plugs.Where(_ => random.Next(8) > 0)],
                };
            case 11:
                var op = Pick(machine.Layout.Operations);
                return new ProblemNoted(
                    op.Id,
                    Pick([
                        "extra-screw",
                        "missing-screw",
                        "found-screw",
                        "stuck",
                        "already-done",
                        "absent",
                        "left-out",
                        "broken",
                        "other",
                    ]),
                    op.Fasteners.Count > 0 ? op.Fasteners[0].Id : "",
                    1,
                    "It was so"
                );
            case 12:
                return new PartFitted(Pick(wear).Id, Pick(["replaced", "cleaned", "left"]), "", [], "");
            case 13:
                return random.Next(2) == 0
                    ? new TimerStarted("t" + n, "Glue", 12)
                    : new TimerStopped(state.Timers.Count > 0 ? state.Timers[^1].TimerId : "none");
            case 14 when random.Next(5) == 0:
                var other = Pick(TestShop.Shop.Layouts.Where(l => l.Ways.Count > 0).ToList());
                var card = state.Machine with
                {
                    LayoutId = other.Id,
                    AgeYears = random.Next(20),
                    Energy = HeatSource.Electric,
                    Facts = [],
                };
                return other.Id == state.Machine.LayoutId
                    ? new MachineCorrected(card)
                    : new MachineCorrected(card)
                    {
                        LayoutHash = Variants.HashOf(other),
                        Carried = CarryOver.Of(state, TestShop.Shop, card),
                    };
            case 14:
                return new StationEntered(Pick(Enum.GetValues<Station>()));
            case 15:
                if (random.Next(2) == 0)
                {
                    var school = Pick(machine.Layout.Schools);
                    return new SchoolChosen(school.Id, Pick(school.Options).Id);
                }
                return new ProofRecorded(Pick(machine.Handbook.Proofs).Id, Pick(["ok", "not-ok"]), null, "");
            case 16 when history.LastAct is { } last:
                return new Undone(last.Id);
            case 17:
                return random.Next(6) == 0 ? new JobClosed("Done", "For the test")
                    : random.Next(2) == 0 ? new JobReopened("Again")
                    : new PartOrdered(Pick(wear).Id, 3);
            case 18 when history.LastTakenBack is { } again:
                return new Restored(again.Id);
            case 18
                when OddCounts.Of(FastenerLedger.Of(state.Ledger, machine.Layout, false), state.Ledger)
                    is [var odd, ..]:
                return new CountSettled(odd.Row.Group.Id, odd.Way, Pick(OddCounts.Reasons(odd.Way, odd.More)).Id, "");
            case 19:
                return random.Next(4) switch
                {
                    0 => random.Next(2) == 0
                        ? new GlueCoated("front-felt", "contact", 12, 240)
                        : GlueCoated.Of("front-felt", "seal", new(1, 10, 4, 30, 480), 18),
                    2 => new GlueSlipped("front-felt"),
                    1 => new GlueJoined("front-felt", random.Next(2) == 0 ? "" : "The finger says so."),
                    _ => new CauseDecided(Pick(model.Faults).Id, [Pick(wear).Id], Pick(Decided.All).Id, "Drawn"),
                };
            default:
                return new NoteAdded("", "Note " + n);
        }
    }
}
