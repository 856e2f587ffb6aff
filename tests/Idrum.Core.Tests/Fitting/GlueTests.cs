using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Tests.Jobs;

namespace Idrum.Core.Tests.Fitting;

/// <summary>Glue that is waited for: coated, joined in its window, loaded, heated.</summary>
public class GlueTests : JobStory
{
    private static Handbook Book => TestShop.Shop.Handbook;

    private static Procedure Front => Book.For("front-felt")!;

    private static BondTimes Times(string school, double celsius, GlueHabits? habits = null) =>
        (habits ?? GlueHabits.Usual).Times(Book, Front.Schools.First(s => s.Id == school), celsius)!;

    private void Coated(string school = "contact", double celsius = 20)
    {
        OpenFor("front-felt");
        Strip();
        Do(GlueCoated.Of("front-felt", school, Times(school, celsius), celsius));
    }

    [Fact]
    public void Contact_cement_waits_ten_to_fifteen_minutes_in_a_room_longer_in_a_cellar_and_the_other_way_a_minute()
    {
        Assert.InRange(Times("contact", 20).Earliest, 10, 15);
        Assert.True(Times("contact", 8).Earliest > 1.8 * Times("contact", 20).Earliest);
        Assert.True(Times("contact", 8).Cure > Times("contact", 20).Cure);
        Assert.True(Times("contact", 32).Latest < Times("contact", 20).Latest / 2 + 1);
        Assert.InRange(Times("seal", 20).Earliest, 0.5, 2);
        // Half as long for ten degrees more: worked out by hand.
        Assert.Equal(24, Times("contact", 10).Earliest, 9);
        Assert.Equal(6, Times("contact", 30).Earliest, 9);
        Assert.Throws<ArgumentOutOfRangeException>(() => Times("contact", 80));
    }

    [Theory]
    [InlineData(0, "32 °F")]
    [InlineData(20, "68 °F")]
    [InlineData(-5, "23 °F")]
    public void Degrees_are_read_and_shown_as_the_shop_has_them(double celsius, string fahrenheit)
    {
        Assert.Equal(fahrenheit, Degrees.Show(celsius, true));
        Assert.Equal(
            celsius,
            Degrees.Celsius(
                double.Parse(fahrenheit.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture),
                true
            ),
            9
        );
        Assert.Equal($"{celsius} °C", Degrees.Show(celsius, false));
        Assert.Equal(celsius, Degrees.Celsius(celsius, false));
    }

    [Fact]
    public void What_the_tube_says_wins_over_what_the_handbook_says()
    {
        var habits = new GlueHabits(
            20,
            new Dictionary<string, TubeLabel> { ["contact-cement"] = new(new(5, 9, 2, 10, 60), 23) }
        );
        Assert.Equal(5, Times("contact", 23, habits).Earliest, 9);
        Assert.Equal(10, Times("contact", 13, habits).Earliest, 9);
        Assert.Equal(Times("seal", 20), Times("seal", 20, habits));
    }

    [Theory]
    [InlineData(20, 10, 30, 60, "latest")]
    [InlineData(-1, 10, 30, 60, "earliest")]
    [InlineData(5, 10, 90, 60, "cure")]
    [InlineData(5, 1e9, 30, 60, "latest")]
    public void Times_in_the_wrong_order_or_absurd_are_named_at_their_field(
        double earliest,
        double latest,
        double handling,
        double cure,
        string field
    )
    {
        var errors = new FieldErrors();
        new BondTimes(earliest, latest, 3, handling, cure).Check(errors, f => f);
        Assert.Equal(field, Assert.Single(errors.All).Pointer);
        OpenFor("front-felt");
        Strip();
        var refused = Errors(GlueCoated.Of("front-felt", "contact", new(earliest, latest, 3, handling, cure), 20));
        Assert.Equal((field == "earliest" ? "join" : field) + "Minutes", Assert.Single(refused).Pointer);
        Assert.Equal(
            "celsius",
            Assert.Single(Errors(GlueCoated.Of("front-felt", "contact", Times("contact", 20), 300))).Pointer
        );
    }

