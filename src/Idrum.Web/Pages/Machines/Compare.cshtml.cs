using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>Two layouts side by side.</summary>
public sealed class CompareModel(ShopSnapshot shop) : PageModel
{
    public IReadOnlyList<Layout> Layouts => shop.Layouts;

    public Layout? A { get; private set; }

    public Layout? B { get; private set; }

    /// <summary>What differs, in words; empty where they are alike.</summary>
    public IReadOnlyList<string> Differences { get; private set; } = [];

    /// <summary>Facts of either, with the words of each; a dash where one does not name it.</summary>
    public IEnumerable<(string Question, string Left, string Right, bool Differs)> Facts =>
        shop
            .Words.Facts.Where(f => A!.ValueOf(f.Id) is not null || B!.ValueOf(f.Id) is not null)
            .Select(f => (f.Question, Said(A!, f), Said(B!, f), Said(A!, f) != Said(B!, f)));

    public void OnGet()
    {
        A = shop.FindLayout(Request.Query["a"].ToString()) ?? (shop.Layouts is [var first, ..] ? first : null);
        B = shop.FindLayout(Request.Query["b"].ToString()) ?? (shop.Layouts is [_, var second, ..] ? second : A);
        Differences = A is null || B is null ? [] : LayoutDifference.Words(A, B);
    }

    private static string Said(Layout layout, FactTerm fact) =>
        layout.Facts.FirstOrDefault(f => f.Id == fact.Id) is { } f
            ? fact.NameOf(f.Value) + (f.Varies ? ", or not" : "")
            : "–";
}
