using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Stock;

/// <summary>What is kept, what is used, when to order again; counted by hand or label by label.</summary>
public sealed class IndexModel(StockDesk stock, SmallDesk small, MoneyDesk money) : PageModel
{
    /// <summary>What a label of a drawer says to whoever reads it.</summary>
    public static string CodeOf(string number) => "IDRUM-PART:" + number;

    public IReadOnlyList<StockLine> Lines { get; private set; } = [];

    /// <summary>Glue, grease and ties.</summary>
    public IReadOnlyList<SmallLine> Small { get; private set; } = [];

    /// <summary>Today, where the shop is.</summary>
    public DateOnly Today => small.Today;

    public int Service => stock.Service;

    public double Years => stock.Counted;

    public int Days => money.Supplier.Days;

    public bool Keeps => HttpContext.Caller().Keeps;

    public bool Labels { get; private set; }

    public bool Kept { get; private set; }

    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    /// <summary>What was typed, by number; else what is here.</summary>
    public string Typed(string number, int here) =>
        Request.HasFormContentType && Request.Form.TryGetValue("n:" + number, out var text)
            ? text.ToString()
            : here.ToString(CultureInfo.InvariantCulture);

    public void OnGet(CancellationToken cancellation)
    {
        Load(cancellation);
        Labels = Request.Query["labels"] == "1";
        Kept = Request.Query["kept"] == "1";
    }

    public IActionResult OnPost(CancellationToken cancellation)
    {
        Load(cancellation);
        var (van, wrong) = (money.Van().ToDictionary(), new FieldErrors());
        foreach (
            var line in Lines
                .Select(l => (l.Number, l.Name))
                .Concat(Small.Select(l => (Number: l.Small.Id, l.Small.Name)))
        )
        {
            var text = Request.Form["n:" + line.Number].ToString().Trim();
            if (text.Length == 0)
            {
                continue;
            }
            if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n <= 9999)
            {
                van[line.Number] = n;
            }
            else
            {
                wrong.Add(line.Number, $"{line.Name}: a number from 0 to 9999.");
            }
        }
        var service = int.TryParse(Request.Form["service"], CultureInfo.InvariantCulture, out var wanted)
            ? wanted
            : Service;
        if (!StockDesk.Services.Contains(service))
        {
            wrong.Add("service", $"One of {string.Join(", ", StockDesk.Services)} per cent.");
        }
        Wrong =
            wrong.All.Count > 0
                ? [.. wrong.All]
                : money.Keep(money.Terms with { Van = van.Where(v => v.Value > 0).ToDictionary() });
        if (Wrong.Count > 0)
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        stock.Service = service;
        return this.SeeOther("/stock?kept=1");
    }

    /// <summary>One is opened.</summary>
    public IActionResult OnPostOpened(CancellationToken cancellation)
    {
        Wrong = small.Open(Request.Form["number"].ToString());
        if (Wrong.Count == 0)
        {
            return this.SeeOther("/stock#small");
        }
        Load(cancellation);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    /// <summary>One that was begun is used up.</summary>
    public IActionResult OnPostUsedUp()
    {
        if (
            DateOnly.TryParseExact(
                Request.Form["on"],
                "yyyy-MM-dd",
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var on
            )
        )
        {
            small.UsedUp(Request.Form["number"].ToString(), on);
        }
        return this.SeeOther("/stock#small");
    }

    private void Load(CancellationToken cancellation)
    {
        var basis = stock.Read(cancellation);
        (Lines, Small) = (stock.Lines(basis), small.Lines(basis));
    }
}
