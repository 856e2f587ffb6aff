using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Fitting;

/// <summary>How parts are replaced, held against what the trade does.</summary>
public class ProcedureTests
{
    private static Handbook Book => TestShop.Shop.Handbook;

    private static IEnumerable<(Layout Layout, Part Part)> Wearing =>
        TestShop
            .Shop.Layouts.Select(l => TestShop.Machine(l.Id).Layout)
            .SelectMany(l => l.Parts.Where(p => p.Wears).Select(p => (l, p)));

    [Fact]
    public void Whatever_wears_on_any_machine_has_steps_minutes_and_says_when_it_is_right_by_every_way()
    {
        foreach (var (layout, part) in Wearing)
        {
            var procedure = Book.For(part, layout);
            Assert.True(procedure is not null, $"{part.Kind}: no procedure");
            Assert.True(procedure.Accept.Length > 0, part.Kind);
            Assert.All(procedure.Schools, s =>
                Assert.True(s.Why.Length > 0, $"{layout.Id} {part.Id} {s.Id}: no reason")
            );
            foreach (var school in procedure.Schools.Select(s => s.Id).DefaultIfEmpty(""))
            {
                var steps = procedure.StepsOf(school).ToList();
                Assert.True(steps.Count >= 3, $"{layout.Id} {part.Id} {school}");
                Assert.All(steps, s => Assert.True(s.Why.Length > 0, $"{part.Kind}, {s.Do}: no reason"));
                Assert.InRange(procedure.MinutesOf(school), 2, 45);
            }
        }
    }

    // What a repairer would laugh at: a step for something his machine has not.
    [Theory]
    [InlineData("arm", "idler-arm")]
    [InlineData("belt switch", "belt-switch")]
    [InlineData("spring last", "idler-spring", "motor-spring")]
    [InlineData("hinge pin", "motor-spring")]
    [InlineData("glide", "glide")]
    [InlineData("earth ball", "earth-ball")]
    public void No_step_speaks_of_what_the_machine_has_not(string words, params string[] kinds)
    {
        var said = 0;
        foreach (var (layout, part) in Wearing)
        {
            foreach (
                var step in Book.For(part, layout)!
                    .Steps.Where(s =>
                        System.Text.RegularExpressions.Regex.IsMatch(
                            s.Do,
                            $@"\b{words}\b",
                            System.Text.RegularExpressions.RegexOptions.IgnoreCase
                        )
                    )
            )
            {
                said++;
                Assert.True(layout.Parts.Any(p => kinds.Contains(p.Kind)), $"{layout.Id}, {part.Name}: {step.Do}");
            }
        }
        Assert.True(said > 0);
    }

    [Fact]
    public void A_wheel_is_taken_off_as_it_sits_a_left_hand_nut_clockwise_a_clamp_and_ring_without_one()
    {
        foreach (var (layout, part) in Wearing.Where(w => w.Part.Kind == PartKinds.BlowerWheel))
        {
            var nut = layout
                .Operations.SelectMany(o => o.TakesOff.Contains(part.Id) ? o.Fasteners : [])
                .Any(f => f.Thread == "left-hand");
            foreach (
                var about in layout
                    .Parts.Where(p => p is { Kind: PartKinds.Motor, Wears: true, SoldAs: not SoldAs.Assembly })
                    .Append(part)
            )
            {
                var steps = Book.For(about, layout)!.StepsOf("motor").ToList();
                Assert.True(steps.Any(s => s.Turn == "left-hand") == nut, $"{layout.Id} {about.Id}");
                Assert.True(
                    steps.Any(s => s.Do.Contains("wheel", StringComparison.OrdinalIgnoreCase)),
                    $"{layout.Id} {about.Id}"
                );
            }
        }
        // Sold as one with its blower, a motor is changed in no other way.
        var unit = TestShop.Machine("ostrel-or78").Layout;
        Assert.Equal(["unit"], Book.For(unit.FindPart("motor")!, unit)!.Schools.Select(s => s.Id));
        // A bayonet, its rear ring before the wheel.
        var bayonet = TestShop.Machine("marlune-mg61").Layout;
        var turned = Book.For(bayonet.FindPart("motor")!, bayonet)!.StepsOf("motor").Select(s => s.Do).ToList();
        Assert.True(
            turned.FindIndex(s => s.StartsWith("Rear ring", StringComparison.Ordinal)) is >= 0 and var ring
                && ring < turned.FindIndex(s => s.StartsWith("Wheel's flat", StringComparison.Ordinal))
        );
        Assert.Contains(turned, s => s.Contains("eighth of a turn", StringComparison.Ordinal));
    }

