using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Gauging;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Practice;

/// <summary>Makes short questions. Nothing is listed by hand: each answer is worked out.</summary>
public static class Drill
{
    private const int Many = 4;

    /// <summary>The kinds, with what each asks.</summary>
    public static IReadOnlyList<(string Id, string Words)> Kinds { get; } =
    [
        ("sound", "Name this sound"),
        ("screw", "Which screw goes where"),
        ("last", "What comes off first"),
        ("order", "In which order"),
        ("course", "Which course is this"),
        ("behind", "The same move from behind"),
        ("touch", "Thread by touch, nothing to be seen"),
        ("turn", "Which way the nut turns"),
        ("glue", "Press or wait"),
        ("gap", "Read this gap"),
        (PhotoDrill.Kind, "Which is this, on your own photo"),
    ];

    /// <summary>A question of a kind on a machine.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    /// <param name="machine">The machine.</param>
    /// <param name="random">Seeded: the same seed asks the same.</param>
    /// <returns>Null where this machine has nothing to ask of that kind.</returns>
    public static DrillQuestion? Of(string kind, MachineKnowledge machine, Random random) =>
        kind switch
        {
            "sound" => Sound(machine, random),
            "screw" => Screw(machine.Layout, random),
            "last" => First(machine, random),
            "order" => Order(machine, random),
            "course" => Course(machine.Layout, random),
            "behind" => Behind(machine.Layout, random),
            "touch" => Touch(machine.Layout, random),
            "turn" => Turn(machine.Layout, random),
            "glue" => Glue(machine, random),
            "gap" => Gap(machine, random),
            _ => null,
        };

    private static DrillQuestion? Sound(MachineKnowledge machine, Random random)
    {
        var faults = NoiseBench
            .FaultsOf(machine.Layout)
            .Select(id => machine.Diagnostician.Model.Faults.FirstOrDefault(f => f.Id == id))
            .OfType<Diagnosis.Fault>()
            .DistinctBy(f => f.Name)
            .ToList();
        if (faults.Count < 2)
        {
            return null;
        }
        var some = Some(faults, random);
        var right = random.Next(some.Count);
        return new(
            $"sound/{machine.Layout.Id}/{some[right].Id}",
            "sound",
            $"{machine.Layout.Title}, drum turning: which fault is this?",
            [.. some.Select(f => f.Name)],
            right,
            some[right].Detail.Length > 0 ? some[right].Detail : some[right].Name,
            some[right].Id
        );
    }

    private static DrillQuestion? Screw(Layout layout, Random random)
    {
        // Only those that can be told apart by looking.
        var groups = layout
            .Operations.SelectMany(o => o.Fasteners)
            .Where(f => f.Head is not (FastenerHead.Clip or FastenerHead.Ring) && !f.LoosenOnly)
            .GroupBy(f => (f.Head, f.Size, f.LengthMm, f.Thread, f.Tip, f.Finish))
            .Select(g => g.First())
            .DistinctBy(f => f.Where)
            .ToList();
        if (groups.Count < 2)
        {
            return null;
        }
        var some = Some(groups, random);
        var right = random.Next(some.Count);
        return new(
            $"screw/{layout.Id}/{some[right].Id}",
            "screw",
            $"{layout.Title}: {FastenerWords.Kind(some[right])}. Where does it go?",
            [.. some.Select(f => f.Where)],
            right,
            $"Only there are they {FastenerWords.Kind(some[right])}."
        );
    }

    private static DrillQuestion? First(MachineKnowledge machine, Random random)
    {
        var graph = machine.Planner.Graph;
        var all = graph.Reachable;
        bool Needs(int later, int first) => !graph.Doable(all.Without(first), Bits.None).Has(later);
        var nodes = all.ToList().Where(i => !graph.Virtual.Has(i)).ToList();
        for (var tries = 0; tries < 60; tries++)
        {
            var first = nodes[random.Next(nodes.Count)];
            var later = nodes
                .Where(n => n != first && Needs(n, first))
                .OrderBy(_ => random.Next())
                .Take(Many - 1)
                .ToList();
            if (later.Count < 2)
            {
                continue;
            }
            var choices = later.Append(first).OrderBy(_ => random.Next()).ToList();
            return new(
                $"last/{machine.Layout.Id}/{graph.Node(first).Id}",
                "last",
                $"{machine.Layout.Title}: which of these must come first?",
                [.. choices.Select(i => graph.Node(i).Name)],
                choices.IndexOf(first),
                $"Without “{graph.Node(first).Name}” none of the others can be done."
            );
        }
        return null;
    }

