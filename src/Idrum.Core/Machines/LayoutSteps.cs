using System.Globalization;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>Times of a layout rise; what comes out at an operation goes back, once; places lie in the
/// machine.</summary>
internal static class LayoutSteps
{
    /// <summary>Times rise; of several refit steps each fastener group and plug goes back in exactly one.</summary>
    internal static void Check(Layout layout, Vocabulary words, FieldErrors errors)
    {
        void Time(string pointer, Spread? time) =>
            errors.If(
                time is { } t && !(t.Low >= 0 && t.Low <= t.Typical && t.Typical <= t.High && t.High <= 240),
                pointer,
                "Times must rise from low to high, none below 0 or above 240 minutes."
            );
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            CheckPlaces(layout, i, errors);
            Time($"/operations/{i}/minutes", o.Minutes);
            foreach (var (change, k) in o.Changes.Select((c, k) => (c, k)))
            {
                Time($"/operations/{i}/changes/{k}/minutes", change.Minutes);
            }
            for (var k = 0; k < o.Refit.Count; k++)
            {
                Time($"/operations/{i}/refit/{k}/minutes", o.Refit[k].Minutes);
                for (var g = 0; g < o.Refit[k].Fasteners.Count; g++)
                {
                    var id = o.Refit[k].Fasteners[g];
                    errors.If(
                        o.Removed.All(f => f.Id != id),
                        $"/operations/{i}/refit/{k}/fasteners/{g}",
                        $"No fasteners '{id}' come out at this operation.{Nearest.Hint(id, o.Removed.Select(f => f.Id))}"
                    );
                    errors.If(
                        o.Refit[k].Fasteners.Take(g).Contains(id),
                        $"/operations/{i}/refit/{k}/fasteners/{g}",
                        $"The fasteners '{id}' stand twice."
                    );
                }
                for (var g = 0; g < o.Refit[k].Plugs.Count; g++)
                {
                    var id = o.Refit[k].Plugs[g];
                    errors.If(
                        o.Plugs.All(p => p.Id != id),
                        $"/operations/{i}/refit/{k}/plugs/{g}",
                        $"No plug '{id}' is parted at this operation.{Nearest.Hint(id, o.Plugs.Select(p => p.Id))}"
                    );
                    errors.If(
                        o.Refit[k].Plugs.Take(g).Contains(id),
                        $"/operations/{i}/refit/{k}/plugs/{g}",
                        $"The plug '{id}' stands twice."
                    );
                }
            }
            for (var k = 0; k < o.Plugs.Count; k++)
            {
                errors.If(
                    o.Plugs[k].Terminals is { Count: > 0 } named && named.Count != o.Plugs[k].Wires.Count,
                    $"/operations/{i}/plugs/{k}/terminals",
                    $"{o.Plugs[k].Terminals?.Count} terminals for {o.Plugs[k].Wires.Count} wires; name one for each."
                );
            }
            CheckAllGoesBack(layout, words, i, errors);
        }
    }

    /// <summary>On every machine that the conditions of an operation tell apart, of its several steps each fastener
    /// group and plug that comes out
    /// goes back in exactly one.</summary>
    private static void CheckAllGoesBack(Layout layout, Vocabulary words, int at, FieldErrors errors)
    {
        var o = layout.Operations[at];
        if (o.Refit.Count < 2)
        {
            return;
        }
        if (
            MachineKinds.Of(
                layout,
                words,
                [
                    o.When,
                    .. o.Refit.Select(s => s.When),
                    .. o.Fasteners.Select(f => f.When),
                    .. o.Plugs.Select(p => p.When),
                ]
            )
            is not { } machines
        )
        {
            errors.Add(
                $"/operations/{at}",
                $"Not proved: its conditions make more than {MachineKinds.Most} combinations of facts and schools."
            );
            return;
        }
        var told = new HashSet<string>();
        foreach (var kind in machines)
        {
            if (layout.For(kind.Facts, kind.Schools).FindOperation(o.Id) is not { } here)
            {
                continue;
            }
            void Once(string name, int index, string id, string pointerName, int times)
            {
                if (times != 1 && told.Add(name + id))
                {
                    errors.Add(
                        $"/operations/{at}/{pointerName}/{index}",
                        $"The {name} '{id}' goes back in {(times == 0 ? "none" : times)} of the refit steps{kind.Words}; it must be exactly one."
                    );
                }
            }
            foreach (
                var two in here
                    .Steps.Where(s => s.DirectlyAfter.Length > 0)
                    .GroupBy(s => s.DirectlyAfter)
                    .Where(g => g.Count() > 1 && told.Add("directlyAfter" + g.Key))
            )
            {
                var second = o.Refit.ToList().FindIndex(s => s.Id == two.ElementAt(1).Id);
                errors.Add(
                    $"/operations/{at}/refit/{second}/directlyAfter",
                    $"Two steps cannot both follow '{two.Key}' at once{kind.Words}."
                );
            }
            foreach (var f in here.Removed)
            {
                Once(
                    "fasteners",
                    o.Fasteners.ToList().FindIndex(x => x.Id == f.Id),
                    f.Id,
                    "fasteners",
                    here.Steps.Count(s => here.FastenersOf(s).Any(x => x.Id == f.Id))
                );
            }
            foreach (var p in here.Plugs)
            {
                Once(
                    "plug",
                    o.Plugs.ToList().FindIndex(x => x.Id == p.Id),
                    p.Id,
                    "plugs",
                    here.Steps.Count(s => here.PlugsOf(s).Any(x => x.Id == p.Id))
                );
            }
        }
    }

    /// <summary>Places of fasteners, plugs and motions lie in the machine or within a metre of it.</summary>
    private static void CheckPlaces(Layout layout, int at, FieldErrors errors)
    {
        const double Metre = 1000;
        void Near(string pointer, IReadOnlyList<double>? place)
        {
            for (var k = 0; place is not null && k < place.Count && k < layout.Size.Count; k++)
            {
                errors.If(
                    place[k] < -Metre || place[k] > layout.Size[k] + Metre,
                    pointer,
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{place[k]} lies more than a metre outside the cabinet of {layout.Size[0]} × {layout.Size[1]} × {layout.Size[2]} mm."
                    )
                );
            }
        }
        var o = layout.Operations[at];
        for (var f = 0; layout.Size.Count == 3 && f < o.Fasteners.Count; f++)
        {
            for (var k = 0; k < o.Fasteners[f].At.Count; k++)
            {
                Near($"/operations/{at}/fasteners/{f}/at/{k}", o.Fasteners[f].At[k]);
            }
        }
        for (var p = 0; layout.Size.Count == 3 && p < o.Plugs.Count; p++)
        {
            Near($"/operations/{at}/plugs/{p}/at", o.Plugs[p].At);
        }
        for (var k = 0; layout.Size.Count == 3 && k < (o.Motion?.Path.Count ?? 0); k++)
        {
            Near($"/operations/{at}/motion/path/{k}", o.Motion!.Path[k]);
        }
    }
}
