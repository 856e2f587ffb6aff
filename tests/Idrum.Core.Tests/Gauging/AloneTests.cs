using Idrum.Core.Gauging;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Gauging;

/// <summary>What a device without a link says of one reading never contradicts what the shop says when it has three like it, and what it
/// refuses the shop would refuse.</summary>
public sealed class AloneTests
{
    private static readonly GaugingBook Book = TestShop.Shop.Handbook.Gauging;

    public static TheoryData<string> Layouts() => [.. TestShop.Shop.Layouts.Select(l => l.Id)];

    private static IEnumerable<(GaugeProtocol Protocol, Part? Part)> All(Layout layout) =>
        Book
            .Protocols.Where(p => p.On(layout))
            .SelectMany(p => (p.Whole ? [null] : p.PartsOf(layout).Cast<Part?>()).Select(part => (p, part)));

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Good_and_beyond_are_what_three_such_readings_come_to(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        var judged = 0;
        foreach (var (protocol, part) in All(layout))
        {
            var tool = Book.InstrumentOf(protocol);
            if (Gauge.Thresholds(protocol, layout, part, tool) is not var (good, beyond))
            {
                continue;
            }
            judged++;
            var step = Math.Sign(beyond - good) * tool.Resolution;
            // Either side of what it says, and well away from it.
            foreach (
                var (value, verdict) in new[]
                {
                    (good, GaugeVerdict.Good),
                    (good - step, GaugeVerdict.Good),
                    (beyond, GaugeVerdict.Replace),
                    (beyond + step, GaugeVerdict.Replace),
                }
            )
            {
                var (result, errors) = Gauge.Of(
                    protocol,
                    layout,
                    part,
                    [.. Enumerable.Repeat(new GaugeReading(value, "", protocol.Positions[0].Id), 3)],
                    new(Book, [layout], 50)
                );
                if (value >= 0)
                {
                    Assert.True(
                        errors.Count > 0 || result!.Verdict == verdict,
                        $"{protocol.Id} {part?.Id} {value:0.###}: alone {verdict}, three {result?.Verdict}: {result?.Say}"
                    );
                }
            }
        }
        Assert.True(judged > 0);
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void What_lies_outside_the_bounds_is_refused_and_what_lies_on_them_is_taken(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        foreach (var (protocol, part) in All(layout))
        {
            var tool = Book.InstrumentOf(protocol);
            foreach (var place in protocol.Positions)
            {
                var unit = place.Unit.Length > 0 ? place.Unit : tool.Unit;
                var (low, high, what) = Gauge.Bounds(protocol, layout, part, place, unit);
                bool Taken(double value) =>
                    Gauge.CheckOne(protocol, layout, part, new(value, "", place.Id), new(Book, [layout], 50)).Count
                    == 0;
                Assert.True(low < high, $"{protocol.Id} {place.Id}");
                Assert.NotEmpty(what);
                Assert.True(
                    Taken(low) && Taken(high) && Taken((low + high) / 2),
                    $"{protocol.Id} {place.Id} {low} {high}"
                );
                Assert.False(
                    Taken(low - 0.01 * (high - low)) || Taken(high * 1.01),
                    $"{protocol.Id} {place.Id} {low} {high}"
                );
            }
        }
    }
}
