using System.Globalization;
using System.Text.Json;

namespace Idrum.Core.Machines;

/// <summary>What differs between two layouts, in sentences of the trade.</summary>
public static class LayoutDifference
{
    /// <summary>One sentence an entry: new, gone, and what of one that both have was changed into what.</summary>
    /// <param name="before">The layout as it was, or the one held against.</param>
    /// <param name="after">The layout now.</param>
    /// <param name="words">Facts with their questions; null where they are shown elsewhere.</param>
    /// <returns>The sentences; empty where nothing but name and origin differ.</returns>
    public static IReadOnlyList<string> Words(Layout before, Layout after, Vocabulary? words = null)
    {
        var said = new List<string>();
        void Compare<T>(
            string one,
            IReadOnlyList<T> from,
            IReadOnlyList<T> to,
            Func<T, string> id,
            Func<T, string> name,
            Func<T, T, IEnumerable<string>> detail
        )
            where T : class
        {
            said.AddRange(to.Where(x => from.All(f => id(f) != id(x))).Select(x => $"New {one}: {name(x)}."));
            said.AddRange(from.Where(x => to.All(f => id(f) != id(x))).Select(x => $"Gone {one}: {name(x)}."));
            foreach (var x in to)
            {
                if (from.FirstOrDefault(f => id(f) == id(x)) is { } old && Text(old) != Text(x))
                {
                    var details = detail(old, x).ToList();
                    said.Add(
                        $"{name(x)}: {(details.Count > 0 ? string.Join("; ", details) : "its drawing, or what it needs, is another")}."
                    );
                }
            }
        }
        if (words is not null)
        {
            Compare(
                "sight",
                before.Facts,
                after.Facts,
                f => f.Id,
                f => Question(words, f),
                (a, b) => FactWords(words, a, b)
            );
        }
        Compare("part", before.Parts, after.Parts, p => p.Id, p => p.Name, PartWords);
        Compare(
            "step",
            before.Operations,
            after.Operations,
            o => o.Id,
            o => o.Name,
            (a, b) => StepWords(before, after, a, b)
        );
        Compare("way in", before.Ways, after.Ways, w => w.Id, w => w.Title, (_, _) => []);
        if (Text(before.Drive) != Text(after.Drive))
        {
            said.Add($"The drive: {string.Join("; ", DriveWords(before, after))}.");
        }
        return said;
    }

    private static string Text<T>(T value) => JsonSerializer.Serialize(value, LayoutText.Options);

    private static string Number(double n) => n.ToString("0.##", CultureInfo.InvariantCulture);

    private static string Question(Vocabulary words, LayoutFact fact) => words.FindFact(fact.Id)?.Question ?? fact.Id;

    private static IEnumerable<string> FactWords(Vocabulary words, LayoutFact a, LayoutFact b)
    {
        string Said(LayoutFact f) => (words.FindFact(f.Id)?.NameOf(f.Value) ?? f.Value) + (f.Varies ? ", or not" : "");
        yield return $"now “{Said(b)}”, before “{Said(a)}”";
    }

    private static IEnumerable<string> PartWords(Part a, Part b)
    {
        if (a.Name != b.Name)
        {
            yield return $"called “{a.Name}” before";
        }
        if (a.Price != b.Price)
        {
            yield return $"price {Number(a.Price)} → {Number(b.Price)}";
        }
        if (Text(a.Limits) != Text(b.Limits))
        {
            yield return "other limits";
        }
        if (!a.Transfer.SequenceEqual(b.Transfer))
        {
            yield return b.Transfer.Count > 0
                ? $"comes over from the old one: {string.Join(", ", b.Transfer)}"
                : "nothing comes over from the old one any more";
        }
    }