    /// <summary>Three steps of which each waits for the one before it, so that one order alone can be done.</summary>
    private static DrillQuestion? Order(MachineKnowledge machine, Random random)
    {
        var graph = machine.Planner.Graph;
        var all = graph.Reachable;
        var nodes = all.ToList().Where(i => !graph.Virtual.Has(i)).ToList();
        int? Before(int later)
        {
            var doable = nodes.Where(n => n != later && !graph.Doable(all.Without(n), Bits.None).Has(later)).ToList();
            return doable.Count == 0 ? null : doable[random.Next(doable.Count)];
        }
        for (var tries = 0; tries < 60; tries++)
        {
            var third = nodes[random.Next(nodes.Count)];
            if (Before(third) is not { } second || Before(second) is not { } first)
            {
                continue;
            }
            string Said(params int[] order) => string.Join(", then ", order.Select(i => $"“{graph.Node(i).Name}”"));
            var right = Said(first, second, third);
            List<string> choices =
            [
                .. new[]
                {
                    Said(first, third, second),
                    Said(second, first, third),
                    Said(second, third, first),
                    Said(third, first, second),
                    Said(third, second, first),
                }
                    .OrderBy(_ => random.Next())
                    .Take(Many - 1)
                    .Append(right)
                    .OrderBy(_ => random.Next()),
            ];
            return new(
                $"order/{machine.Layout.Id}/{graph.Node(first).Id}/{graph.Node(second).Id}/{graph.Node(third).Id}",
                "order",
                $"{machine.Layout.Title}: which of these orders can be done?",
                choices,
                choices.IndexOf(right),
                $"“{graph.Node(second).Name}” cannot be done before “{graph.Node(first).Name}”, nor “{graph.Node(third).Name}” before that."
            );
        }
        return null;
    }

    private static DrillQuestion? Course(Layout layout, Random random)
    {
        var some = Some([.. BeltCourse.Of(layout).DistinctBy(c => c.Name)], random);
        if (some.Count < 2)
        {
            return null;
        }
        var right = random.Next(some.Count);
        var behind = random.Next(2) == 0;
        return new(
            $"course/{layout.Id}/{some[right].Id}/{(behind ? "behind" : "door")}",
            "course",
            $"{layout.Title}, seen {(behind ? "from behind" : "from the door")}: how does the belt lie?",
            [.. some.Select(c => c.Name)],
            right,
            some[right].Right ? some[right].Tell : $"{some[right].Tell} {some[right].WhenRun}"
        )
        {
            Course = some[right].Id,
            Behind = behind,
        };
    }

    /// <summary>A move of threading whose sides change with where one kneels.</summary>
    private static DrillQuestion? Behind(Layout layout, Random random)
    {
        var (door, behind) = (
            Threading.Of(layout.Drive, false, false).Moves,
            Threading.Of(layout.Drive, true, false).Moves
        );
        static string Said(ThreadMove m) => m.Hand == "both" ? m.Do : $"With the {m.Hand} hand: {m.Do}";
        // What names the side it is seen from would give itself away.
        var moves = door.Zip(behind)
            .Where(m =>
                Said(m.First) != Said(m.Second)
                && m.First.Shows == m.Second.Shows
                && !m.First.Do.Contains("seen", StringComparison.Ordinal)
            )
            .ToList();
        if (door.Count != behind.Count || moves.Count == 0)
        {
            return null;
        }
        var at = random.Next(moves.Count);
        var (first, second) = moves[at];
        var turned = random.Next(2) == 0;
        var (known, asked) = turned ? (second, first) : (first, second);
        var right = random.Next(2);
        return new(
            $"behind/{layout.Id}/{first.Shows}/{at}/{(turned ? "door" : "behind")}",
            "behind",
            $"{layout.Title}. From {(turned ? "behind" : "the door")}: “{Said(known)}” Now you kneel {(turned ? "at the door" : "behind it")}. What is the same move?",
            right == 0 ? [Said(asked), Said(known)] : [Said(known), Said(asked)],
            right,
            "From the other side left and right are changed, and with them the hands and the way it turns."
        );
    }

    /// <summary>The belt laid where idler and pulley are not seen.</summary>
    private static DrillQuestion Touch(Layout layout, Random random)
    {
        var ways = Rehearsal.Of(layout);
        var behind = random.Next(2) == 0;
        var keys = ways.Keys.ToList();
        var right = keys.FindIndex(k => ways[k].Right);
        return new(
            $"touch/{layout.Id}/{(behind ? "behind" : "door")}",
            "touch",
            $"{layout.Title}, {(behind ? "from behind" : "from the door")}: idler and motor pulley are not seen, as in the machine. Lay the belt by finger, once round, or say how it lies.",
            [.. keys.Select(Rehearsal.Words)],
            right,
            ways[keys[right]].Say
        )
        {
            Ways = keys,
            Behind = behind,
        };
    }

