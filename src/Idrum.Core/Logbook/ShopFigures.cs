using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Logbook;

/// <summary>What the closed jobs of a shop say, each with how many stand behind it and how sure it is.</summary>
public sealed record ShopFigures
{
    /// <summary>A machine that calls within this many days of a repair has come back.</summary>
    public const int ComesBackDays = 30;

    /// <summary>Closed jobs.</summary>
    public required int Jobs { get; init; }

    /// <summary>The first and the last of them.</summary>
    public required (DateTimeOffset First, DateTimeOffset Last)? Span { get; init; }

    /// <summary>Minutes taken over minutes planned for the same steps, by layout.</summary>
    public required IReadOnlyList<Figure> Pace { get; init; }

    /// <summary>The same by step: layout id, step, figure; those of most jobs first.</summary>
    public required IReadOnlyList<(string LayoutId, StepRef Step, Figure Ratio)> Steps { get; init; }

    /// <summary>Jobs finished at the first visit that did not come back, of all that were put right here.</summary>
    public required Figure FirstVisit { get; init; }

    /// <summary>Call-backs of all closed jobs.</summary>
    public required Figure CameBack { get; init; }

    /// <summary>Call-backs by cause; <c>unsaid</c> where nobody said.</summary>
    public required IReadOnlyList<Figure> BackBecause { get; init; }

    /// <summary>How often a job came back where something was left or declined (<c>left</c>), and where nothing was (<c>whole</c>).</summary>
    public required IReadOnlyList<Figure> BackByLeft { get; init; }

    /// <summary>Faults put right by layout and age: layout, age class (see <see cref="AgeOf"/>), fault and share of the jobs of both.</summary>
    public required IReadOnlyList<(string LayoutId, string Age, Figure Share)> Faults { get; init; }

    /// <summary>Lives by kind of part, with the fit where there are failures enough.</summary>
    public required IReadOnlyList<(PartLives Lives, Weibull? Fit)> Lives { get; init; }

    /// <summary>Of parts changed, how many were seen to be sound when they came out, by kind.</summary>
    public required IReadOnlyList<Figure> ForNothing { get; init; }

    /// <summary>Checks by how often they were asked: how often one changed the first suspect, and the minutes it saved a time.</summary>
    public required IReadOnlyList<(Figure Changed, Figure Minutes)> Checks { get; init; }

    /// <summary>Charged over promised.</summary>
    public required Figure Charged { get; init; }

    /// <summary>Jobs charged no more than a tenth above what was told as likely.</summary>
    public required Figure Kept { get; init; }

    /// <summary>Class of a machine's age: <c>young</c> below 5 years, <c>middle</c> below 10, <c>old</c>, or <c>unknown</c>.</summary>
    public static string AgeOf(double? years) =>
        years switch
        {
            null => "unknown",
            < 5 => "young",
            < 10 => "middle",
            _ => "old",
        };

