using Idrum.Core.Identify;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Identify;

public class IdentificationTests
{
    private static readonly IdentificationKey Key = new(TestShop.Shop.Layouts, TestShop.Shop.Words);

    /// <summary>What a person says of a machine of that layout: each fact by its value, or by one of those met, named
    /// wrongly as often as stated.</summary>
    private static string Says(FactTerm fact, Layout layout, Random random)
    {
        var known = layout.Facts.Single(f => f.Id == fact.Id);
        var real =
            !known.Varies ? known.Value
            : (known.Values is { Count: > 0 } met ? met : [.. fact.Values.Select(v => v.Id)]) is var all
                ? all[random.Next(all.Count)]
            : "";
        return random.NextDouble() < fact.Wrong
            ? fact.Values.Where(v => v.Id != real).ElementAt(random.Next(fact.Values.Count - 1)).Id
            : real;
    }

    private static (Identification Found, int Asked) Ask(Func<FactTerm, string> says)
    {
        var answers = new Dictionary<string, string>();
        while (Key.Of(answers).Next is { } question)
        {
            answers.Add(question.Id, says(question));
        }
        return (Key.Of(answers), answers.Count);
    }

    [Fact]
    public void No_two_layouts_share_all_their_answers_and_any_two_differ_in_three_at_least()
    {
        var layouts = TestShop.Shop.Layouts;
        string? Firm(Layout l, string fact) =>
            l.Facts.Single(f => f.Id == fact) is { Varies: false } f ? f.Value : null;
        foreach (var (a, b) in layouts.SelectMany((a, i) => layouts.Skip(i + 1).Select(b => (a, b))))
        {
            var apart = Key.Questions.Count(q => Firm(a, q.Id) is { } x && Firm(b, q.Id) is { } y && x != y);
            Assert.True(apart >= 3, $"{a.Title} and {b.Title} are told apart by {apart} answers only");
        }
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(4)]
    [InlineData(11)]
    public void Nobody_goes_behind_the_machine_for_the_first_question(int frequent)
    {
        // Whatever the shop meets most.
        var weights = TestShop.Shop.Layouts.Select((_, i) => i == frequent ? 6.0 : 1.0).ToList();
        var key = new IdentificationKey(TestShop.Shop.Layouts, TestShop.Shop.Words, weights);
        var first = key.Of(new Dictionary<string, string>()).Next!;
        Assert.False(first.Behind, first.Id);
        Assert.DoesNotContain("behind", first.Where, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("rear", first.Where, StringComparison.OrdinalIgnoreCase);
        // Later it may be worth the way.
        Assert.Contains(key.Questions, q => q.Behind);
    }

    [Fact]
    public void Every_answer_from_outside_has_its_small_drawing()
    {
        Assert.True(Key.Questions.Length >= 10);
        Assert.All(Key.Questions, q => Assert.All(q.Values, v => Assert.True(v.Draw?.Sound, $"{q.Id}={v.Id}")));
    }

    [Fact]
    public void The_right_layout_comes_first_after_few_questions_although_people_err()
    {
        var random = new Random(11);
        var (right, asked, runs) = (0, 0, 0);
        foreach (var layout in TestShop.Shop.Layouts)
        {
            for (var i = 0; i < 100; i++, runs++)
            {
                var (found, n) = Ask(q => Says(q, layout, random));
                Assert.True(n <= 8);
                right += found.First.Id == layout.Id ? 1 : 0;
                asked += n;
            }
        }
        Assert.True(
            right >= 0.95 * runs && asked <= 5.2 * runs,
            $"{right} of {runs} right after {(double)asked / runs:0.00}"
        );
    }

    [Fact]
    public void A_machine_that_is_none_of_them_is_not_forced_into_the_nearest()
    {
        var random = new Random(12);
        var none = 0;
        for (var i = 0; i < 300; i++)
        {
            Dictionary<string, string> machine;
            do
            {
                machine = Key.Questions.ToDictionary(q => q.Id, q => q.Values[random.Next(q.Values.Count)].Id);
            } while (
                TestShop.Shop.Layouts.Any(l =>
                    Key.Questions.Count(q =>
                        l.Facts.Single(f => f.Id == q.Id) is { Varies: false } f && f.Value != machine[q.Id]
                    ) < 3
                )
            );
            none += Ask(q => machine[q.Id]).Found.First.Id == IdentificationKey.None ? 1 : 0;
        }
        Assert.True(none >= 270, $"{none} of 300 said to be none");
    }

    [Fact]
    public void Cant_tell_says_nothing_is_not_asked_again_and_an_unknown_value_is_refused()
    {
        var before = Key.Of(new Dictionary<string, string>());
        var after = Key.Of(new Dictionary<string, string> { [before.Next!.Id] = IdentificationKey.CantTell });
        Assert.Equal(before.Candidates.Select(c => c.Probability), after.Candidates.Select(c => c.Probability));
        Assert.NotEqual(before.Next, after.Next);
        Assert.Equal(1, before.Candidates.Sum(c => c.Probability), 9);
        Assert.Throws<ArgumentException>(() => Key.Of(new Dictionary<string, string> { ["door-way"] = "sideways" }));
        // Whoever can tell nothing at all is asked eight times at most, and gets no answer for sure.
        var (found, asked) = Ask(_ => IdentificationKey.CantTell);
        Assert.True(asked <= 8 && found.First.Probability < 0.3);
    }

    [Fact]
    public void The_posterior_is_what_counting_by_hand_gives()
    {
        // Two layouts, one question with an error of 0.03: prior (1 − none)/2 each; three values.
        Layout[] two = [TestShop.Shop.FindLayout("quenby-qc30")!, TestShop.Shop.FindLayout("ostrel-or70")!];
        var words = TestShop.Shop.Words with { Facts = [.. TestShop.Shop.Words.Facts.Where(f => f.Id == "drum-back")] };
        var found = new IdentificationKey(two, words).Of(new Dictionary<string, string> { ["drum-back"] = "screws" });
        var (c, d) = (0.405 * 0.97, 0.405 * 0.015);
        var none = 0.19 * (0.1 * (0.97 + 0.015) / 2 + 0.9 / 3);
        Assert.Equal(c / (c + d + none), found.Candidates.Single(x => x.Id == "quenby-qc30").Probability, 9);
        Assert.Equal(none / (c + d + none), found.Candidates.Single(x => x.Id == "none").Probability, 9);
    }

    [Fact]
    public void Layouts_that_look_alike_from_outside_stand_together()
    {
        var own = TestShop.Shop.FindLayout("ostrel-ot50")! with { Id = "hostel", Title = "Of the hostel" };
        var key = new IdentificationKey([.. TestShop.Shop.Layouts, own], TestShop.Shop.Words);
        var answers = key.Questions.ToDictionary(q => q.Id, q => own.ValueOf(q.Id)!);
        var first = key.Of(answers).First;
        Assert.Equal(("ostrel-ot50", "hostel"), (first.Id, Assert.Single(first.Alike).Id));
        Assert.True(first.Probability > 0.95);
    }

    [Fact]
    public void What_tells_the_two_leaders_apart_is_named_outside_before_inside()
    {
        var found = Key.Of(
            new Dictionary<string, string>
            {
                ["drum-back"] = "screws",
                ["front-rim"] = "pads",
                ["hinged-top"] = "yes",
            }
        );
        Assert.Equal(
            ["quenby-qc30", "quenby-qc36"],
            found.Candidates.Where(c => c.Layout is not null).Take(2).Select(c => c.Id).Order()
        );
        var differences = found.Differences(TestShop.Shop.Words);
        Assert.Contains(differences, d => d.Fact.Id == "door-opening");
        Assert.Contains(differences, d => d.Fact.Id == "belt-switch");
        Assert.True(
            differences.ToList().FindIndex(d => d.Fact.Id == "door-opening")
                < differences.ToList().FindIndex(d => d.Fact.Id == "belt-switch")
        );
    }

    [Theory]
    [InlineData("QD62-4471", "QD62")]
    [InlineData("  ot50/7 ", "OT50")]
    [InlineData("ml4512345", "ML45")]
    [InlineData("", "")]
    public void A_tag_begins_with_its_model(string tag, string prefix) => Assert.Equal(prefix, TagClue.PrefixOf(tag));

    [Fact]
    public void The_shops_own_jobs_teach_which_tag_goes_with_which_layout_and_a_strange_one_hardly_moves_it()
    {
        var clue = new TagClue([
            .. Enumerable.Range(0, 6).Select(i => ($"OT50-{i}", "ostrel-ot50")),
            .. Enumerable.Range(0, 4).Select(i => ($"QD62-{i}", "quenby-qd62")),
        ]);
        Assert.Equal("quenby-qd62", Key.Of(new Dictionary<string, string>(), clue.Of("QD62-99")).First.Id);
        Assert.Null(clue.Of(""));
        Assert.Null(new TagClue([]).Of("QD62-99"));
        // A tag nobody met does not outweigh what is seen.
        var seen = Key
            .Questions.Take(7)
            .ToDictionary(q => q.Id, q => TestShop.Shop.FindLayout("ostrel-ot50")!.ValueOf(q.Id)!);
        Assert.Equal("ostrel-ot50", Key.Of(seen, clue.Of("ZZ-1")).First.Id);
    }
}
