using Idrum.Core.Diagnosis;

namespace Idrum.Core.Tests;

/// <summary>A copy of a value keeps what it does not set.</summary>
public class HandCopyTests
{
    private sealed record Sample(int Said)
    {
        public int Later { get; init; }
    }

    private static Sample Forgets(Sample of) => new(of.Said + 1);

    private static Sample Keeps(Sample of) => of with { Said = of.Said + 1 };

    [Fact]
    public void Nothing_in_the_core_copies_a_value_by_hand_and_forgets_what_it_was_given_later()
    {
        var found = HandCopies.Of(typeof(Fault).Assembly);
        Assert.True(found.Count == 0, string.Join("\n", found));
    }

    [Fact]
    public void One_that_forgets_is_found_and_one_that_keeps_is_not()
    {
        var sample = new Sample(1) { Later = 2 };
        Assert.Equal((0, 2), (Forgets(sample).Later, Keeps(sample).Later));
        var found = HandCopies.Of(typeof(HandCopyTests).Assembly);
        Assert.Contains(found, f =>
            f.Contains(nameof(Forgets), StringComparison.Ordinal) && f.Contains("Later", StringComparison.Ordinal)
        );
        Assert.DoesNotContain(found, f => f.Contains(nameof(Keeps), StringComparison.Ordinal));
    }
}
