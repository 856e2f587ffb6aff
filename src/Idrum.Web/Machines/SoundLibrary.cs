using Idrum.Core.Listening;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Machines;

/// <summary>How the faults of a machine sound, made on the noise bench: to learn them by ear.</summary>
public static class SoundLibrary
{
    // Quick things tell in ten seconds; the drum turns some eight times in them.
    private const double Seconds = 10;

    // Much louder than the machine about it: an example, not a test.
    private const double FaultDb = 9;

    /// <summary>Faults that sound on a machine, by their names; first the machine without any.</summary>
    public static IReadOnlyList<(string Id, string Name, string Detail)> Of(MachineKnowledge machine)
    {
        var model = machine.Diagnostician.Model;
        return
        [
            ("sound", "Nothing wrong", "blower, motor and drum as they should be"),
            .. NoiseBench
                .FaultsOf(machine.Layout)
                .Select(id => model.Faults.FirstOrDefault(f => f.Id == id))
                .Where(f => f is not null)
                .Select(f => (f!.Id, f.Name, f.Detail)),
        ];
    }

    /// <summary>One of them as WAV.</summary>
    public static async Task<IResult> PlayAsync(
        string id,
        string fault,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken caller
    )
    {
        if (
            shop.FindLayout(id) is not { } layout
            || fault != "sound" && !NoiseBench.FaultsOf(shop.For(layout).Layout).Any(f => f == fault)
        )
        {
            return Results.NotFound();
        }
        var sound = await gate.RunAsync(
            stop =>
                NoiseBench.Render(
                    shop.For(layout).Layout,
                    new()
                    {
                        Faults = fault == "sound" ? [] : [fault],
                        Seconds = Seconds,
                        Seed = 1,
                        MainsHertz = shop.Terms.MainsHertz,
                        FaultDb = FaultDb,
                    },
                    stop
                ),
            caller
        );
        return Results.File(WavFile.Write(sound), "audio/wav");
    }
}
