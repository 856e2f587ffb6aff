using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Jobs;

/// <summary>The customer says no: to one part or to all, and a machine that is open goes together with the old
/// ones.</summary>
public class DeclinedTests : JobStory
{
    private void Rebuild()
    {
        while (WayBackGuard.Next(State, Machine, JobPlan.WayBack(State, Machine), At) is { } next)
        {
            Do(StepForward.In(State, next.Move));
        }
    }

    [Fact]
    public void A_stripped_machine_goes_together_with_the_old_parts()
    {
        OpenFor("roller-left", "roller-right");
        Strip();
        var stands = State.Out.Count;
        Do(new WorkDeclined([], "A. Customer", "too dear"));
        Assert.Empty(State.Targets);
        Assert.Equal(["roller-left", "roller-right"], State.Declined.Select(d => d.Part));
        Assert.All(State.Found, f => Assert.Equal(Decided.Leave, f.Decision));
        Assert.Equal(stands, State.Out.Count);
        Rebuild();
        Assert.Empty(State.Out);
        // Opened, it is owed its cleaning all the same.
        Do(
            new OwedSettled([.. Owed.Open(State, Machine).Select(o => o.Id)], OwedOutcome.Left, "A. Customer: too dear")
        );
        Assert.DoesNotContain(OpenItems.Of(State, Machine), i => i.Station is Station.Find or Station.Fit);
        Assert.DoesNotContain(Estimates.PriceOf(State, Machine, new ShopTerms(), 40, 1).Lines, l => l.Kind == "part");
        // What was declined and what it risks is there to be told.
        Assert.Contains("seize", Machine.Words.RiskOf("drum-roller"), StringComparison.Ordinal);
    }

    [Fact]
    public void One_of_two_is_declined_the_other_is_fitted_and_nothing_waits_for_the_first()
    {
        OpenFor("roller-left", "roller-right");
        Strip();
        Do(new WorkDeclined(["roller-right"], "A. Customer", ""));
        Assert.Equal(["roller-left"], State.Targets);
        Do(new PartFitted("roller-left", FittedAs.Replaced, "", [], ""));
        Rebuild();
        Assert.Empty(State.Out);
    }

    [Fact]
    public void What_cannot_be_declined_is_said_at_the_field()
    {
        OpenFor("belt", "front-felt");
        Strip();
        Do(new PartFitted("belt", FittedAs.Replaced, "", [], ""));
        Assert.Contains(Errors(new WorkDeclined([], "", "")), e => e.Pointer == "name");
        Assert.Contains(Errors(new WorkDeclined(["belt"], "A", "")), e =>
            e.Pointer == "parts" && e.Message.EndsWith("is dealt with already.", StringComparison.Ordinal)
        );
        Assert.Contains(Errors(new WorkDeclined(["motor"], "A", "")), e => e.Pointer == "parts");
        Do(GlueCoated.Of("front-felt", "contact", new(12, 30, 3, 15, 240), 20));
        Assert.Contains(Errors(new WorkDeclined([], "A", "")), e =>
            e.Message.Contains("being glued", StringComparison.Ordinal)
        );
        Do(new GlueJoined("front-felt", ""), 14);
        Do(new PartFitted("front-felt", FittedAs.Replaced, "contact", [], ""));
        Assert.Contains(Errors(new WorkDeclined([], "A", "")), e =>
            e.Message.StartsWith("All that was chosen is dealt with", StringComparison.Ordinal)
        );
    }

    /// <summary>Every kind of part that wears on some machine says what leaving it risks.</summary>
    [Fact]
    public void Whatever_wears_has_its_risk_in_words()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var words = TestShop.Shop.For(layout).Words;
            Assert.All(layout.Parts.Where(p => p.Wears), p =>
                Assert.False(words.RiskOf(p.Kind).StartsWith("What was found", StringComparison.Ordinal), p.Kind)
            );
        }
    }
}
