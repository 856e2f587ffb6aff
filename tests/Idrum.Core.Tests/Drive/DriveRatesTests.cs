using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Drive;

/// <summary>Rates from the geometry: against figures worked by hand, and against the belt's own speed on every
/// machine.</summary>
public class DriveRatesTests
{
    public static TheoryData<string> Layouts => TestShop.LayoutIds;

    [Fact]
    public void A_machine_worked_by_hand()
    {
        // OT-50: drum 580, belt 3.5 thick and 2006.6 long, pulley 16.5, idler 56, rollers 80; 1400 r/min at 50 Hz.
        var rates = DriveRates.Of(TestShop.Shop.FindLayout("ostrel-ot50")!, 50);
        Assert.Equal(583.5 / 20 / (1 - rates.Creep), rates.Find("motor")!.PerDrumTurn!.Value, 6);
        // Drag 2.4 N·m at 0.29175 m on a belt of 16 kN.
        Assert.Equal(2.4 / 0.29175 / 16000, rates.Creep, 9);
        Assert.Equal(47.96, rates.DrumRpm, 2);
        Assert.Equal(7.25, rates.Find("roller-left")!.PerDrumTurn!.Value, 6);
        Assert.Equal(583.5 / 59.5, rates.Find("idler")!.PerDrumTurn!.Value, 6);
        Assert.Equal(Math.PI * 583.5 / 2006.6, rates.Find("belt")!.PerDrumTurn!.Value, 6);
        Assert.Equal(100, rates.Find("mains")!.PerSecond);
        Assert.Equal(1400 / 60.0 * 28, rates.Find("blades")!.PerSecond, 6);
        Assert.Equal(20 * 60 / rates.DrumRpm, rates.SecondsFor(20), 9);
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void On_every_machine_rollers_idler_and_motor_lie_where_the_trade_finds_them(string id)
    {
        var layout = TestShop.Shop.FindLayout(id)!;
        foreach (var hertz in new[] { 50, 60 })
        {
            var rates = DriveRates.Of(layout, hertz);
            Assert.InRange(rates.DrumRpm, 45, 60);
            Assert.InRange(rates.Creep, 0.0001, 0.01);
            foreach (var roller in layout.Drive.Rollers)
            {
                Assert.InRange(rates.Find(roller.Part)!.PerDrumTurn!.Value, 7, 8.5);
            }
            if (rates.Find("idler") is { } idler)
            {
                Assert.InRange(idler.PerDrumTurn!.Value, 9, 12);
                Assert.True(idler.PerSecond < rates.Find("motor")!.PerSecond);
            }
            // Belt pass and drum differ by less than two tenths of a cycle a second, and the belt comes round slower.
            Assert.InRange(rates.Find("drum")!.PerSecond - rates.Find("belt")!.PerSecond, 0, 0.2);
            // Counted, the drum's own turns stand and the rest follows.
            var counted = DriveRates.Of(layout, hertz, 50);
            Assert.Equal(50, counted.DrumRpm, 9);
            Assert.Equal(rates.Find("motor")!.PerDrumTurn!.Value, counted.Find("motor")!.PerDrumTurn!.Value, 9);
        }
    }

    [Fact]
    public void Mains_that_are_none_and_a_drum_that_stands_are_refused()
    {
        var layout = TestShop.Shop.FindLayout("ostrel-ot50")!;
        Assert.Throws<ArgumentOutOfRangeException>(() => DriveRates.Of(layout, 55));
        Assert.Throws<ArgumentOutOfRangeException>(() => DriveRates.Of(layout, 50, 0));
        Assert.Throws<ArgumentOutOfRangeException>(() => DriveRates.Of(layout, 50, -3));
    }
}
