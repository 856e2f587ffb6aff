using System.Globalization;
using System.Security.Cryptography;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Practice;

/// <summary>What can be practised, and how it went.</summary>
public sealed class IndexModel(PracticeStore store, ShopSnapshot shop, TimeProvider clock) : PageModel
{
    private const int Most = 20;

    public string Person => HttpContext.Caller().Person;

    public string Wrong { get; private set; } = "";

    public IReadOnlyList<KeptExercise> Past { get; private set; } = [];

    public IReadOnlyList<(string Id, string Words, int Asked, int Missed, int Due)> Drills { get; private set; } = [];

    public IReadOnlyList<(string Id, string Title)> Machines => [.. shop.Layouts.Select(l => (l.Id, l.Title))];

    public string Title(string id) => shop.FindLayout(id)?.Title ?? id;

    public void OnGet()
    {
        Past = store.Of(Person, Most);
        Drills =
        [
            .. Drill.Kinds.Select(k =>
                store.Standing(Person, k.Id, clock.GetUtcNow()) is var (asked, missed, due)
                    ? (k.Id, k.Words, asked, missed, due)
                    : default
            ),
        ];
    }

    public IActionResult OnPost()
    {
        var layout = Request.Form["machine"].ToString();
        if (
            shop.FindLayout(layout) is null
            || !int.TryParse(Request.Form["level"], CultureInfo.InvariantCulture, out var level)
            || level is < 1 or > 3
        )
        {
            Wrong = shop.FindLayout(layout) is null ? "Choose the machine." : "Choose how hard it is to be.";
            OnGet();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        var id = Guid.NewGuid();
        store.Keep(
            new(
                id,
                Person,
                new(layout, level, RandomNumberGenerator.GetInt32(1, int.MaxValue / 64)),
                clock.GetUtcNow(),
                null,
                [],
                null,
                null,
                ""
            )
        );
        return this.SeeOther($"/practice/{id}");
    }
}
