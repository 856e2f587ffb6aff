using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Diagnosis;

public class AdviceTests
{
    private static DiagnosisResult Ask(
        string layoutId,
        Dictionary<string, string> findings,
        params OperationId[] done
    ) => TestShop.Machine(layoutId).Diagnostician.Diagnose(new(findings, done));

    [Fact]
    public void Advice_has_its_reason_its_minutes_and_its_money_and_a_runner_up()
    {
        var r = Ask("quenby-qd62", new() { ["squeal"] = "yes" });
        Assert.Equal(AdviceKind.Check, r.Advice.Kind);
        Assert.NotNull(r.RunnerUp);
        Assert.NotEmpty(r.Advice.Reason);
        Assert.True(r.Advice.ExpectedMoney > 0);
        Assert.Equal(
            r.Advice.ExpectedCost,
            r.Advice.ExpectedMinutes + r.Advice.ExpectedMoney / TestShop.Shop.Catalog.Costs.RatePerHour * 60,
            1e-6
        );
    }

    [Fact]
    public void A_part_that_is_not_at_hand_is_brought_and_one_changed_in_this_job_is_out_of_the_question()
    {
        var diagnostician = TestShop.Machine("ostrel-ot50").Diagnostician;
        Dictionary<string, string> broken = new()
        {
            ["drum-stands"] = "yes",
            ["drum-hand"] = "free",
            ["belt-look"] = "broken",
        };
        Assert.Equal(
            (AdviceKind.Bring, "belt-broken"),
            diagnostician.Diagnose(new(broken, []) { AtHand = [] }).Advice is var a ? (a.Kind, a.Id) : default
        );
        Assert.Equal(AdviceKind.Repair, diagnostician.Diagnose(new(broken, []) { AtHand = ["belt"] }).Advice.Kind);
        Assert.NotEqual("belt-broken", diagnostician.Diagnose(new(broken, []) { Fitted = ["belt"] }).Advice.Id);
    }

    [Theory]
    [InlineData("marlune-ml49", true)]
    [InlineData("quenby-qc30", true)]
    [InlineData("marlune-mf20", true)]
    // The belt lies behind a panel that carries the drum.
    [InlineData("ostrel-ot50", false)]
    [InlineData("ostrel-or70", false)]
    public void With_the_belt_off_it_is_turned_by_hand_where_the_drum_still_runs_on_its_front(string layout, bool can)
    {
        var r = Ask(layout, new() { ["squeal"] = "yes", ["hand-sound"] = "squeaks" });
        var check = r.Checks.SingleOrDefault(c => c.Finding.Id == "hand-belt-off");
        Assert.Equal(can, check is not null);
        Assert.True(check is null or { TeardownMinutes: > 0 });
        // It is no look at a part: "sound" for the rest does not answer it.
        Assert.DoesNotContain(
            Ask(
                layout,
                new() { ["squeal"] = "yes" },
                [.. TestShop.Machine(layout).Layout.Operations.Select(o => o.Id)]
            ).WalkRound,
            i => i.Finding.Id == "hand-belt-off"
        );
    }

    [Fact]
    public void An_open_machine_has_a_walk_round_of_what_is_in_reach_by_place_and_a_closed_one_none()
    {
        Assert.Empty(Ask("quenby-qd62", new() { ["squeal"] = "yes" }).WalkRound);
        var round = Ask("quenby-qd62", new() { ["squeal"] = "yes" }, "pull-out", "rear-panel-off").WalkRound;
        Assert.Contains(round, r => r.Finding.Id == "idler-spin" && r.PartIds is [var one] && one == "idler");
        Assert.DoesNotContain(round, r => r.Finding.Id == "roller-spin" || r.Finding.Runs || r.Finding.Live);
        var all = Ask(
            "quenby-qd62",
            new() { ["squeal"] = "yes" },
            [.. TestShop.Machine("quenby-qd62").Layout.Operations.Select(o => o.Id)]
        ).WalkRound;
        Assert.Equal(4, all.Single(r => r.Finding.Id == "roller-spin").PartIds.Count);
    }

    [Fact]
    public void What_was_put_right_or_renewed_is_not_walked_round_to_and_not_heard_again_as_the_cause()
    {
        var d = TestShop.Machine("quenby-qd62").Diagnostician;
        var request = new DiagnosisRequest(
            new Dictionary<string, string> { ["squeal"] = "yes" },
            [.. d.Model.Layout.Operations.Select(o => o.Id)]
        )
        {
            Fitted = ["rear-roller-left", "idler"],
        };
        var round = d.Diagnose(request).WalkRound;
        Assert.Equal(3, round.Single(r => r.Finding.Id == "roller-spin").PartIds.Count);
        Assert.DoesNotContain(round, r => r.Finding.Id == "idler-spin");
        // Squealed before and after it was put right: it is not that. Put right and not heard since: it may have been
        // one of two.
        double P(DiagnosisRequest r, string fault) => d.Diagnose(r).Causes.Single(c => c.Fault.Id == fault).Probability;
        var idler = request with { Done = [], Fitted = ["idler"] };
        Assert.Equal(0, P(idler with { HeardAgain = true }, "idler-dry"));
        Assert.True(
            P(idler with { HeardAgain = true }, "roller-dry") > P(request with { Done = [], Fitted = [] }, "roller-dry")
        );
    }

