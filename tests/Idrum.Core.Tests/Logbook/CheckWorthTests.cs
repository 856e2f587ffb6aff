using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Logbook;

/// <summary>What an answer was worth: told of jobs whose end is known, by suspects and plans worked out apart.</summary>
public class CheckWorthTests
{
    private static readonly Idrum.Core.Shop.MachineKnowledge Machine = TestShop.Machine("quenby-qd62");
    private static readonly DateTimeOffset Noon = new(2026, 11, 1, 12, 0, 0, TimeSpan.Zero);

    private static JobHistory Job(string fault, params (string Finding, string Outcome)[] answers)
    {
        var kinds = Machine.Diagnostician.Model.Catalog.FindFault(fault)!.Kinds;
        JobEvent[] acts =
        [
            new JobOpened("J-0900", new() { LayoutId = Machine.Layout.Id, AgeYears = 9 }),
            new ComplaintStated(["squeal"], ""),
            .. answers.Select(a => new FindingAnswered(a.Finding, a.Outcome)),
            new CauseDecided(
                fault,
                [.. Machine.Layout.PartsOfKind(kinds).Where(p => p.Wears).Select(p => p.Id)],
                Decided.Change,
                ""
            ),
        ];
        return JobHistory.Of(acts.Select((a, i) => a with { Id = Guid.NewGuid(), At = Noon.AddMinutes(i) }));
    }

    private static string FirstSuspect(params (string Finding, string Outcome)[] known)
    {
        var diagnosis = Machine.Diagnostician.Diagnose(
            QuestionOfJob.Of(
                JobHistory.Of(Job("idler-dry").Log.Take(2)).State,
                Machine,
                known.Append(("squeal", "yes")).ToDictionary(k => k.Item1, k => k.Item2)
            ),
            CancellationToken.None
        );
        return diagnosis.Causes.MaxBy(c => c.Probability)!.Fault.Id;
    }

    private static double Plan(params string[] faults) =>
        Machine
            .Planner.Plan(
                new(
                    [
                        .. faults
                            .SelectMany(f => Machine.Diagnostician.Model.Catalog.FindFault(f)!.Kinds)
                            .SelectMany(k => Machine.Layout.PartsOfKind([k]))
                            .Where(p => p.Wears)
                            .Select(p => p.Id)
                            .Distinct(),
                    ],
                    [],
                    new Dictionary<string, OperationId>()
                )
            )!
            .Minutes;

    /// <summary>An answer after which something else is suspected first.</summary>
    private static (string Finding, string Outcome, string Was, string Now) Turning()
    {
        var was = FirstSuspect();
        foreach (var finding in Machine.Diagnostician.Model.Catalog.Findings.Where(f => f.Needs.Count == 0))
        {
            foreach (var outcome in finding.Outcomes)
            {
                if (finding.Id != "squeal" && FirstSuspect((finding.Id, outcome.Id)) is var now && now != was)
                {
                    var parts = Machine.Diagnostician.Model.Catalog.FindFault(now)!.Kinds;
                    if (parts.Count > 0 && Plan(was, now) > Plan(now) + 1)
                    {
                        return (finding.Id, outcome.Id, was, now);
                    }
                }
            }
        }
        throw new InvalidOperationException("No answer turns the first suspect.");
    }

    [Fact]
    public void Turned_to_what_was_found_it_saved_the_opening_for_the_other_less_its_own_minutes()
    {
        var (finding, outcome, was, now) = Turning();
        var own = Machine.Diagnostician.Model.Catalog.FindFinding(finding)!.Minutes;
        var right = Assert.Single(CheckWorth.Of(Job(now, (finding, outcome)), Machine));
        Assert.True(right.Changed);
        Assert.Equal(Plan(was, now) - Plan(now) - own, right.Minutes, 0.02);
        // Turned away from it, the same answer cost the opening for what it was not.
        var away = Assert.Single(CheckWorth.Of(Job(was, (finding, outcome)), Machine));
        Assert.True(away.Changed);
        Assert.Equal(-Math.Max(0, Plan(was, now) - Plan(was)) - own, away.Minutes, 0.02);
    }

    [Fact]
    public void One_that_changes_nothing_costs_its_minutes_and_what_nobody_could_tell_is_not_counted()
    {
        var was = FirstSuspect();
        var same = Machine
            .Diagnostician.Model.Catalog.Findings.Where(f => f is { Needs.Count: 0, Id: not "squeal" })
            .SelectMany(f => f.Outcomes.Select(o => (f.Id, o.Id)))
            .First(a => FirstSuspect(a) == was);
        var job = Job(was, same, ("smell", "unknown"));
        var only = Assert.Single(CheckWorth.Of(job, Machine));
        Assert.False(only.Changed);
        Assert.Equal(-Machine.Diagnostician.Model.Catalog.FindFinding(same.Item1)!.Minutes, only.Minutes, 0.001);
        Assert.Empty(CheckWorth.Of(JobHistory.Of(job.Log.Take(4)), Machine));
    }
}