    private static DrillQuestion? Turn(Layout layout, Random random)
    {
        var threads = layout
            .Operations.SelectMany(o => o.Fasteners)
            .Where(f => f.Thread.Length > 0)
            .DistinctBy(f => f.Where)
            .ToList();
        if (threads.Count == 0)
        {
            return null;
        }
        // As many that turn the other way as that turn the usual one, where there are some.
        var left = threads.Where(f => f.IsLeftHand).ToList();
        var from = left.Count > 0 && random.NextDouble() < 0.5 ? left : threads;
        var asked = from[random.Next(from.Count)];
        var isLeft = asked.IsLeftHand;
        return new(
            $"turn/{layout.Id}/{asked.Id}",
            "turn",
            $"{layout.Title}: the {asked.Head.Word()} {asked.Size}, {asked.Where}. Which way do you turn to loosen it, looking at its head?",
            ["Clockwise", "Anticlockwise"],
            isLeft ? 0 : 1,
            isLeft
                ? "A left-hand thread: the drive would loosen a usual one. It loosens clockwise."
                : "A usual thread: it loosens anticlockwise."
        );
    }

    private static DrillQuestion? Glue(MachineKnowledge machine, Random random)
    {
        var schools = machine
            .Handbook.Procedures.SelectMany(p => p.Schools)
            .Select(s => (School: s, Adhesive: machine.Handbook.AdhesiveOf(s)))
            .Where(s => s.Adhesive is not null)
            .DistinctBy(s => s.Adhesive!.Id)
            .ToList();
        if (schools.Count == 0)
        {
            return null;
        }
        var (_, adhesive) = schools[random.Next(schools.Count)];
        var celsius = 5 * random.Next(1, 7) + 5;
        var times = adhesive!.At(celsius);
        var right = times.Earliest > 0.5 ? random.Next(3) : random.Next(1, 3);
        var minutes = right switch
        {
            0 => times.Earliest * (0.2 + 0.5 * random.NextDouble()),
            1 => times.Earliest + (times.Latest - times.Earliest) * (0.2 + 0.6 * random.NextDouble()),
            _ => times.Latest * (1.25 + random.NextDouble()),
        };
        return new(
            FormattableString.Invariant($"glue/{adhesive.Id}/{celsius}/{right}"),
            "glue",
            string.Create(
                CultureInfo.InvariantCulture,
                $"{adhesive.Name}, {celsius} °C, coated {minutes:0.#} min ago. Join now?"
            ),
            ["Wait", "Press it on now", "Too late: off with it and coat anew"],
            right,
            string.Create(
                CultureInfo.InvariantCulture,
                $"At {celsius} °C it may be joined from {times.Earliest:0.#} to {times.Latest:0.#} min after coating. What the tube says goes before."
            )
        );
    }

    /// <summary>A gap round the rim, read at two drum angles: what stands with the cabinet, and what turns with the drum.</summary>
    private static DrillQuestion? Gap(MachineKnowledge machine, Random random)
    {
        const double half = 1.4;
        var book = machine.Handbook.Gauging;
        if (book.Find("rim-gap") is not { } protocol || !protocol.On(machine.Layout))
        {
            return null;
        }
        var tool = book.InstrumentOf(protocol);
        for (var tries = 0; tries < 20; tries++)
        {
            double Size(bool much) => (much ? 2.2 : 0.1) + 0.8 * random.NextDouble();
            var (sags, bent) = (random.Next(2) == 0, random.Next(2) == 0);
            var (sag, off, at) = (Size(sags), Size(bent), 2 * Math.PI * random.NextDouble());
            List<(double ClockDeg, double DrumDeg, double Mm)> read =
            [
                .. from drum in new[] { 0.0, 135 }
                from clock in Enumerable.Range(0, 8).Select(i => 45.0 * i)
                let mm = 7
                    + sag * Math.Cos(clock * Math.PI / 180)
                    + off * Math.Cos((clock - drum) * Math.PI / 180 - at)
                    + tool.Repeat * (2 * random.NextDouble() - 1)
                select (clock, drum, Math.Round(mm, 1)),
            ];
            // What is right is what the split says, and asked only where it says so plainly.
            if (
                RimGap.Of(read, tool) is not { Told: true } split
                || Math.Abs(split.Sag.Value) > half != sags
                || split.Eccentric.Value > half != bent
            )
            {
                continue;
            }
            return new(
                FormattableString.Invariant($"gap/{machine.Layout.Id}/{(sags ? 1 : 0)}{(bent ? 1 : 0)}"),
                "gap",
                $"{machine.Layout.Title}: the gap round the rim in mm, then the drum turned 135° clockwise and read again. What is it?",
                [
                    "Even: nothing to be done",
                    "The drum hangs: what carries it is worn",
                    "The rim is off its axis: the drum is bent",
                    "Both: it hangs, and it is bent",
                ],
                (sags ? 1 : 0) + (bent ? 2 : 0),
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"What stays at its place of the clock when the drum is turned stands with the cabinet: it hangs {split.Sag.Value:0.0} mm. What wanders with the drum is the drum's: {split.Eccentric.Value:0.0} mm off its axis."
                )
            )
            {
                Gaps = read,
            };
        }
        return null;
    }

    private static List<T> Some<T>(List<T> of, Random random) => [.. of.OrderBy(_ => random.Next()).Take(Many)];
}
