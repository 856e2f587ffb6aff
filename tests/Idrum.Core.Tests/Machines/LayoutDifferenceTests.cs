using System.Text.RegularExpressions;
using Idrum.Core.Content;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Machines;

public partial class LayoutDifferenceTests
{
    private static IReadOnlyList<Layout> Layouts => TestShop.Shop.Layouts;

    [Fact]
    public void Any_two_machines_are_told_apart_in_sentences_without_one_id()
    {
        var ids = Layouts
            .SelectMany(l => l.Operations.Select(o => o.Id.Value).Concat(l.Parts.Select(p => p.Id.Value)))
            .Where(id => id.Contains('-', StringComparison.Ordinal))
            .ToHashSet();
        var words = TestShop.Shop.Words;
        foreach (var (a, b) in Layouts.SelectMany(a => Layouts.Where(b => b != a).Select(b => (a, b))))
        {
            var said = LayoutDifference.Words(a, b, words);
            Assert.NotEmpty(said);
            Assert.All(said, s => Assert.EndsWith(".", s, StringComparison.Ordinal));
            foreach (var word in said.SelectMany(s => Word().Matches(s).Select(m => m.Value)))
            {
                // A word of the trade may be an id too (anti-clockwise); none with three pieces, and none that no name holds.
                Assert.False(
                    ids.Contains(word)
                        && !Layouts.Any(l =>
                            l.Operations.Any(o =>
                                (o.Name + o.Do + o.Why).Contains(word, StringComparison.OrdinalIgnoreCase)
                            ) || l.Parts.Any(p => p.Name.Contains(word, StringComparison.OrdinalIgnoreCase))
                        ),
                    $"{a.Title}, {b.Title}: {word}"
                );
            }
        }
    }

    [Fact]
    public void A_machine_is_not_told_apart_from_itself_and_each_change_is_told_once_by_what_it_is()
    {
        var layout = Layouts[0];
        Assert.Empty(LayoutDifference.Words(layout, layout, TestShop.Shop.Words));
        var step = layout.Operations.First(o => o.Fasteners.Count > 0);
        var group = step.Fasteners[0];
        IReadOnlyList<string> Told(Operation changed) =>
            LayoutDifference.Words(layout, LayoutEdit.With(layout, changed), TestShop.Shop.Words);
        var longer = Assert.Single(
            Told(step with { Fasteners = [group with { LengthMm = group.LengthMm + 3 }, .. step.Fasteners.Skip(1)] })
        );
        Assert.StartsWith(step.Name + ": ", longer, StringComparison.Ordinal);
        Assert.Contains("mm long at " + group.Where, longer, StringComparison.Ordinal);
        Assert.Contains(
            "“Pull it.” in place of",
            Assert.Single(Told(step with { Do = "Pull it." })),
            StringComparison.Ordinal
        );
        var fact = layout.Facts.First(f => !f.Varies);
        var term = TestShop.Shop.Words.FindFact(fact.Id)!;
        var other = term.Values.First(v => v.Id != fact.Value);
        Assert.Equal(
            [$"{term.Question}: now “{other.Name}”, before “{term.NameOf(fact.Value)}”."],
            LayoutDifference.Words(layout, LayoutEdit.With(layout, fact with { Value = other.Id }), TestShop.Shop.Words)
        );
        Assert.Equal(
            [$"The drive: ribs of the belt {layout.Drive!.Belt!.Ribs} → {layout.Drive.Belt.Ribs + 1}."],
            LayoutDifference.Words(
                layout,
                layout with
                {
                    Drive = layout.Drive with { Belt = layout.Drive.Belt with { Ribs = layout.Drive.Belt.Ribs + 1 } },
                }
            )
        );
    }

    [GeneratedRegex("[a-z0-9]+(-[a-z0-9]+)+")]
    private static partial Regex Word();
}
