using Idrum.Core.Diagnosis;
using Idrum.Core.Practice;

namespace Idrum.Bench;

/// <summary>Ways of finding a fault: Idrum's advice, and four simple ones with a threshold each. All believe the same
/// model.</summary>
internal static class FindWays
{
    internal static readonly (string Name, double[] Thresholds, Action<PracticeJob, double> Work)[] Simple =
    [
        ("checklist from outside in", [0.6, 0.8, 0.92], Checklist),
        ("likeliest part first", [0.04, 0.1, 0.2], LikeliestFirst),
        ("most bits per minute", [0.6, 0.8, 0.92], BitsPerMinute),
        ("cheap checks, then p over cost", [0.5, 1, 2], CheapThenRatio),
    ];

    internal static void Idrum(PracticeJob job, double _)
    {
        var d = job.Knowledge.Diagnostician;
        while (!job.Over)
        {
            Follow(job, d.NextAct(job.Request).Advice);
        }
    }

    private static void Follow(PracticeJob job, Advice advice)
    {
        var catalog = job.Knowledge.Diagnostician.Model.Catalog;
        switch (advice.Kind)
        {
            case AdviceKind.Check:
                job.Check(catalog.FindFinding(advice.Id)!);
                break;
            case AdviceKind.Open:
                job.OpenTo([job.Knowledge.Layout.FindPart(advice.Id)!]);
                break;
            case AdviceKind.Repair or AdviceKind.Bring:
                job.Repair(catalog.FindFault(advice.Id)!);
                break;
            default:
                if (advice.Kind == AdviceKind.Refer)
                {
                    job.HandOver();
                }
                else
                {
                    job.End();
                }
                break;
        }
    }

    /// <summary>Follows what thinking it through puts in the place of the first advice.</summary>
    internal static void ThoughtThrough(PracticeJob job, double _)
    {
        while (!job.Over)
        {
            Follow(job, job.Knowledge.Diagnostician.Improve(job.Request, TimeSpan.FromSeconds(1.5)).Advice);
        }
    }

    private static double[] There(PracticeJob job) => [.. job.Knowledge.Diagnostician.Believe(job.Request).There];

    private static IEnumerable<Finding> Open(PracticeJob job) =>
        job.Knowledge.Diagnostician.Model.Findings.Where(f =>
            f.Group is not (FindingGroup.Complaint or FindingGroup.History or FindingGroup.Before)
            && !f.Live
            && !job.Evidence.ContainsKey(f.Id)
        );

    /// <summary>Goes for a fault: looks first where looking tells, then puts it right or not.</summary>
    private static void GoFor(PracticeJob job, Fault fault)
    {
        if (fault.Action == FaultAction.Refer)
        {
            job.HandOver();
            return;
        }
        if (!fault.Hidden)
        {
            foreach (
                var look in Open(job)
                    .Where(f => f.SeesKinds.Intersect(fault.Kinds).Any() && f.Links.Any(l => l.Fault == fault.Id))
                    .ToList()
            )
            {
                if (job.MinutesTo(look) is not null)
                {
                    job.Check(look);
                }
            }
        }
        if (!job.Over && (fault.Hidden || There(job)[Place(job, fault)] >= 0.4))
        {
            job.Repair(fault);
        }
        else if (!job.Over)
        {
            job.PutRight.Add(fault.Id);
        }
    }

    private static int Place(PracticeJob job, Fault fault) =>
        job.Knowledge.Diagnostician.Model.Faults.ToList().FindIndex(f => f.Id == fault.Id);

    private static (Fault Fault, double P) Likeliest(PracticeJob job)
    {
        var there = There(job);
        var best = Array.IndexOf(there, there.Max());
        return (job.Knowledge.Diagnostician.Model.Faults[best], there[best]);
    }

    private static void LikeliestFirst(PracticeJob job, double least)
    {
        while (!job.Over)
        {
            var (fault, p) = Likeliest(job);
            if (p < least)
            {
                job.End();
                return;
            }
            GoFor(job, fault);
        }
    }

    private static void Checklist(PracticeJob job, double sure)
    {
        while (!job.Over)
        {
            var (fault, p) = Likeliest(job);
            if (p >= sure)
            {
                GoFor(job, fault);
                continue;
            }
            var next = Open(job)
                .Select(f => (Finding: f, Minutes: job.MinutesTo(f)))
                .Where(f => f.Minutes is not null)
                .OrderBy(f => f.Minutes > 0)
                .ThenBy(f => f.Minutes > 0 ? f.Minutes : 0)
                .FirstOrDefault();
            if (next.Finding is null)
            {
                LikeliestFirst(job, 0.1);
                return;
            }
            job.Check(next.Finding);
        }
    }

    private static void BitsPerMinute(PracticeJob job, double sure)
    {
        while (!job.Over)
        {
            var (belief, there) = job.Knowledge.Diagnostician.Believe(job.Request);
            var best = 0;
            for (var i = 0; i < there.Count; i++)
            {
                best = there[i] > there[best] ? i : best;
            }
            if (there[best] >= sure)
            {
                GoFor(job, job.Knowledge.Diagnostician.Model.Faults[best]);
                continue;
            }
            var next = Open(job)
                .Select(f => (Finding: f, Minutes: job.MinutesTo(f)))
                .Where(f => f.Minutes is not null)
                .Select(f => (f.Finding, Rate: belief.Bits(f.Finding.Id) / (f.Minutes!.Value + f.Finding.Minutes)))
                .DefaultIfEmpty()
                .MaxBy(f => f.Rate);
            if (next.Finding is null || next.Rate < 0.0005)
            {
                LikeliestFirst(job, 0.1);
                return;
            }
            job.Check(next.Finding);
        }
    }

    private static void CheapThenRatio(PracticeJob job, double minutes)
    {
        foreach (
            var f in Open(job)
                .Where(f => f.Minutes <= minutes && job.MinutesTo(f) == 0)
                .OrderBy(f => f.Minutes)
                .ToList()
        )
        {
            if (Likeliest(job).P < 0.9 && !job.Over)
            {
                job.Check(f);
            }
        }
        while (!job.Over)
        {
            var there = There(job);
            var model = job.Knowledge.Diagnostician.Model;
            var best = Enumerable
                .Range(0, there.Length)
                .Where(i => there[i] > 0.01)
                .OrderByDescending(i =>
                    there[i]
                    / Math.Max(
                        2,
                        (
                            job.Knowledge.Planner.MinutesToFree(
                                job.Knowledge.Layout.PartsOfKind(model.Faults[i].Kinds).Select(p => p.Id),
                                Core.Teardown.Bits.None
                            ) ?? 400
                        ) + model.Faults[i].FixMinutes
                    )
                )
                .FirstOrDefault(-1);
            if (best < 0)
            {
                job.End();
                return;
            }
            GoFor(job, model.Faults[best]);
        }
    }
}
