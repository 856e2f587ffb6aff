using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Log;

/// <summary>What another writing of a layout would change for a job.</summary>
public static class LayoutChange
{
    /// <summary>What the job has done or decided that the other layout has no place for; empty where the job can
    /// move.</summary>
    public static IEnumerable<string> Lost(JobState state, Layout after)
    {
        foreach (var id in state.Removals.Select(r => r.OperationId).Where(id => after.FindOperation(id) is null))
        {
            yield return $"The step '{id}' was done, the other layout has none such.";
        }
        foreach (var id in state.Targets.Concat(state.Fitted.Keys).Distinct().Where(id => after.FindPart(id) is null))
        {
            yield return $"The part '{id}' is worked on, the other layout has none such.";
        }
        foreach (var id in state.Removals.SelectMany(r => r.Out.Keys).Distinct().Where(id => after.OwnerOf(id) is null))
        {
            yield return $"Screws '{id}' were counted, the other layout has none such.";
        }
        foreach (
            var (way, option) in state.WaysIn.Where(w =>
                after.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))
            )
        )
        {
            yield return $"The way '{way}' by '{option}' was chosen, the other layout has none such.";
        }
        foreach (var key in state.StepsIn.Where(s => s.In(after) is null))
        {
            yield return $"The step '{key}' was done, the other layout has none such.";
        }
    }

    /// <summary>What differs between two layouts, in words: entries added, removed and changed.</summary>
    public static IReadOnlyList<string> Words(Layout before, Layout after, Vocabulary? vocabulary = null)
    {
        var words = new List<string>();
        void Compare<T>(
            string one,
            IReadOnlyList<T> from,
            IReadOnlyList<T> to,
            Func<T, string> id,
            Func<T, string> name
        )
        {
            foreach (var x in to.Where(x => from.All(f => id(f) != id(x))))
            {
                words.Add($"New {one}: {name(x)}.");
            }
            foreach (var x in from.Where(x => to.All(f => id(f) != id(x))))
            {
                words.Add($"Gone {one}: {name(x)}.");
            }
            foreach (var x in to)
            {
                var old = from.FirstOrDefault(f => id(f) == id(x));
                if (
                    old is not null
                    && System.Text.Json.JsonSerializer.Serialize(old, LayoutText.Options)
                        != System.Text.Json.JsonSerializer.Serialize(x, LayoutText.Options)
                )
                {
                    words.Add($"Changed {one}: {name(x)}{Detail(old, x!)}.");
                }
            }
        }
        Compare("fact", before.Facts, after.Facts, f => f.Id, f => vocabulary?.FindFact(f.Id)?.Question ?? f.Id);
        Compare("part", before.Parts, after.Parts, p => p.Id, p => p.Name);
        Compare("step", before.Operations, after.Operations, o => o.Id, o => o.Name);
        Compare("way in", before.Ways, after.Ways, w => w.Id, w => w.Title);
        if (
            System.Text.Json.JsonSerializer.Serialize(before.Drive, LayoutText.Options)
            != System.Text.Json.JsonSerializer.Serialize(after.Drive, LayoutText.Options)
        )
        {
            words.Add("Changed: the numbers of the drive.");
        }
        return words;
    }

    private static string Detail(object before, object after) =>
        (before, after) is (Operation a, Operation b)
            ? string.Concat(
                b.Fasteners.Where(f => a.Fasteners.Any(x => x.Id == f.Id && x.Count != f.Count))
                    .Select(f => $", {a.Fasteners.First(x => x.Id == f.Id).Count} → {f.Count} at {f.Where}")
            ) + (a.TypicalMinutes != b.TypicalMinutes ? $", {a.TypicalMinutes:0.#} → {b.TypicalMinutes:0.#} min" : "")
        : (before, after) is (Part p, Part q) && p.Price != q.Price ? $", price {p.Price:0.##} → {q.Price:0.##}"
        : "";
}
