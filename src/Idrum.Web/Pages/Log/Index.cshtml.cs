using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Log;

/// <summary>Every job of the shop, found by words and facts; what is looked for stands in the address.</summary>
public sealed class IndexModel(LogbookStore log, ShopSnapshot shop, TimeProvider clock) : PageModel
{
    private const int PageSize = 50;

    public LogFilter Filter { get; private set; } = null!;

    public IReadOnlyList<JobLine> Lines { get; private set; } = [];

    /// <summary>Jobs that fit, on all pages.</summary>
    public int Count { get; private set; }

    public int At { get; private set; } = 1;

    public int Pages => Math.Max(1, (Count + PageSize - 1) / PageSize);

    public IReadOnlyList<(string Id, string Words)> Machines =>
        [.. shop.Layouts.Select(l => (l.Id, l.Title)).OrderBy(l => l.Title, StringComparer.Ordinal)];

    public IReadOnlyList<(string Id, string Words)> Causes { get; private set; } = [];

    public IReadOnlyList<(string Id, string Words)> Parts { get; private set; } = [];

    public IReadOnlyList<(string Id, string Words)> People { get; private set; } = [];

    public void OnGet()
    {
        Filter = LogFilter.Of(Request.Query, shop.Terms);
        Causes = Named(JobWords.Fault, id => shop.Catalog.FindFault(id)?.Name);
        Parts = Named(JobWords.Part, id => shop.Words.FindKind(id)?.Name);
        People = Named(JobWords.Person, id => id);
        At = int.TryParse(Request.Query["page"], out var page) && page is > 0 and < 1_000_000 ? page : 1;
        if (Filter.Wrong.Count == 0)
        {
            (var jobs, Count) = log.Find(Filter.Query, At, PageSize);
            Lines = JobLine.Of(jobs, shop, clock.GetUtcNow());
        }
    }

    private List<(string, string)> Named(string what, Func<string, string?> name) =>
        [.. log.Values(what).Select(v => (v.Value, $"{name(v.Value) ?? v.Value} ({v.Jobs})"))];
}
