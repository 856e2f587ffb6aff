using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Jobs;

public class JobRulesTests
{
    private readonly List<JobEvent> log = [];

    private JobState State => Logs.Fold(log);

    private MachineKnowledge Machine => TestShop.Shop.MachineOf(State);

    private IReadOnlyList<string> Errors(JobEvent e) =>
        [
            .. JobRules
                .Check(
                    JobHistory.Of(log),
                    e with
                    {
                        Id = Guid.NewGuid(),
                        At = DateTimeOffset.UnixEpoch.AddMinutes(log.Count),
                    },
                    TestShop.Shop,
                    Logs.Now
                )
                .Select(x => x.Pointer),
        ];

    /// <summary>As an old log is read: what guards a person now is no reason to refuse what was done then.</summary>
    private void DoUnguarded(JobEvent e)
    {
        e = e with { Id = Guid.NewGuid(), At = DateTimeOffset.UnixEpoch.AddMinutes(log.Count) };
        Assert.Empty(JobRules.Check(JobHistory.Of(log), e, TestShop.Shop, null));
        log.Add(e);
    }

    private void Do(JobEvent e)
    {
        e = e with { Id = Guid.NewGuid(), At = DateTimeOffset.UnixEpoch.AddMinutes(log.Count) };
        Assert.Empty(JobRules.Check(JobHistory.Of(log), e, TestShop.Shop, Logs.Now));
        log.Add(e);
    }

    private void Open(string layoutId = "ostrel-ot50", string connection = "plug", string energy = "electric") =>
        Do(
            new JobOpened(
                "J-1",
                new MachineCard
                {
                    LayoutId = layoutId,
                    Place = "Cellar",
                    Connection = connection,
                    Energy = energy,
                    Facts = layoutId == "ostrel-ot50" ? ["earth-clip"] : [],
                }
            )
        );

    private void Sign() => Do(new SafetySigned([.. JobSafety.Of(State, Machine).Select(i => i.Id)], "A. Hand"));

    private void StripFor(string part)
    {
        Do(new TargetsChosen([part], "", new Dictionary<string, OperationId>(), "test"));
        Sign();
        while (JobPlan.Of(State, Machine) is { Removal: [var next, ..] })
        {
            Do(Logs.Done(Machine.Layout, next));
        }
    }

    private StepRefitted Back(int shortBy = 0, int plus = 0)
    {
        var next = StepForward.In(State, Machine.Planner.Refit(State.Out, State.StepsIn)[0]);
        return next with { Counts = next.Counts.ToDictionary(c => c.Key, c => c.Value - shortBy + plus) };
    }

    [Theory]
    [InlineData("", "Cellar", "electric", "machine.layoutId")]
    [InlineData("no-such", "Cellar", "electric", "machine.layoutId")]
    [InlineData("ostrel-ot50", "", "electric", "machine.place")]
    [InlineData("quenby-qd62", "Cellar", "gas", "machine.energy")]
    [InlineData("ostrel-ot50", "Cellar", "steam", "machine.energy")]
    public void A_job_with_a_wrong_card_is_refused_at_the_field(
        string layoutId,
        string place,
        string energy,
        string field
    ) =>
        Assert.Contains(
            field,
            Errors(
                new JobOpened(
                    "J-1",
                    new MachineCard
                    {
                        LayoutId = layoutId,
                        Place = place,
                        Energy = energy,
                    }
                )
            )
        );

    [Fact]
    public void Absurd_numbers_and_long_or_unprintable_texts_are_refused()
    {
        var card = new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" };
        Assert.Contains("machine.ageYears", Errors(new JobOpened("J-1", card with { AgeYears = -1 })));
        Assert.Contains("machine.ageYears", Errors(new JobOpened("J-1", card with { AgeYears = double.NaN })));
        Assert.Contains("machine.usesPerWeek", Errors(new JobOpened("J-1", card with { UsesPerWeek = 1e9 })));
        Assert.Contains("machine.place", Errors(new JobOpened("J-1", card with { Place = new string('x', 121) })));
        Assert.Contains("machine.place", Errors(new JobOpened("J-1", card with { Place = "a\u0007b" })));
        Assert.Contains("machine.facts", Errors(new JobOpened("J-1", card with { Facts = ["belt-switch"] })));
        Open();
        Assert.Contains("words", Errors(new ComplaintStated(["squeal"], new string('x', 2001))));
        Assert.Contains("value", Errors(new ReadingTaken("Ohm", double.PositiveInfinity, "Ω")));
        Assert.Contains("minutes", Errors(new TimerStarted("t", "Glue", -5)));
    }

