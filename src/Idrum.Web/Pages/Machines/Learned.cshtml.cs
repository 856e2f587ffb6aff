using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>What the shop's own jobs taught, and going by the files alone again.</summary>
public sealed class LearnedModel(ShopSnapshot shop, LearningDesk desk) : PageModel
{
    private const int MostRows = 14;

    /// <summary>What was learned, or null.</summary>
    public Learned? Learned => shop.Learned;

    /// <summary>Since when jobs count; null for all.</summary>
    public DateTimeOffset? Since => desk.Since;

    /// <summary>Closed jobs that do not count.</summary>
    public int PassedOver => desk.PassedOver;

    /// <summary>Faults whose share moved most, by the jobs behind it.</summary>
    public IEnumerable<LearnedFault> Faults =>
        Learned?.Faults.Where(f => f.Met > 0).OrderByDescending(f => f.Met).Take(MostRows) ?? [];

    /// <summary>Faults that were expected at least half a time and never came.</summary>
    public IEnumerable<LearnedFault> Missing =>
        Learned?.Faults.Where(f => f.Met == 0 && f.Expected >= 0.5).OrderByDescending(f => f.Expected).Take(MostRows)
        ?? [];

    /// <summary>What causes showed otherwise than the files say.</summary>
    public IEnumerable<LearnedSign> Signs =>
        Learned
            ?.Signs.Where(s => Math.Abs(s.Now - s.Was) >= 0.01)
            .OrderByDescending(s => Math.Abs(s.Now - s.Was))
            .Take(MostRows)
        ?? [];

    /// <summary>What was learned of the minutes; null where no job was timed.</summary>
    public LearnedTimes? Times => shop.Times;

    /// <summary>The shop's pace in words.</summary>
    public string Pace =>
        Times!.Pace is var p && p > 1.03 ? $"{100 * (p - 1):0} % longer than the files say"
        : p < 0.97 ? $"{100 * (1 - p):0} % less than the files say"
        : "about as long as the files say";

    /// <summary>Name of a layout.</summary>
    public string Title(string layoutId) => shop.FindLayout(layoutId)?.Title ?? layoutId;

    /// <summary>Name of a step.</summary>
    public string Step(string layoutId, StepRef step) => Say.Step(shop.FindLayout(layoutId), step);

    public IActionResult OnPost([FromForm] string act)
    {
        if (act == "restore")
        {
            desk.Restore();
        }
        else if (act == "reset")
        {
            desk.Reset();
        }
        return this.SeeOther("/machines/learned");
    }
}
