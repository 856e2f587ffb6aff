using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Fitting;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Practice;

/// <summary>The hands' part of closing a machine: glue, belt, plugs and screws, as far as they are concerned on this way back.</summary>
/// <param name="machine">The machine.</param>
/// <param name="fault">What is put right.</param>
/// <param name="open">Ids of operations that are out for it.</param>
/// <param name="seed">For what is asked of several.</param>
public sealed class HandsOn(MachineKnowledge machine, Fault fault, IReadOnlyList<OperationId> open, int seed)
{
    private const int MostGroups = 4;
    private const int Strangers = 2;

    private Layout Layout => machine.Layout;

    private IEnumerable<Operation> Out => open.Select(Layout.FindOperation).OfType<Operation>();

    /// <summary>The tasks, in the order the hands meet them; none where the machine was not opened.</summary>
    public IReadOnlyList<HandTask> Tasks => [.. new[] { Glue, Belt, Screws, Plugs }.OfType<HandTask>()];

    /// <summary>Judges an answer.</summary>
    /// <param name="kind">Kind of the task.</param>
    /// <param name="answer">glue: minutes waited. belt: a key of <see cref="Rehearsal"/>. plugs: ids of those joined, by commas. screws:
    /// <c>group=place</c>, by commas; what is not named is left over.</param>
    /// <returns>Null where that is no answer to it.</returns>
    public HandResult? Judge(string kind, string answer) =>
        kind switch
        {
            "glue" => Glued(answer),
            "belt" => Laid(answer),
            "plugs" => Joined(answer),
            "screws" => Placed(answer),
            _ => null,
        };

    private (Part Part, School School, BondTimes Times)? Bond
    {
        get
        {
            if (fault.Action != FaultAction.Replace)
            {
                return null;
            }
            foreach (var part in Layout.PartsOfKind(fault.Kinds))
            {
                if (
                    machine.Handbook.For(part, Layout) is { Glues: true } how
                    && how.School(how.DefaultSchool) is { } school
                    && GlueHabits.Usual.Times(machine.Handbook, school) is { } times
                )
                {
                    return (part, school, times);
                }
            }
            return null;
        }
    }