    [Fact]
    public void Unknown_ids_are_refused_at_their_field()
    {
        Open();
        Assert.Contains("findings", Errors(new ComplaintStated(["singing"], "")));
        Assert.Contains("findingId", Errors(new FindingAnswered("singing", "yes")));
        Assert.Contains("outcome", Errors(new FindingAnswered("squeal", "loud")));
        Assert.Contains(
            "targets",
            Errors(new TargetsChosen(["tensioner"], "", new Dictionary<string, OperationId>(), ""))
        );
        Assert.Contains(
            "waysIn",
            Errors(
                new TargetsChosen(["idler"], "", new Dictionary<string, OperationId> { ["idler-reach"] = "roof" }, "")
            )
        );
        Assert.Contains("operationId", Errors(new OperationDone("skin-off", new Dictionary<string, int>())));
        Assert.Contains("partId", Errors(new PartFitted("tensioner", "replaced", "", [], "")));
        Assert.Contains("proofId", Errors(new ProofRecorded("blessing", "ok", null, "")));
    }

    [Fact]
    public void Nothing_is_stripped_before_the_gate_is_signed_in_full()
    {
        Open(connection: "hard-wired", energy: "gas");
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), ""));
        Assert.Contains("operationId", Errors(new OperationDone("screen-out", new Dictionary<string, int>())));
        var items = JobSafety.Of(State, Machine).Select(i => i.Id).ToList();
        Assert.Superset(
            new HashSet<string> { "breaker", "tester", "proved-dead", "gas-closed", "gloves" },
            items.ToHashSet()
        );
        Assert.DoesNotContain("unplugged", items);
        Assert.Contains("items", Errors(new SafetySigned([.. items.Skip(1)], "A. Hand")));
        Assert.Contains("signedBy", Errors(new SafetySigned(items, " ")));
        Sign();
        Assert.Empty(Errors(new OperationDone("screen-out", new Dictionary<string, int>())));
    }

    [Fact]
    public void Steps_keep_their_order_and_every_group_is_counted()
    {
        Open();
        Sign();
        Assert.Contains("operationId", Errors(new OperationDone("front-off", new Dictionary<string, int>())));
        Do(new OperationDone("screen-out", new Dictionary<string, int>()));
        Assert.Contains("operationId", Errors(new OperationDone("screen-out", new Dictionary<string, int>())));
        Assert.Contains("counts", Errors(new OperationDone("deck-screws", new Dictionary<string, int>())));
        Assert.Contains(
            "counts",
            Errors(new OperationDone("deck-screws", new Dictionary<string, int> { ["deck"] = -1 }))
        );
        Assert.Contains(
            "counts",
            Errors(new OperationDone("deck-screws", new Dictionary<string, int> { ["deck"] = 2, ["front-side"] = 1 }))
        );
    }

    [Fact]
    public void Refit_traps_and_unseen_checks_are_enforced()
    {
        Open();
        StripFor("belt");
        Assert.Contains(
            "operationId",
            Errors(new OperationRefitted("screen-out", new Dictionary<string, int>(), [], ["rag-out"]))
        );
        Assert.Contains("stepId", Errors(Back()));
        Do(new PartFitted("belt", "replaced", "", [], ""));
        var back = Back();
        Assert.Contains("checks", Errors(back with { Checks = [] }));
        Assert.Empty(Errors(back));
    }

    [Fact]
    public void An_opened_machine_is_not_run_and_entering_prove_spends_the_signature()
    {
        Open();
        StripFor("belt");
        Assert.Contains("station", Errors(new StationEntered(Station.Prove)));
        Assert.Contains("proofId", Errors(new ProofRecorded("run", "ok", null, "")));
        Do(new PartFitted("belt", "replaced", "", [], ""));
        while (State.Out.Count > 0)
        {
            Do(Back());
        }
        Do(new StationEntered(Station.Prove));
        Assert.Equal("", State.SafeBy);
        Assert.Contains("operationId", Errors(new OperationDone("screen-out", new Dictionary<string, int>())));
    }

    [Fact]
    public void Missing_extra_and_swapped_screws_are_stated_and_block_closing_until_found_or_explained()
    {
        Open();
        StripFor("belt");
        Do(new PartFitted("belt", "replaced", "", [], ""));
        while (State.Out.Count > 0)
        {
            var next = Machine.Planner.Refit(State.Out, State.StepsIn)[0].Operation.Id.Value;
            DoUnguarded(
                next switch
                {
                    "front-screws" => Back(shortBy: 1),
                    "deck-screws" => Back(plus: 1),
                    _ => Back(),
                }
            );
        }
        var remark = Assert.Single(
            FastenerLedger.Of(State.Ledger, Machine.Layout, State.Machine.Units == LengthUnit.Inch).Remarks
        );
        Assert.Contains("Swapped", remark, StringComparison.Ordinal);
        Assert.Contains("13 against 19 mm", remark, StringComparison.Ordinal);
        Assert.Contains(OpenItems.Of(State, Machine), i => i.Text == remark);
        Assert.Contains("reason", Errors(new JobClosed("", "")));
        Assert.Empty(Errors(new JobClosed("", "The customer keeps it as it is.")));
        Do(new ProblemNoted("front-screws", "found-screw", "front-side", 1, ""));
        Assert.Contains(
            "Extra",
            Assert.Single(
                FastenerLedger.Of(State.Ledger, Machine.Layout, State.Machine.Units == LengthUnit.Inch).Remarks
            ),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void What_prudence_wants_may_be_left_out_with_a_reason_and_what_blocks_may_not()
    {
        Open();
        Do(new TargetsChosen(["front-felt"], "", new Dictionary<string, OperationId>(), "test"));
        Sign();
        foreach (var id in new[] { "screen-out", "deck-screws", "earth-clip", "top-up" })
        {
            Do(Logs.Done(Machine.Layout, Machine.Layout.FindOperation(id)!));
        }
        var screws = Logs.Done(Machine.Layout, Machine.Layout.FindOperation("front-screws")!);
        Assert.Equal("skippedBecause", Assert.Single(Errors(screws)));
        Assert.Empty(Errors(screws with { SkippedBecause = "The plug is long enough to lay the panel beside." }));
        Assert.NotEmpty(Errors(new ProblemNoted("door-plug", "left-out", "", 1, "")));
        Assert.Equal("what", Assert.Single(Errors(new ProblemNoted("front-screws", "left-out", "", 1, "No time"))));
        Do(new ProblemNoted("door-plug", "left-out", "", 1, "The wires are long enough."));
        Assert.DoesNotContain(JobPlan.Of(State, Machine)!.Removal, o => o.Id == "door-plug");
        Assert.Empty(Errors(screws));
        Do(screws);
        // The screw left in is counted where it comes out, into the same tray.
        var row = FastenerLedger.Of(State.Ledger, Machine.Layout, false).Rows.Single(r => r.Group.Id == "front-side");
        Assert.Equal((1, 1), (row.Expected, row.Out));
        Do(Logs.Done(Machine.Layout, Machine.Layout.FindOperation("drum-hook")!));
        Do(Logs.Done(Machine.Layout, Machine.Layout.FindOperation("front-off")!));
        var whole = FastenerLedger.Of(State.Ledger, Machine.Layout, false).Rows.Single(r => r.Group.Id == "front-side");
        Assert.Equal((2, 2, row.Tray), (whole.Expected, whole.Out, whole.Tray));
        Assert.Empty(OddCounts.Of(FastenerLedger.Of(State.Ledger, Machine.Layout, false), State.Ledger));
    }

    [Fact]
    public void A_screw_that_never_goes_back_is_missing_by_tray_and_kind()
    {
        Open();
        StripFor("belt");
        while (State.Out.Count > 0)
        {
            DoUnguarded(
                Machine.Planner.Refit(State.Out, State.StepsIn)[0].Operation.Id == "front-screws"
                    ? Back(shortBy: 1)
                    : Back()
            );
        }
        var ledger = FastenerLedger.Of(State.Ledger, Machine.Layout, State.Machine.Units == LengthUnit.Inch);
        Assert.Contains(
            "Missing: 1 × cross no. 2, 19 mm long, zinc of tray B",
            Assert.Single(ledger.Remarks),
            StringComparison.Ordinal
        );
        Assert.Equal(
            (2, 1),
            ledger
                .Kinds.Where(k => k.Words.Contains("19 mm", StringComparison.Ordinal))
                .Select(k => (k.Out, k.In))
                .Single()
        );
    }

    [Fact]
    public void An_extra_screw_found_raises_what_is_expected_and_two_lengths_of_one_step_get_two_trays()
    {
        Open();
        Do(new ProblemNoted("duct-cover-off", "extra-screw", "duct-up", 1, ""));
        Do(
            new TargetsChosen(
                ["blower"],
                "",
                new Dictionary<string, OperationId> { ["blower-reach"] = "duct-cover-off" },
                ""
            )
        );
        Sign();
        while (JobPlan.Of(State, Machine) is { Removal: [var next, ..] })
        {
            Do(new OperationDone(next.Id, next.Removed.ToDictionary(f => f.Id, f => State.Ledger.Expected(f))));
        }
        var rows = FastenerLedger
            .Of(State.Ledger, Machine.Layout, State.Machine.Units == LengthUnit.Inch)
            .Rows.Where(r => r.OperationId == "duct-cover-off")
            .ToList();
        Assert.Equal([2, 2], rows.Select(r => r.Out));
        Assert.Equal(2, rows.Select(r => r.Tray).Distinct().Count());
        var ledger = FastenerLedger.Of(State.Ledger, Machine.Layout, State.Machine.Units == LengthUnit.Inch);
        var (low, up) = (
            ledger.Rows.Single(r => r.Group.Id == "duct-low").Group,
            ledger.Rows.Single(r => r.Group.Id == "duct-up").Group
        );
        Assert.Equal(low, ledger.LookAlike(up)!.Group);
        Assert.Equal("13 against 10 mm long", FastenerWords.Difference(low, up));
        Assert.Equal("1/2 in against 3/8 in long", FastenerWords.Difference(low, up, inch: true));
        var trays = ledger.Rows.Select(r => r.Tray).ToList();
        Assert.Equal(trays.Order(StringComparer.Ordinal), trays);
    }

    [Fact]
    public void A_plug_left_parted_blocks_closing()
    {
        Open();
        StripFor("belt");
        Do(new PartFitted("belt", "replaced", "", [], ""));
        while (State.Out.Count > 0)
        {
            Do(Back() with { Plugs = [] });
        }
        Assert.Contains(OpenItems.Of(State, Machine), i => i.Text == "Plug not joined: Door switch.");
    }

    [Fact]
    public void Only_the_last_act_can_be_taken_back_and_a_closed_job_takes_nothing_but_reopening()
    {
        Open();
        Do(new NoteAdded("", "first"));
        Do(new NoteAdded("", "second"));
        Assert.Contains("eventId", Errors(new Undone(log[1].Id)));
        Do(new Undone(log[2].Id));
        Assert.Equal(["first"], State.Notes.Select(n => n.Text));
        Do(new JobClosed("", "A test."));
        Assert.Contains("kind", Errors(new ComplaintStated(["squeal"], "")));
        Do(new JobReopened("It squeals again."));
        Assert.Empty(Errors(new ComplaintStated(["squeal"], "")));
    }

    [Fact]
    public void An_act_carries_the_job_to_its_station_and_undo_carries_it_back()
    {
        Open();
        Do(new ComplaintStated(["squeal"], ""));
        Assert.Equal(Station.Find, State.Station);
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), "test"));
        Assert.Equal(Station.Strip, State.Station);
        Do(new Undone(log[^1].Id));
        Assert.Equal((Station.Find, 0), (State.Station, State.Targets.Count));
        StripFor("belt");
        Assert.Equal(Station.Strip, State.Station);
        Do(new PartFitted("belt", "replaced", "", [], ""));
        Assert.Equal(Station.Fit, State.Station);
        Do(Back());
        Assert.Equal(Station.Rebuild, State.Station);
        // Another part while it is open, or a step taken off again: stripping goes on.
        Do(new TargetsChosen(["belt", "idler"], "", new Dictionary<string, OperationId>(), ""));
        Assert.Equal(Station.Strip, State.Station);
        Do(new Undone(log[^1].Id));
        Assert.Equal(Station.Rebuild, State.Station);
        while (State.Out.Count > 0)
        {
            Do(Back());
        }
        Do(new ProofRecorded("hand-turn", "ok", null, ""));
        Assert.Equal((Station.Prove, ""), (State.Station, State.SafeBy));
    }

    [Fact]
    public void A_corrected_layout_asks_for_the_decision_anew_and_a_corrected_fact_keeps_what_was_done()
    {
        Open();
        Do(new ComplaintStated(["squeal"], ""));
        Do(
            new TargetsChosen(
                ["idler"],
                "idler-dry",
                new Dictionary<string, OperationId> { ["idler-reach"] = "idler-out" },
                ""
            )
        );
        Sign();
        var other = State.Machine with { LayoutId = "quenby-qd62", Facts = [] };
        Assert.Empty(Errors(new MachineCorrected(other)));
        Do(new MachineCorrected(other));
        Assert.Equal(
            (0, "", 0, "", Station.Find),
            (State.Targets.Count, State.FaultId.Value, State.WaysIn.Count, State.SafeBy, State.Station)
        );
        Assert.Contains("squeal", State.Complaints);
        Do(new Undone(log[^1].Id));
        Assert.Equal("idler", Assert.Single(State.Targets));
        while (JobPlan.Of(State, Machine) is { Removal: [var next, ..] } && !State.Out.Contains("earth-clip"))
        {
            Do(Logs.Done(Machine.Layout, next));
        }
        Assert.Contains("machine.layoutId", Errors(new MachineCorrected(other)));
        Assert.Contains("machine.facts", Errors(new MachineCorrected(State.Machine with { Facts = [] })));
        Assert.Empty(Errors(new MachineCorrected(State.Machine with { AgeYears = 12 })));
    }

    [Fact]
    public void A_part_that_is_not_free_cannot_be_replaced()
    {
        Open();
        Assert.Contains("partId", Errors(new PartFitted("belt", "replaced", "", [], "")));
        StripFor("belt");
        Assert.Contains("transferred", Errors(new PartFitted("belt", "replaced", "", ["door"], "")));
        Assert.Contains("school", Errors(new PartFitted("belt", "replaced", "prayer", [], "")));
        Assert.Empty(Errors(new PartFitted("belt", "replaced", "latch", [], "")));
    }

    [Theory]
    [InlineData(FastenerHead.Nut, 22, false, "22 N·m")]
    [InlineData(FastenerHead.Nut, 22, true, "195 lbf·in")]
    [InlineData(FastenerHead.Nut, 0, true, "snug, by two tools")]
    [InlineData(FastenerHead.Cross, 0, false, "")]
    public void Tightness_is_what_the_layout_states_and_a_nut_is_snug_else(
        FastenerHead head,
        double torque,
        bool inch,
        string text
    ) =>
        Assert.Equal(
            text,
            FastenerWords.Tightness(
                new()
                {
                    Id = "n",
                    Count = 1,
                    Head = head,
                    Where = "",
                    TorqueNm = torque,
                },
                inch
            )
        );

    [Theory]
    [InlineData(16, false, "16 mm")]
    [InlineData(16, true, "5/8 in")]
    [InlineData(25.4, true, "1 in")]
    [InlineData(31.75, true, "1 1/4 in")]
    public void Lengths_are_shown_in_millimetres_or_fractions_of_an_inch(double mm, bool inch, string text) =>
        Assert.Equal(text, Length.Show(mm, inch));
}
