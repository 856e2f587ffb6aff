namespace Idrum.Core.Tests.Teardown;

/// <summary>Files made up at random against a checker written from the words of the format; <c>./idrum bench
/// layouts</c> runs more of them.</summary>
public class RandomFileTests
{
    [Fact]
    public void Four_hundred_files_are_taken_or_refused_and_planned_as_the_words_of_the_format_say()
    {
        var check = new FileCheck(TestShop.Shop.Layouts[0], TestShop.Shop.Words);
        for (var seed = 0; seed < 400; seed++)
        {
            var wrong = check.Check(seed);
            Assert.True(wrong is null, $"seed {seed}: {wrong}");
        }
        Assert.True(
            check is { Sound: > 100, Refused: > 100, Absences: > 400, LeftOut: > 10 },
            $"{check.Sound} sound, {check.Refused} refused, {check.Plans} plans, {check.Absences} absences, {check.LeftOut} left out"
        );
    }
}
