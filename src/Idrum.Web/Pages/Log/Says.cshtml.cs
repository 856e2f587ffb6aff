using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Log;

/// <summary>What closed jobs say, each with how many stand behind it and how sure it is.</summary>
public sealed class SaysModel(LogDesk desk, ShopSnapshot shop) : PageModel
{
    public ShopFigures Said { get; private set; } = null!;

    public async Task OnGetAsync(CancellationToken cancellation) => Said = await desk.SaysAsync(cancellation);

    public string Machine(string id) => shop.FindLayout(id)?.Title ?? id;

    public string Kind(string id) => shop.Words.FindKind(id)?.Name ?? id;

    public string Fault(string id) => shop.Catalog.FindFault(id)?.Name ?? id;

    public string Check(string id) => shop.Catalog.FindFinding(id)?.Name ?? id;

    /// <summary>Minutes with their interval.</summary>
    public static string Minutes(Figure f) =>
        f.Value is { } v
            ? FormattableString.Invariant($"{v.Value:0.0} ({v.Low:0.0} to {v.High:0.0})").Replace('-', '−')
            : "too few";

    public string Step(string layoutId, StepRef step) => Say.Step(shop.FindLayout(layoutId), step);

    public static string Cause(string id) => CallBackCause.Words(id) is { Length: > 0 } words ? words : "Nobody said";

    public static string Age(string id) =>
        id switch
        {
            "young" => "below 5 years",
            "middle" => "5 to 10 years",
            "old" => "10 years and more",
            _ => "age unknown",
        };

    /// <summary>A share in words: "4 of 30, 4–31 %".</summary>
    public static string Words(Figure f) =>
        f.Value is { } v
            ? FormattableString.Invariant($"{f.Count} of {f.Of} ({100 * v.Low:0}–{100 * v.High:0} %)")
            : $"none of {f.Of}";

    /// <summary>A ratio in words.</summary>
    public static string Ratio(Figure f) =>
        f.Value is { } v ? FormattableString.Invariant($"{v.Value:0.00} ({v.Low:0.00}–{v.High:0.00})") : "too few";

    /// <summary>Years with their interval.</summary>
    public static string Years(Between b) =>
        double.IsFinite(b.High)
            ? FormattableString.Invariant($"{b.Value:0.0} years ({b.Low:0.0}–{b.High:0.0})")
            : FormattableString.Invariant($"{b.Value:0.0} years (at least {b.Low:0.0})");
}