    [Fact]
    public void Nobody_is_asked_whether_a_dead_machine_hums_and_states_that_exclude_each_other_are_named()
    {
        var dead = Ask("quenby-qd62", new() { ["nothing-runs"] = "yes" });
        Assert.DoesNotContain(dead.Checks, c =>
            c.Finding.Id is "motor-sound" or "listen-rear" or "chirp-rate" or "panels-press"
        );
        var odd = Ask("quenby-qd62", new() { ["nothing-runs"] = "yes", ["drum-stands"] = "yes" });
        Assert.Contains(odd.Oddities, o => o.FindingIds.Count == 2);
    }

    [Fact]
    public void A_felt_seen_through_is_certain_whatever_the_complaint_is()
    {
        foreach (var complaint in new[] { "drum-stands", "hums", "rattle", "streaks" })
        {
            Assert.True(
                Ask("ostrel-ot50", new() { [complaint] = "yes", ["front-felt-look"] = "gone" })
                    .Causes.Single(c => c.Fault.Id == "front-felt-worn")
                    .Probability > 0.95,
                complaint
            );
        }
    }

    [Fact]
    public void A_proved_broken_belt_ends_the_checking()
    {
        var r = Ask(
            "ostrel-ot50",
            new()
            {
                ["drum-stands"] = "yes",
                ["drum-hand"] = "free",
                ["belt-look"] = "broken",
            }
        );
        Assert.Equal((AdviceKind.Repair, "belt-broken"), (r.Advice.Kind, r.Advice.Id));
    }

    [Fact]
    public void A_dead_supply_is_handed_over()
    {
        var r = Ask(
            "ostrel-ot50",
            new()
            {
                ["nothing-runs"] = "yes",
                ["supply"] = "dead",
                ["door-hold"] = "clicks",
            }
        );
        Assert.Equal((AdviceKind.Refer, "no-supply"), (r.Advice.Kind, r.Advice.Id));
    }

    [Fact]
    public void Teardown_minutes_of_a_check_come_from_the_present_state()
    {
        var machine = TestShop.Machine("quenby-qd62");
        double Minutes(params OperationId[] done) =>
            Ask("quenby-qd62", new() { ["squeal"] = "yes" }, done)
                .Checks.Single(c => c.Finding.Id == "idler-spin")
                .TeardownMinutes;
        Assert.Equal(machine.Planner.MinutesTo(machine.Layout.FindPart("idler")!.SeenAfter, Bits.None), Minutes());
        Assert.True(Minutes("pull-out") < Minutes());
        Assert.Equal(0, Minutes("pull-out", "rear-panel-off"));
    }

    [Fact]
    public void Running_checks_are_not_offered_on_an_opened_or_isolated_machine()
    {
        var diagnostician = TestShop.Machine("quenby-qd62").Diagnostician;
        Dictionary<string, string> squeal = new() { ["squeal"] = "yes" };
        Assert.Contains(diagnostician.Diagnose(new(squeal, [])).Checks, c => c.Finding.Runs);
        Assert.DoesNotContain(diagnostician.Diagnose(new(squeal, ["pull-out"])).Checks, c => c.Finding.Runs);
        Assert.DoesNotContain(diagnostician.Diagnose(new(squeal, [], 1, true)).Checks, c => c.Finding.Runs);
    }

    [Fact]
    public void Live_checks_come_last_and_only_when_no_dead_check_helps()
    {
        var r = Ask("ostrel-ot50", new() { ["nothing-runs"] = "yes" });
        Assert.DoesNotContain(r.Checks, c => c.Finding.Live);
        var all = TestShop
            .Machine("ostrel-ot50")
            .Diagnostician.Model.Findings.Where(f => !f.Live)
            .ToDictionary(f => f.Id, f => f.Outcomes[0].Id);
        all["nothing-runs"] = "yes";
        all["start-listen"] = TestShop.Shop.Catalog.FindFinding("start-listen")!.Outcomes[^1].Id;
        Assert.Contains(Ask("ostrel-ot50", all).Checks, c => c.Finding.Live);
    }

    [Fact]
    public void An_answered_check_is_not_offered_again() =>
        Assert.DoesNotContain(Ask("quenby-qd62", new() { ["squeal"] = "yes", ["drum-hand"] = "normal" }).Checks, c =>
            c.Finding.Id == "drum-hand"
        );

    [Fact]
    public void Contradicting_findings_are_named()
    {
        var r = Ask("ostrel-ot50", new() { ["drum-stands"] = "yes", ["drum-count"] = "right" });
        Assert.Contains(r.Oddities, o =>
            o.FindingIds.Count == 2 && o.FindingIds.Contains("drum-stands") && o.FindingIds.Contains("drum-count")
        );
    }

    [Fact]
    public void A_finding_nothing_explains_is_shown_as_such()
    {
        var good = TestShop
            .Machine("ostrel-ot50")
            .Diagnostician.Model.Findings.Where(f => f.Group != FindingGroup.Complaint && !f.Live)
            .ToDictionary(f => f.Id, f => f.Outcomes[0].Id);
        good["caught"] = "yes";
        Assert.Contains(Ask("ostrel-ot50", good).Oddities, o => o.FindingIds.SequenceEqual(["caught"]));
    }

    [Fact]
    public void An_unknown_outcome_is_refused() =>
        Assert.Throws<ArgumentException>(() => Ask("ostrel-ot50", new() { ["squeal"] = "perhaps" }));

    [Fact]
    public void More_wear_makes_wear_faults_likelier()
    {
        double Felt(double wear) =>
            TestShop
                .Machine("ostrel-ot50")
                .Diagnostician.Diagnose(new(new Dictionary<string, string>(), [], wear))
                .Causes.Single(c => c.Fault.Id == "front-felt-worn")
                .Probability;
        Assert.True(Felt(2) > Felt(1) && Felt(1) > Felt(0.3));
    }
}