    /// <summary>Works it out.</summary>
    /// <param name="records">Closed jobs.</param>
    /// <param name="lessons">What they teach, for the minutes of steps.</param>
    /// <param name="layoutOf">Layout by id.</param>
    /// <param name="now">The present.</param>
    /// <param name="cancellation">Ends it.</param>
    public static ShopFigures Of(
        IReadOnlyList<JobRecord> records,
        IReadOnlyList<JobLesson> lessons,
        Func<string, Layout?> layoutOf,
        DateTimeOffset now,
        CancellationToken cancellation = default
    )
    {
        var back = BackOf(records);
        var worked = records.Where(r => !r.HandedOver && r.Trips > 0).ToList();
        var calls = records.Where(r => r.CallBackOf.Length > 0).ToList();
        bool Left(JobRecord r) => r.Left.Count + r.Declined.Count > 0;
        cancellation.ThrowIfCancellationRequested();
        return new()
        {
            Jobs = records.Count,
            Span = records.Count == 0 ? null : (records.Min(r => r.ClosedAt), records.Max(r => r.ClosedAt)),
            Pace =
            [
                .. records
                    .Where(r => r is { StepsPlanned: > 0, StepsTaken: > 0 })
                    .GroupBy(r => r.LayoutId)
                    .Select(g => Figure.Ratio(g.Key, [.. g.Select(r => r.StepsTaken / r.StepsPlanned)]))
                    .OrderByDescending(f => f.Of)
                    .ThenBy(f => f.What, StringComparer.Ordinal),
            ],
            Steps =
            [
                .. lessons
                    .SelectMany(l => l.Minutes.Select(m => (l.LayoutId, Step: m.Key, Took: m.Value)))
                    .GroupBy(m => (m.LayoutId, m.Step))
                    .Select(g =>
                        (
                            g.Key.LayoutId,
                            g.Key.Step,
                            Planned: layoutOf(g.Key.LayoutId) is { } layout
                                ? JobRecord.Planned(layout, g.Key.Step)
                                : null,
                            Took: g.Select(m => m.Took).ToList()
                        )
                    )
                    .Where(g => g.Planned > 0)
                    .Select(g =>
                        (
                            g.LayoutId,
                            g.Step,
                            Figure.Ratio(g.Step.ToString(), [.. g.Took.Select(t => t / g.Planned!.Value)])
                        )
                    )
                    .OrderByDescending(g => g.Item3.Of)
                    .ThenBy(g => g.LayoutId, StringComparer.Ordinal)
                    .ThenBy(g => g.Step),
            ],
            FirstVisit = Figure.Share("", worked.Count(r => r.Trips == 1 && !back.Contains(r.Number)), worked.Count),
            CameBack = Figure.Share("", back.Count, worked.Count),
            BackBecause =
            [
                .. calls
                    .GroupBy(r => r.CallBackCause.Length > 0 ? r.CallBackCause : "unsaid")
                    .Select(g => Figure.Share(g.Key, g.Count(), calls.Count))
                    .OrderByDescending(f => f.Count)
                    .ThenBy(f => f.What, StringComparer.Ordinal),
            ],
            BackByLeft =
            [
                Figure.Share("left", worked.Count(r => Left(r) && back.Contains(r.Number)), worked.Count(Left)),
                Figure.Share(
                    "whole",
                    worked.Count(r => !Left(r) && back.Contains(r.Number)),
                    worked.Count(r => !Left(r))
                ),
            ],
            Faults =
            [
                .. records
                    .GroupBy(r => (r.LayoutId, Age: AgeOf(r.AgeYears)))
                    .SelectMany(g =>
                        g.SelectMany(r => r.Faults)
                            .GroupBy(f => f)
                            .Select(f => (g.Key.LayoutId, g.Key.Age, Figure.Share(f.Key, f.Count(), g.Count())))
                    )
                    .OrderByDescending(f => f.Item3.Count)
                    .ThenBy(f => f.LayoutId, StringComparer.Ordinal)
                    .ThenBy(f => f.Item3.What, StringComparer.Ordinal),
            ],
            Lives = [.. PartLives.Of(records, layoutOf, now).Select(p => (p, Weibull.Fit(p.Lives)))],
            ForNothing =
            [
                .. records
                    .SelectMany(r => r.Changed)
                    .GroupBy(c => c.Kind)
                    .Select(g => Figure.Share(g.Key, g.Count(c => c.Why == PartChanged.FoundGood), g.Count()))
                    .OrderByDescending(f => f.Count)
                    .ThenByDescending(f => f.Of)
                    .ThenBy(f => f.What, StringComparer.Ordinal),
            ],
            Checks =
            [
                .. records
                    .SelectMany(r => r.Checks)
                    .GroupBy(c => c.FindingId)
                    .Select(g =>
                        (
                            Figure.Share(g.Key, g.Count(c => c.Changed), g.Count()),
                            Figure.Mean(g.Key, [.. g.Select(c => c.Minutes)])
                        )
                    )
                    .OrderByDescending(c => c.Item1.Of)
                    .ThenBy(c => c.Item1.What, StringComparer.Ordinal),
            ],
            Charged = Figure.Ratio("", [.. Priced(records).Select(r => r.Charged!.Value / r.Promised!.Value)]),
            Kept = Figure.Share("", Priced(records).Count(r => r.Charged <= r.Promised * 1.1), Priced(records).Count()),
        };
    }

    private static IEnumerable<JobRecord> Priced(IEnumerable<JobRecord> records) =>
        records.Where(r => r is { Promised: > 0, Charged: > 0 });

    /// <summary>Jobs that came back: named by a later job as what it comes back from, or followed on the same tag within
    /// <see cref="ComesBackDays"/> days.</summary>
    private static HashSet<string> BackOf(IReadOnlyList<JobRecord> records)
    {
        var back = records.Select(r => r.CallBackOf).Where(n => n.Length > 0).ToHashSet(StringComparer.Ordinal);
        back.IntersectWith(records.Where(r => !r.HandedOver && r.Trips > 0).Select(r => r.Number));
        foreach (var machine in records.Where(r => r.Tag.Length > 0).GroupBy(r => (r.Tag, r.LayoutId)))
        {
            var jobs = machine.OrderBy(r => r.OpenedAt).ToList();
            for (var i = 1; i < jobs.Count; i++)
            {
                if (
                    jobs[i - 1] is { HandedOver: false, Trips: > 0 }
                    && jobs[i].OpenedAt - jobs[i - 1].ClosedAt <= TimeSpan.FromDays(ComesBackDays)
                )
                {
                    back.Add(jobs[i - 1].Number);
                }
            }
        }
        return back;
    }
}
