using Idrum.Core.Machines;

namespace Idrum.Core.Tests;

/// <summary>What the content says to whoever works by it: the trade's corrections and dangers, line by line, and what
/// must not stand anywhere any more.</summary>
public class SayingsTests
{
    private static readonly string Folder = TestShop.Root;
    private static readonly string Findings = Text("findings.json");
    private static readonly string Faults = Text("faults.json");
    private static readonly string Handbook = Text("handbook.json");
    private static readonly string Hazards = Text(Path.Combine("vocabulary", "hazards.json"));
    private static readonly string Layouts = string.Join(
        '\n',
        Directory.GetFiles(Path.Combine(Folder, "layouts")).Select(File.ReadAllText)
    );
    private static readonly string All = string.Join('\n', Findings, Faults, Handbook, Hazards, Layouts);

    private static string Text(string name) => File.ReadAllText(Path.Combine(Folder, name));

    private static string Of(string finding)
    {
        var f = TestShop.Shop.Catalog.FindFinding(finding)!;
        return $"{f.Name}. {f.Do}. {f.Why} {f.Caution} {string.Join(". ", f.Outcomes.Select(o => o.Label))}";
    }

    [Theory]
    // Rates.
    [InlineData("chirp-rate", "seven or eight times a drum turn", "nine to eleven", "by hand, supply off")]
    [InlineData("drum-count", "tape mark", "wet cloth", "under 4 %", "twelfth")]
    [InlineData("thump-rate", "double knock once a turn", "passing both rollers", "six to eight a turn")]
    [InlineData(
        "motor-sound",
        "run down together while the belt is on",
        "stops at once when the door opens is the hum",
        "Hands stay out until the drum stands"
    )]
    // Where a sound sits.
    [InlineData("listen-rear", "on some motor and idler")]
    [InlineData("listen-front", "front rollers or support wheels")]
    [InlineData("rim-play", "5 mm up or 3 mm in and out are much", "a finger’s width is far too much")]
    [InlineData(
        "rear-lift",
        "lift the drum’s back by a baffle",
        "Lifting the front rim only lifts the drum off its front rest"
    )]
    [InlineData("rim-gap", "at the top where its lip runs inside", "below where it runs over a collar")]
    [InlineData("front-felt-look", "below where the lip runs inside", "above where it runs over a collar")]
    // Dangers.
    [InlineData("start-listen", "let go within three seconds", "unplugged at once")]
    [InlineData(
        "supply",
        "leg to leg, and each leg to neutral",
        "A lamp proves one leg only",
        "Tester proved, outlet measured, tester proved again",
        "208 V",
        "By who may measure"
    )]
    [InlineData(
        "start-held",
        "Door open",
        "press start",
        "Hum, click or nothing",
        "Arms, sleeves and laundry out",
        "Let start go at once",
        "one live minute"
    )]
    [InlineData(
        "motor-volts",
        "qualified person",
        "Leads clipped on dead, plug joined, hands off, then power",
        "One conductor in a clamp, never the whole cord"
    )]
    [InlineData(
        "motor-ohms",
        "leads zeroed",
        "winding to frame",
        "maker’s sheet",
        "a label gives no figures",
        "discharged through a resistor and measured"
    )]
    [InlineData("cool-wait", "half an hour")]
    [InlineData("smell", "Supply off")]
    // Parts.
    [InlineData("arm-switch", "where the arm stands with the belt on", "others let it go")]
    [InlineData("thermal-meter", "On some machines it stops everything, on others only the heat")]
    [InlineData("shaft-look", "A nail catches a tenth of a millimetre: that is the limit")]
    [InlineData("belt-track", "over or under the idler as drawn")]
    [InlineData("belt-marks", "1.5 % longer than its number")]
    [InlineData("roller-spin", "beside its twin", "before the bulkhead closes")]
    [InlineData("load-try", "Empty first, without heat, then loaded")]
    public void A_check_says(string finding, params string[] words) =>
        Assert.All(words, w => Assert.Contains(w, Of(finding), StringComparison.OrdinalIgnoreCase));