    private HandTask? Glue =>
        Bond is { } bond && open.Count > 0
            ? new(
                "glue",
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{bond.Part.Name}: {machine.Handbook.AdhesiveOf(bond.School)?.Name ?? "glue"} is on, at {GlueHabits.Usual.Celsius:0} °C. When do you join it?"
                ),
                [],
                []
            )
            : null;

    private HandResult? Glued(string answer)
    {
        if (
            Bond is not { } bond
            || !double.TryParse(
                answer.Replace(',', '.'),
                NumberStyles.Float,
                CultureInfo.InvariantCulture,
                out var minutes
            )
            || minutes is not (>= 0 and <= 10_000)
        )
        {
            return null;
        }
        var (_, _, times) = bond;
        // Off with it, cleaned, coated anew and waited for once more.
        var again =
            times.Earliest + times.Press + machine.Handbook.For(bond.Part, Layout)!.MinutesOf(bond.School.Id) / 2;
        var window = string.Create(
            CultureInfo.InvariantCulture,
            $"It may be joined from {times.Earliest:0.#} to {times.Latest:0.#} min after coating"
        );
        return minutes < times.Earliest
                ? new($"Joined after {minutes:0.#} min, too early: it slides off. {window}.", again)
            : minutes > times.Latest
                ? new($"Joined after {minutes:0.#} min, too late: it does not hold. {window}.", again)
            : new("", 0);
    }

    private bool BeltOff =>
        Out.Any(o => o.TakesOff.Concat(o.Loosens).Select(Layout.FindPart).Any(p => p is { Kind: PartKinds.Belt }));

    private HandTask? Belt =>
        BeltOff
            ? new(
                "belt",
                $"Lay the belt, seen from {(Behind ? "behind" : "the door")}: once round the drum, in one go.",
                [],
                [.. Rehearsal.Of(Layout).Keys.Select(k => (k, Rehearsal.Words(k)))]
            )
            : null;

    /// <summary>Whether the belt is laid from behind: half of the exercises.</summary>
    public bool Behind => seed % 2 == 0;

    private HandResult? Laid(string answer) =>
        Rehearsal.Of(Layout).GetValueOrDefault(answer) is not { } laid ? null
        : laid.Right ? new("", 0)
        : new(
            $"The belt lies wrong. {laid.Say}",
            machine.Planner.MinutesToFree(Layout.PartsOfKind([PartKinds.Belt]).Select(p => p.Id), Bits.None) ?? 0
        );

    private List<(Operation Operation, Plug Plug)> Parted =>
        [.. Out.SelectMany(o => o.Plugs.Where(p => Layout.Holds(p.When)).Select(p => (o, p))).DistinctBy(x => x.p.Id)];

    private HandTask? Plugs
    {
        get
        {
            if (Parted.Count == 0)
            {
                return null;
            }
            var random = new Random(seed);
            // Beside them some that were never parted.
            var others = Layout
                .Operations.Where(o => !open.Contains(o.Id))
                .SelectMany(o => o.Plugs)
                .Where(p => Layout.Holds(p.When))
                .DistinctBy(p => p.Id)
                .ExceptBy(Parted.Select(p => p.Plug.Id), p => p.Id)
                .OrderBy(_ => random.Next())
                .Take(Strangers);
            return new(
                "plugs",
                "Before power comes back: which plugs did you part, and join now?",
                [
                    .. Parted
                        .Select(p => p.Plug)
                        .Concat(others)
                        .OrderBy(p => p.Name, StringComparer.Ordinal)
                        .Select(p => (p.Id, $"{p.Name}: {string.Join(", ", p.Wires)}")),
                ],
                []
            );
        }
    }

    private HandResult? Joined(string answer)
    {
        var said = Ids(answer);
        if (Plugs is not { } task || said.Exists(id => task.Things.All(t => t.Id != id)))
        {
            return null;
        }
        var forgotten = Parted.Where(p => !said.Contains(p.Plug.Id)).ToList();
        return forgotten.Count == 0 ? new("", 0)
            : forgotten.Find(p => Earths(p.Plug)) is { Plug: { } earth }
                ? new(
                    $"Forgotten: {earth.Name}.",
                    0,
                    $"Power came on with “{earth.Name}” parted: what is touched may be live."
                )
            : new(
                $"Forgotten: {string.Join(", ", forgotten.Select(p => p.Plug.Name))}. It stays dead or does not heat, and is opened again.",
                forgotten.Max(p => MinutesTo(p.Operation))
            );
    }

    private static bool Earths(Plug plug) =>
        plug.Name.Contains("earth", StringComparison.OrdinalIgnoreCase)
        || plug.Wires.Any(w => w.Contains("green-yellow", StringComparison.Ordinal));

    private List<(Operation Operation, FastenerGroup Group)> Trays
    {
        get
        {
            var random = new Random(unchecked(seed * 7 + 1));
            // Only those that can be told apart by looking.
            return
            [
                .. Out.SelectMany(o => o.Removed.Select(f => (Operation: o, Group: f)))
                    .Where(f => f.Group.Head is not (FastenerHead.Clip or FastenerHead.Ring))
                    .GroupBy(f =>
                        (f.Group.Head, f.Group.Size, f.Group.LengthMm, f.Group.Thread, f.Group.Tip, f.Group.Finish)
                    )
                    .Where(g => g.Select(f => f.Group.Where).Distinct().Count() == 1)
                    .Select(g => g.First())
                    .DistinctBy(f => f.Group.Where)
                    .OrderBy(_ => random.Next())
                    .Take(MostGroups),
            ];
        }
    }

    private HandTask? Screws
    {
        get
        {
            var trays = Trays;
            return trays.Count < 2
                ? null
                : new(
                    "screws",
                    "Out of the trays: what goes where?",
                    [.. trays.Select(t => (t.Group.Id, $"{t.Group.Count} × {FastenerWords.Kind(t.Group)}"))],
                    [.. trays.Select(t => (t.Group.Id, t.Group.Where)).OrderBy(t => t.Where, StringComparer.Ordinal)]
                );
        }
    }

    private HandResult? Placed(string answer)
    {
        var trays = Trays;
        var said = Ids(answer).Select(p => p.Split('=')).ToList();
        if (
            trays.Count < 2
            || said.Exists(p => p.Length != 2 || p.Any(id => trays.All(t => t.Group.Id != id)))
            || said.DistinctBy(p => p[0]).Count() != said.Count
        )
        {
            return null;
        }
        var wrong = trays.Where(t => said.Exists(p => p[0] == t.Group.Id && p[1] != t.Group.Id)).ToList();
        var over = trays.Where(t => said.TrueForAll(p => p[0] != t.Group.Id)).ToList();
        if (wrong.Count + over.Count == 0)
        {
            return new("", 0);
        }
        static string Names(IEnumerable<(Operation Operation, FastenerGroup Group)> of) =>
            string.Join(
                "; ",
                of.Select(t => $"{t.Group.Count} × {FastenerWords.Kind(t.Group)} belong {t.Group.Where}")
            );
        return new(
            $"{(over.Count > 0 ? $"Left over: {Names(over)}. " : "")}{(wrong.Count > 0 ? $"In the wrong place: {Names(wrong)}." : "")}".Trim(),
            wrong.Concat(over).Max(t => MinutesTo(t.Operation))
        );
    }

    // Out and in again to where it is.
    private double MinutesTo(Operation operation) =>
        machine.Planner.MinutesTo(
            [
                [operation.Id],
            ],
            Bits.None
        ) ?? machine.Diagnostician.Model.Catalog.Costs.ProveMinutes;

    private static List<string> Ids(string answer) =>
        [.. answer.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Distinct()];

    /// <summary>The right answer to a task, as <see cref="Judge"/> takes it.</summary>
    /// <param name="kind">Kind of the task.</param>
    public string Right(string kind) =>
        kind switch
        {
            "glue" => Bond is { } bond
                ? ((bond.Times.Earliest + bond.Times.Latest) / 2).ToString(CultureInfo.InvariantCulture)
                : "",
            "belt" => Rehearsal.Of(Layout).First(w => w.Value.Right).Key,
            "plugs" => string.Join(',', Parted.Select(p => p.Plug.Id)),
            "screws" => string.Join(',', Trays.Select(t => $"{t.Group.Id}={t.Group.Id}")),
            _ => "",
        };
}