    private static IEnumerable<string> StepWords(Layout before, Layout after, Operation a, Operation b)
    {
        if (a.Name != b.Name)
        {
            yield return $"called “{a.Name}” before";
        }
        if (a.Do != b.Do)
        {
            yield return $"“{b.Do}” in place of “{a.Do}”";
        }
        if (a.TypicalMinutes != b.TypicalMinutes)
        {
            yield return $"{Number(a.TypicalMinutes)} → {Number(b.TypicalMinutes)} min";
        }
        foreach (var g in b.Fasteners)
        {
            if (a.Fasteners.FirstOrDefault(x => x.Id == g.Id) is not { } old)
            {
                yield return $"{g.Count} new at {g.Where}";
                continue;
            }
            if (old.Count != g.Count)
            {
                yield return $"{old.Count} → {g.Count} at {g.Where}";
            }
            if (old.Size != g.Size)
            {
                yield return $"size {old.Size} → {g.Size} at {g.Where}";
            }
            if (old.LengthMm != g.LengthMm)
            {
                yield return $"{Number(old.LengthMm)} → {Number(g.LengthMm)} mm long at {g.Where}";
            }
            if (old.Where != g.Where)
            {
                yield return $"they sit {g.Where}, not {old.Where}";
            }
        }
        foreach (var g in a.Fasteners.Where(x => b.Fasteners.All(y => y.Id != x.Id)))
        {
            yield return $"none any more at {g.Where}";
        }
        foreach (var p in b.Plugs)
        {
            if (a.Plugs.FirstOrDefault(x => x.Id == p.Id) is not { } old)
            {
                yield return $"a plug more, {p.Name}";
            }
            else if (!old.Wires.SequenceEqual(p.Wires))
            {
                yield return $"wires of the plug of {p.Name}: {string.Join(' ', old.Wires)} → {string.Join(' ', p.Wires)}";
            }
        }
        foreach (var p in a.Plugs.Where(x => b.Plugs.All(y => y.Id != x.Id)))
        {
            yield return $"a plug fewer, {p.Name}";
        }
        string Needed(Layout layout, Operation o) =>
            string.Join(
                ", and ",
                o.Needs.Concat(o.First)
                    .Select(group => string.Join(" or ", group.Select(id => layout.FindOperation(id)?.Name ?? id)))
            );
        if (Needed(before, a) is var was && Needed(after, b) is var now && was != now)
        {
            yield return now.Length == 0 ? "needs nothing before it" : $"needs before it: {now}";
        }
        foreach (var r in b.Refit.Where(r => a.Refit.Any(x => x.Id == r.Id && x.Do != r.Do)))
        {
            yield return $"goes back by “{r.Do}”";
        }
        if (a.Why != b.Why)
        {
            yield return "why or how is said otherwise";
        }
    }

    /// <summary>What of the drive is otherwise: lengths and speeds by number, all else by what it is.</summary>
    private static IEnumerable<string> DriveWords(Layout before, Layout after)
    {
        var (a, b) = (
            JsonSerializer.SerializeToElement(before.Drive, LayoutText.Options),
            JsonSerializer.SerializeToElement(after.Drive, LayoutText.Options)
        );
        if (a.ValueKind != JsonValueKind.Object || b.ValueKind != JsonValueKind.Object)
        {
            return ["stated for one of them only"];
        }
        static string Raw(JsonElement of, params string[] path)
        {
            foreach (var name in path)
            {
                if (of.ValueKind != JsonValueKind.Object || !of.TryGetProperty(name, out of))
                {
                    return "";
                }
            }
            return of.GetRawText().Trim('"');
        }
        return Named
            .Select(n => (n.Words, n.Number, Was: Raw(a, n.Path), Is: Raw(b, n.Path)))
            .Where(n => n.Was != n.Is)
            .Select(n =>
                n.Number && n.Was.Length > 0 && n.Is.Length > 0 ? $"{n.Words} {n.Was} → {n.Is}"
                : n.Number ? $"{n.Words} {(n.Is.Length > 0 ? n.Is : "not stated any more")}"
                : $"{n.Words} otherwise"
            )
            .DefaultIfEmpty("small things of it");
    }

    /// <summary>Where each stands in the file, what it is called, and whether its number is told.</summary>
    private static readonly (string Words, bool Number, string[] Path)[] Named =
    [
        ("belt length, mm,", true, ["belt", "lengthMm"]),
        ("ribs of the belt", true, ["belt", "ribs"]),
        ("width of the belt, mm,", true, ["belt", "widthMm"]),
        ("motor r/min at 50 Hz", true, ["motorRpm50"]),
        ("motor r/min at 60 Hz", true, ["motorRpm60"]),
        ("it turns", true, ["turns"]),
        ("the drum", false, ["drum"]),
        ("the motor pulley", false, ["motorPulley"]),
        ("the tensioner", false, ["tensioner"]),
        ("the rollers", false, ["rollers"]),
        ("the motor", false, ["motor"]),
        ("the load", false, ["load"]),
        ("the levers from the rear bearing", false, ["levers"]),
        ("the friction", false, ["friction"]),
        ("the glue's width, mm,", true, ["glueWidthMm"]),
        ("the air", false, ["air"]),
    ];
}
