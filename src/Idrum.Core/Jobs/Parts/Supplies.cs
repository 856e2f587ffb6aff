using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>Parts of a job, thing by thing: what is needed, what is here, what was fitted, what is left over.</summary>
public static class Supplies
{
    /// <summary>One thing.</summary>
    /// <param name="Item">What it is.</param>
    /// <param name="Needed">How many places of the job want one.</param>
    /// <param name="Fitted">How many went in.</param>
    /// <param name="Here">How many came and are not fitted.</param>
    /// <param name="Coming">How many are on order.</param>
    public sealed record Row(PartItem Item, int Needed, int Fitted, int Here, int Coming)
    {
        /// <summary>How many are still to be had.</summary>
        public int Short => Math.Max(0, Needed - Fitted - Here - Coming);
    }

    /// <summary>A line with what is left of it.</summary>
    /// <param name="Line">The line.</param>
    /// <param name="Used">How many of it are opened and fitted, in whole or in part.</param>
    public sealed record Rest(OrderLine Line, int Used)
    {
        /// <summary>How many lie here unused.</summary>
        public int Over => Math.Max(0, Line.Came + Line.Wrong - Used - Line.Returned);
    }

    /// <summary>Row by thing, for everything the job wants or has.</summary>
    public static IReadOnlyList<Row> Rows(JobState state, Layout layout)
    {
        var need = PartItem.Need(layout, Wanted(state));
        var fitted = PartItem.Need(layout, Replaced(state));
        var opened = PartItem.Need(layout, FromLines(state));
        var (here, coming) = (new Dictionary<PartId, int>(), new Dictionary<PartId, int>());
        foreach (var line in state.Lines.Values)
        {
            foreach (var (part, n) in line.Covers)
            {
                var item = PartItem.Of(layout, part);
                here[item] = here.GetValueOrDefault(item) + (line.Came - Math.Max(0, line.Returned - line.Wrong)) * n;
                coming[item] = coming.GetValueOrDefault(item) + line.Open * n;
            }
        }
        // Orders of logs from before there were lines.
        foreach (
            var part in state
                .Orders.Keys.Where(p =>
                    !state.Lines.Values.Any(l =>
                        l.Covers.Keys.Any(c => PartItem.Of(layout, c) == PartItem.Of(layout, p))
                    )
                )
                .Select(layout.FindPart)
                .OfType<Part>()
        )
        {
            var item = PartItem.Of(layout, part.Id);
            coming[item] = coming.GetValueOrDefault(item) + PartItem.Units(part);
        }
        return
        [
            .. PartItem
                .All(layout)
                .Where(i => need.ContainsKey(i.Id) || here.GetValueOrDefault(i.Id) + coming.GetValueOrDefault(i.Id) > 0)
                .Select(i => new Row(
                    i,
                    need.GetValueOrDefault(i.Id),
                    fitted.GetValueOrDefault(i.Id),
                    Math.Max(0, here.GetValueOrDefault(i.Id) - opened.GetValueOrDefault(i.Id)),
                    coming.GetValueOrDefault(i.Id)
                )),
        ];
    }

    /// <summary>Parts a new one goes in for: targets that are not cleaned, adjusted or left.</summary>
    public static IEnumerable<PartId> Wanted(JobState state) =>
        state
            .Targets.Where(t => state.Fitted.GetValueOrDefault(t) is null or { Action: FittedAs.Replaced })
            .Union(Replaced(state));

    /// <summary>The way of fitting a part that what was bought for it is for; empty where it says none.</summary>
    public static string WayOf(JobState state, Layout layout, Part part) =>
        state
            .Lines.Values.Where(l =>
                l.Way.Length > 0
                && l.Came + l.Open > Math.Max(0, l.Returned - l.Wrong)
                && l.Covers.Keys.Any(p => PartItem.Of(layout, p) == PartItem.Of(layout, part.Id))
            )
            .MaxBy(l => l.CameAt ?? l.Due)
            ?.Way
        ?? "";

    /// <summary>Whether one more of a part may be called fitted: where lines speak of it, as many must be
    /// here.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="said">Whether it was said to be out of a line: then there must be one.</param>
    public static bool IsHere(JobState state, Layout layout, Part part, bool said = false)
    {
        var item = PartItem.Of(layout, part.Id);
        var told = state.Lines.Values.Where(l => l.Covers.Keys.Any(p => PartItem.Of(layout, p) == item)).ToList();
        if (told.Count == 0)
        {
            return !said || part.Price <= 0 || !part.Wears;
        }
        var here = told.Sum(l =>
            (l.Came - Math.Max(0, l.Returned - l.Wrong))
            * l.Covers.Where(c => PartItem.Of(layout, c.Key) == item).Sum(c => c.Value)
        );
        return PartItem.Need(layout, FromLines(state).Append(part.Id)).GetValueOrDefault(item) <= here;
    }