    [Fact]
    public void Every_roller_lies_in_its_stack_and_whatever_comes_over_is_in_it()
    {
        foreach (var (layout, part) in Wearing.Where(w => w.Part.Kind == PartKinds.DrumRoller))
        {
            Assert.Single(part.Stack, p => p.Own);
            Assert.True(part.Stack.Count >= 4, $"{layout.Id} {part.Id}");
            var over = PartStack.Of(part, []).Where(p => p.Fate == PieceFate.GoesOn).Select(p => p.Piece.Name).ToList();
            Assert.All(part.Transfer, t =>
                Assert.True(
                    over.Exists(o =>
                        o == t || t == o + "s" || t == "washers" && o.EndsWith("washer", StringComparison.Ordinal)
                    ),
                    $"{layout.Id} {part.Id}: {t} is not in the stack"
                )
            );
        }
    }

    [Fact]
    public void A_kit_puts_its_fibre_washers_where_the_spring_washer_was()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var kit = TestShop.Shop.Supplier.For(layout, "").First(a => a.Id == "OT50-K1");
        Assert.Equal(
            [
                ("retainer ring", PieceFate.New),
                ("large washer", PieceFate.GoesOn),
                ("roller", PieceFate.New),
                ("spring washer", PieceFate.Needless),
                ("fibre washers", PieceFate.New),
                ("shaft", PieceFate.Stays),
            ],
            PartStack.Of(layout.FindPart("roller-left")!, [kit]).Select(p => (p.Piece.Name, p.Fate))
        );
    }

    [Theory]
    [InlineData("belt", "Latch", "Hold the idler with one hand", "slack", "rear access panel")]
    [InlineData("drum-roller", "all rollers", "Only|only the bad one", "ball-bearing")]
    [InlineData("idler-arm", "spring last", "Spring on first")]
    [InlineData("idler-pulley", "change the pulley", "assembly")]
    [InlineData("rear-shaft", "alone", "as a set")]
    [InlineData("ball-hitch", "alone", "complete set")]
    [InlineData("front-felt", "both faces", "metal only")]
    [InlineData("rear-felt", "inject", "both faces")]
    [InlineData("motor", "Motor alone", "one unit")]
    [InlineData("heater", "coil alone", "ready-built can")]
    public void Where_repairers_disagree_each_way_is_there_and_differs_from_the_usual_one(
        string kind,
        params string[] ways
    )
    {
        var procedure = Book.For(kind)!;
        foreach (var way in ways)
        {
            Assert.Contains(procedure.Schools, s =>
                way.Split('|').Any(w => s.Text.Contains(w, StringComparison.OrdinalIgnoreCase))
            );
        }
        Assert.True(procedure.Schools[0].Why.Length > 0, "the usual way says why");
    }

    [Fact]
    public void A_left_hand_nut_is_drawn_with_its_arrow_and_loosens_clockwise()
    {
        var steps = Book
            .Procedures.SelectMany(p => p.Steps)
            .Where(s => (s.Do + s.Why).Contains("left-hand", StringComparison.OrdinalIgnoreCase))
            .ToList();
        Assert.True(steps.Count >= 4);
        Assert.All(steps, s => Assert.Equal("left-hand", s.Turn));
        Assert.DoesNotContain(steps, s =>
            (s.Do + s.Why).Contains("loosens anticlockwise", StringComparison.OrdinalIgnoreCase)
            || (s.Do + s.Why).Contains("tightens clockwise", StringComparison.OrdinalIgnoreCase)
        );
    }

    [Fact]
    public void What_must_be_known_before_is_a_step()
    {
        Assert.Contains(Book.For("belt")!.StepsOf("latch"), s =>
            s.Why.Contains("old cause comes back", StringComparison.Ordinal)
        );
        Assert.Contains(Book.For("motor")!.StepsOf("unit"), s => s.Do.Contains("cloth", StringComparison.Ordinal));
        Assert.DoesNotContain(Book.For("motor")!.StepsOf("unit"), s =>
            s.Do.Contains("wheel off first", StringComparison.Ordinal)
        );
        Assert.Contains(Book.For("drum-roller")!.StepsOf("all"), s =>
            s.Why.Contains("replace the spring washer", StringComparison.Ordinal)
        );
        Assert.Contains(Book.For("drum-roller")!.StepsOf("all"), s =>
            s.Do.Contains("every other roller", StringComparison.Ordinal)
        );
        Assert.DoesNotContain(Book.For("drum-roller")!.StepsOf("one"), s =>
            s.Do.Contains("every other roller", StringComparison.Ordinal)
        );
        Assert.Contains(Book.For("ball-hitch")!.StepsOf("part"), s =>
            s.Do.Contains("cut its threads first", StringComparison.Ordinal)
        );
    }
}