    [Fact]
    public void Each_way_has_its_own_steps_minutes_and_window()
    {
        var (contact, seal) = (
            Front.StepsOf("contact").Select(s => s.Do).ToList(),
            Front.StepsOf("seal").Select(s => s.Do).ToList()
        );
        Assert.Contains(contact, s => s.Contains("felt and metal", StringComparison.Ordinal));
        Assert.DoesNotContain(seal, s =>
            s.Contains("felt and metal", StringComparison.Ordinal) || s.Contains("transfers", StringComparison.Ordinal)
        );
        Assert.Contains(seal, s => s.Contains("metal only", StringComparison.Ordinal));
        Assert.NotEqual(Front.MinutesOf("contact"), Front.MinutesOf("seal"));
        var rear = Book.For("rear-felt")!;
        Assert.DoesNotContain(rear.StepsOf("contact"), s => s.Do.Contains("Inject", StringComparison.Ordinal));
        Assert.True(GlueHabits.Usual.Times(Book, rear.School("inject"))!.Earliest < 1);
    }

    [Fact]
    public void Joined_too_early_or_too_late_is_refused_and_a_new_coat_starts_a_new_window()
    {
        Coated();
        var coated = At;
        At = coated.AddMinutes(11);
        Assert.Contains(
            "Too early: 1 min",
            Assert.Single(Errors(new GlueJoined("front-felt", ""))).Message,
            StringComparison.Ordinal
        );
        At = coated.AddMinutes(33);
        var late = Assert.Single(Errors(new GlueJoined("front-felt", "")));
        Assert.Contains("closed 3 min ago", late.Message, StringComparison.Ordinal);
        Assert.Contains("coat again", late.Message, StringComparison.Ordinal);
        Assert.Contains(
            "coat again",
            Assert.Single(Errors(new PartFitted("front-felt", "replaced", "contact", [], ""))).Message,
            StringComparison.Ordinal
        );
        Do(GlueCoated.Of("front-felt", "contact", Times("contact", 20), 20));
        Assert.Equal(2, State.Timers.Count(t => !t.Stopped));
        At = At.AddMinutes(20);
        Do(new GlueJoined("front-felt", ""), 0);
        Assert.Equal(At.AddMinutes(240), State.CuredAt);
        Assert.Equal("Glue cures: no heat before", Assert.Single(State.Timers, t => !t.Stopped).Label);
    }

    [Fact]
    public void The_window_rings_before_it_opens_and_before_it_closes()
    {
        Coated("contact", 8);
        var timers = State.Timers.Where(t => !t.Stopped).OrderBy(t => t.EndsAt).ToList();
        Assert.Equal(
            [At.AddMinutes(Times("contact", 8).Earliest), At.AddMinutes(Times("contact", 8).Latest)],
            timers.Select(t => t.EndsAt)
        );
        Assert.All(timers, t => Assert.InRange(t.AheadSeconds, 30, 300));
    }

    [Fact]
    public void A_machine_is_not_closed_on_a_coat_that_is_not_joined()
    {
        Coated();
        At = At.AddMinutes(15);
        IReadOnlyList<FieldError> refused = [];
        while (State.Out.Count > 0 && refused.Count == 0)
        {
            var back = StepForward.In(State, Machine.Planner.Refit(State.Out, State.StepsIn)[0]);
            refused = Errors(back);
            if (refused.Count == 0)
            {
                Do(back, 0);
            }
        }
        Assert.Contains("coated and not joined", Assert.Single(refused).Message, StringComparison.Ordinal);
        Do(new GlueJoined("front-felt", ""), 0);
        Do(new PartFitted("front-felt", FittedAs.Replaced, "contact", [], ""));
        Do(StepForward.In(State, Machine.Planner.Refit(State.Out, State.StepsIn)[0]), Times("contact", 20).Handling);
    }

    [Fact]
    public void What_slipped_is_set_again_when_it_is_tackier_and_is_not_replaced_till_then()
    {
        Coated();
        At = At.AddMinutes(14);
        Assert.Equal("partId", Assert.Single(Errors(new GlueSlipped("front-felt"))).Pointer);
        Do(new GlueJoined("front-felt", ""), 0);
        Do(new PartFitted("front-felt", "replaced", "contact", [], ""));
        Do(new GlueSlipped("front-felt"), 4);
        Assert.False(State.Fitted.ContainsKey("front-felt"));
        Assert.Null(State.CuredAt);
        Assert.Contains(
            "until it may be joined",
            Assert.Single(Errors(new PartFitted("front-felt", "replaced", "contact", [], ""))).Message,
            StringComparison.Ordinal
        );
        Assert.NotEmpty(Errors(new GlueJoined("front-felt", "")));
        Do(new GlueJoined("front-felt", ""), 5);
        Assert.Equal(At.AddMinutes(240), State.CuredAt);
        Do(new PartFitted("front-felt", "replaced", "contact", [], ""));
    }
}