    /// <summary>What is left of each line. What was fitted is taken from kits first, as they are opened whole; from
    /// singles then.</summary>
    public static IReadOnlyList<Rest> Left(JobState state, Layout layout)
    {
        var used = PartItem.Need(layout, FromLines(state)).ToDictionary();
        var rests = new Dictionary<string, Rest>();
        foreach (
            var line in state
                .Lines.Values.OrderByDescending(l => l.Covers.Values.Sum())
                .ThenBy(l => l.LineId, StringComparer.Ordinal)
        )
        {
            var units = 0;
            for (
                ;
                units < line.Came && line.Covers.Keys.Any(p => used.GetValueOrDefault(PartItem.Of(layout, p)) > 0);
                units++
            )
            {
                foreach (var (part, n) in line.Covers)
                {
                    var item = PartItem.Of(layout, part);
                    used[item] = Math.Max(0, used.GetValueOrDefault(item) - n);
                }
            }
            rests[line.LineId] = new(line, units);
        }
        return [.. state.Lines.Values.Select(l => rests[l.LineId])];
    }

    /// <summary>What lies here and is no longer wanted: it did not fit, was for another machine, or all the job wants is in.</summary>
    public static IEnumerable<Rest> LeftOver(JobState state, Layout layout)
    {
        var allIn = Rows(state, layout).All(r => r.Needed <= r.Fitted);
        return Left(state, layout)
            .Where(r => r.Over > 0 && (r.Line.Astray || r.Line.Covers.Count > 0 && (r.Line.Wrong > 0 || allIn)));
    }

    /// <summary>Parts of a job an article is for: all places of its things that want one, its own where none
    /// does.</summary>
    public static IReadOnlyList<PartId> For(JobState state, Layout layout, Article article)
    {
        var wanted = state
            .Targets.Where(t => !state.Fitted.ContainsKey(t) && article.Covers.ContainsKey(PartItem.Of(layout, t)))
            .ToList();
        return wanted.Count > 0 ? wanted : [.. article.Covers.Keys];
    }

    /// <summary>What goes in with a part: articles that came for it, and the one the way of fitting it goes in
    /// with.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="way">Way of fitting it.</param>
    /// <param name="articles">What can be had for the machine.</param>
    public static IReadOnlyList<Article> GoesInWith(
        JobState state,
        Layout layout,
        Part part,
        string way,
        IReadOnlyList<Article> articles
    )
    {
        var came = CameFor(state, layout, part, articles);
        return
        [
            .. came,
            .. articles
                .Where(a => a.Way.Length > 0 && a.Way == way && a.Covers.ContainsKey(PartItem.Of(layout, part.Id)))
                .Except(came)
                .Take(1),
        ];
    }

    /// <summary>Articles that came for a part.</summary>
    public static IReadOnlyList<Article> CameFor(
        JobState state,
        Layout layout,
        Part part,
        IReadOnlyList<Article> articles
    ) =>
        [
            .. state
                .Lines.Values.Where(l =>
                    l.Came > 0 && l.Covers.Keys.Any(c => PartItem.Of(layout, c) == PartItem.Of(layout, part.Id))
                )
                .Select(l => articles.FirstOrDefault(a => a.Is(l.ArticleId)))
                .OfType<Article>(),
        ];

    /// <summary>What still comes over from the old part once what was bought for it brings or replaces some of
    /// it.</summary>
    /// <param name="part">The part.</param>
    /// <param name="bought">Articles that came for it.</param>
    public static (IReadOnlyList<string> Stays, IReadOnlyList<(string Small, string Why)> Falls) Transfer(
        Part part,
        IReadOnlyList<Article> bought
    )
    {
        string? Falls(string small) =>
            bought
                .Select(a =>
                    a.Replaces.Contains(small) ? $"replaced: {string.Join(", ", a.Brings)}"
                    : a.Brings.Any(b => SmallParts.Same(b, small)) ? "a new one is in the bag"
                    : null
                )
                .FirstOrDefault(w => w is not null);
        return (
            [.. part.Transfer.Where(t => Falls(t) is null)],
            [.. part.Transfer.Select(t => (t, Falls(t) ?? "")).Where(t => t.Item2.Length > 0)]
        );
    }

    /// <summary>Where one more of a part is most likely from: out of what is here for this job, else out of the van,
    /// else whoever repairs has it in the hand.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="van">Whether the van holds one.</param>
    /// <returns>One of <see cref="PartSource"/>.</returns>
    public static string UsualSource(JobState state, Layout layout, Part part, bool van)
    {
        var item = PartItem.Of(layout, part.Id);
        var line = state
            .Lines.Values.Where(l => l.Came > 0 && l.Covers.Keys.Any(p => PartItem.Of(layout, p) == item))
            .MaxBy(l => l.CameAt);
        return line is not null && IsHere(state, layout, part)
            ? line.Source == PartSource.Van
                ? PartSource.Van
                : PartSource.Order
            : van
                ? PartSource.Van
                : PartSource.Had;
    }

    /// <summary>New parts that are out of the lines of the job.</summary>
    private static IEnumerable<PartId> FromLines(JobState state) =>
        Replaced(state).Where(p => state.Fitted.GetValueOrDefault(p)?.FromLines != false);

    /// <summary>New parts that are in, or are being glued in.</summary>
    internal static IEnumerable<PartId> Replaced(JobState state) =>
        state
            .Fitted.Where(f => f.Value.Action == FittedAs.Replaced)
            .Select(f => f.Key)
            .Union(state.Glue.Keys.Where(g => !state.Fitted.ContainsKey(g)));
}
