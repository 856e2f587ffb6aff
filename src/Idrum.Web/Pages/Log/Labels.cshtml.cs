using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Log;

/// <summary>Labels for machines, on a sheet or a roll: the code holds the tag.</summary>
public sealed class LabelsModel(LogbookStore log, ShopSnapshot shop) : PageModel
{
    private const int Most = 60;

    /// <summary>What a label of a machine says to whoever reads it.</summary>
    public static string CodeOf(string tag) => "IDRUM-TAG:" + tag;

    /// <summary>Whether they are printed one after the other on a roll.</summary>
    public bool Roll { get; private set; }

    public LogFilter Filter { get; private set; } = null!;

    /// <summary>Machines: tag, what it is and where it stands.</summary>
    public IReadOnlyList<(string Tag, string Machine, string Place)> Labels { get; private set; } = [];

    public void OnGet()
    {
        Roll = Request.Query["paper"] == "roll";
        Filter = LogFilter.Of(Request.Query, shop.Terms);
        Labels =
        [
            .. log.Find(Filter.Query, 1, 500)
                .Jobs.Where(j => j.Tag.Length > 0)
                .GroupBy(j => j.Tag)
                .Select(g => g.First())
                .OrderBy(j => j.Tag, StringComparer.Ordinal)
                .Take(Most)
                .Select(j => (j.Tag, shop.FindLayout(j.LayoutId)?.Title ?? j.LayoutId, j.Place)),
        ];
    }
}