    [Fact]
    public void A_check_that_only_some_machines_allow_is_asked_of_them_only()
    {
        // A door falls flat by its springs only where it has some; the arm's switch is asked for only where one is
        // fitted.
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var machine = TestShop.Machine(layout.Id);
            var findings = machine.Diagnostician.Model.Findings.Select(f => f.Id).ToHashSet();
            var springs = machine.Layout.PartsOfKind(["door-spring"]).Any();
            Assert.True(springs || !machine.Diagnostician.Model.Faults.Any(f => f.Id == "door-spring-off"), layout.Id);
            Assert.Equal(machine.Layout.PartsOfKind(["belt-switch"]).Any(), findings.Contains("switch-meter"));
        }
    }

    [Theory]
    // Heat, cutting, sparks; capacitors; the tester; gas.
    [InlineData("Heat, cutting, sparks: lint and plastic away, gas shut and the room aired, an extinguisher at hand")]
    [InlineData("discharge it through a resistor and measure that it is empty")]
    [InlineData("Tester proved on a known source, the place measured, the tester proved again")]
    [InlineData("capacitors discharged through a resistor and measured")]
    [InlineData("Gas valve is shut before the machine is moved, no further than the line allows, no kink")]
    [InlineData("someone allowed to do so, with the name")]
    [InlineData("Contact cement only where its label gives the temperature")]
    [InlineData("A roller a millimetre larger carries the drum askew")]
    [InlineData("It is tucked: only its joint is glued")]
    [InlineData("Clean and oil a dry sleeve roller sparingly")]
    [InlineData("Record each roller before the bulkhead closes: free, rough or stuck")]
    [InlineData("Where no belt switch is fitted, a closed and dead machine is this switch first of all")]
    [InlineData("Closed as the arm stands with the belt on")]
    [InlineData("listen cold at the first start and again after five minutes")]
    [InlineData("Listen at the first start, then run it five minutes")]
    [InlineData("hands stay out until the drum stands")]
    [InlineData("Drum turns and blower does not: wrong course")]
    [InlineData("Ribs out or twisted")]
    [InlineData("Off its track it walks off")]
    [InlineData("Forgotten on its latch the arm leaves the belt slack")]
    [InlineData("Behind the harness or round the wire hook")]
    [InlineData("On the wrong side of its stop an arm holds no belt")]
    [InlineData("In another slot the belt runs askew")]
    [InlineData("Winding figures are those of its sheet, not of the label")]
    public void The_handbook_says(string words) => Assert.Contains(words, Handbook, StringComparison.Ordinal);

    [Theory]
    [InlineData("idler fastest")]
    [InlineData("fastest of all")]
    [InlineData("too fast to count")]
    [InlineData("motor runs down first")]
    [InlineData("runs down alone")]
    [InlineData("thumps with a larger roller")]
    [InlineData("larger roller thumps")]
    [InlineData("figures of the label")]
    [InlineData("as the label says, open")]
    [InlineData("glued all round in its channel")]
    public void Nothing_says_any_more(string words) =>
        Assert.DoesNotContain(words, All, StringComparison.OrdinalIgnoreCase);

    [Fact]
    public void A_faults_own_words_are_put_right()
    {
        string Detail(string id) => TestShop.Shop.Catalog.FindFault(id)!.Detail;
        Assert.Contains("a little faster than the rollers", Detail("idler-dry"), StringComparison.Ordinal);
        Assert.Contains("double knock once a turn", Detail("track-debris"), StringComparison.Ordinal);
        Assert.Contains("six to eight times a drum turn", Detail("roller-flat"), StringComparison.Ordinal);
        Assert.Contains(
            "after the vent is proved",
            TestShop.Shop.Catalog.FindFault("heating")!.Fix,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Solvent_gas_and_heat_are_dangers_and_no_adhesive_takes_heat_that_its_label_does_not_give()
    {
        foreach (var id in new[] { "solvent", "gas-line" })
        {
            Assert.Equal("danger", TestShop.Shop.Words.FindHazard(id)!.Severity);
        }
        Assert.Contains("no flame", TestShop.Shop.Words.FindHazard("solvent")!.Text, StringComparison.Ordinal);
        Assert.Contains("no kink", TestShop.Shop.Words.FindHazard("gas-line")!.Text, StringComparison.Ordinal);
        var procedures = TestShop.Shop.Handbook.Procedures.Where(p => p.Glues).ToList();
        Assert.NotEmpty(procedures);
        Assert.All(
            procedures.Where(p => p.Schools.Any(s => s.Text.Contains("Contact cement", StringComparison.Ordinal))),
            p =>
                Assert.Contains(p.Traps.Concat(p.Schools.Select(s => s.Why)), t =>
                    t.Contains("label gives the temperature", StringComparison.Ordinal)
                )
        );
    }

    [Fact]
    public void Before_a_machine_that_smells_burnt_runs_nose_lint_torch_and_hand_were_there()
    {
        var move = TestShop.Shop.Catalog.Moves.Single(m => m.Id == "burning");
        Assert.Equal(["smell", "chute", "blower-torch", "drum-hand"], move.Checks);
        Assert.True(move.BeforeRunning);
        Assert.Equal(
            ["overload-look", "drum-hand", "blower-torch"],
            TestShop.Shop.Catalog.Moves.Single(m => m.Id == "hums").Checks
        );
        Assert.Equal(
            ["supply", "door-hold", "drum-hand"],
            TestShop.Shop.Catalog.Moves.Single(m => m.Id == "dead").Checks
        );
        Assert.Equal("start-listen", TestShop.Shop.Catalog.Moves.Single(m => m.Id == "slow").Checks[0]);
        Assert.Equal("baffle-rock", TestShop.Shop.Catalog.Moves.Single(m => m.Id == "once-a-turn").Checks[0]);
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void No_drum_on_a_hook_is_turned_and_the_hook_comes_off_as_soon_as_something_carries(string layoutId)
    {
        // The whole way in after the drum was out: wherever a step turns the drum, hook and baffle wire are off by
        // then.
        var machine = TestShop.Machine(layoutId);
        var layout = machine.Layout;
        var holds = layout.Operations.Where(o => o.Id.Value is "drum-hook" or "baffle-wire").Select(o => o.Id).ToList();
        foreach (var target in new[] { "belt", "rear-felt" }.Where(t => layout.FindPart(t) is not null))
        {
            var plan = machine.Planner.Plan(new([target], [], new Dictionary<string, OperationId>()))!;
            var still = plan.Removal.Select(o => o.Id).Intersect(holds).ToHashSet();
            foreach (var move in plan.Refit)
            {
                var words = $"{move.Step.Do} {string.Join(' ', move.Step.Checks.Select(c => c.Text))}";
                if (
                    still.Count > 0
                    && (
                        words.Contains("whole turn", StringComparison.OrdinalIgnoreCase)
                        || words.Contains("Turn the drum", StringComparison.OrdinalIgnoreCase)
                        || words.Contains("one turn by hand", StringComparison.OrdinalIgnoreCase)
                    )
                )
                {
                    Assert.Fail($"{layoutId}: “{words}” while {string.Join(", ", still)} holds the drum");
                }
                var left = plan.Refit.Where(m => m.Operation.Id == move.Operation.Id).Last();
                if (holds.Contains(move.Operation.Id) && left == move)
                {
                    still.Remove(move.Operation.Id);
                }
            }
            Assert.Empty(still);
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Limits_are_half_a_millimetre_of_flat_and_a_tenth_of_groove(string layoutId)
    {
        foreach (
            var (part, limit) in TestShop
                .Machine(layoutId)
                .Layout.Parts.SelectMany(p => p.Limits.Select(l => (p.Id, l)))
        )
        {
            Assert.True(
                !limit.Quantity.Contains("flat", StringComparison.Ordinal) || limit.Worn == 0.5,
                $"{layoutId} {part}: {limit.Quantity} {limit.Worn}"
            );
            Assert.True(
                !limit.Quantity.Contains("groove", StringComparison.Ordinal) || limit.Worn == 0.1,
                $"{layoutId} {part}: {limit.Quantity} {limit.Worn}"
            );
        }
    }
}
