using System.Globalization;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Practice;

/// <summary>What was marked on a photo of the shop's own, asked again: which wire, which plug, which hole.</summary>
public static class PhotoDrill
{
    /// <summary>Its kind among the drills.</summary>
    public const string Kind = "photo";

    private const int Many = 4;

    /// <summary>A question of a job whose photos were marked.</summary>
    /// <param name="job">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="random">Seeded: the same seed asks the same.</param>
    /// <returns>Null where no photo of it is marked, or nothing else could be meant.</returns>
    public static DrillQuestion? Of(JobState job, Layout layout, Random random)
    {
        var marks = job.Marks.Where(m => m.Word.Length > 0 && job.Photos.Exists(p => p.PhotoId == m.PhotoId)).ToList();
        if (marks.Count == 0 || job.CustomerRemoved)
        {
            return null;
        }
        var asked = marks[random.Next(marks.Count)];
        // What else it could be: what was marked beside it, then plugs of the machine.
        var others = marks
            .Where(m => m.PhotoId == asked.PhotoId)
            .Concat(marks)
            .Select(m => m.Word)
            .Concat(
                layout
                    .Operations.SelectMany(o => o.Plugs)
                    .Select(p => p.Name)
                    .Distinct()
                    .OrderBy(_ => random.Next())
                    .ToList()
            )
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .Where(w => !w.Equals(asked.Word, StringComparison.OrdinalIgnoreCase))
            .Take(Many - 1)
            .ToList();
        if (others.Count == 0)
        {
            return null;
        }
        var choices = others.Append(asked.Word).OrderBy(_ => random.Next()).ToList();
        return new(
            string.Create(
                CultureInfo.InvariantCulture,
                $"photo/{job.Number}/{asked.PhotoId[..Math.Min(12, asked.PhotoId.Length)]}/{asked.X:0}/{asked.Y:0}"
            ),
            Kind,
            $"{layout.Title}, {job.Number}: what is in the ring?",
            choices,
            choices.IndexOf(asked.Word),
            $"So it was marked in {job.Number}."
        )
        {
            Photo = (job.Number, asked.PhotoId, asked.X, asked.Y),
        };
    }
}
