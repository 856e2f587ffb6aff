using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Supply;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Stock;

/// <summary>What is kept, what is used, when to order again; counted by hand or label by label.</summary>
public sealed class IndexModel(StockDesk stock, SmallDesk small, MoneyDesk money, VanDesk vans) : PageModel
{
    /// <summary>What a label of a drawer says to whoever reads it.</summary>
    public static string CodeOf(string number) => "IDRUM-PART:" + number;

    public IReadOnlyList<StockLine> Lines { get; private set; } = [];

    /// <summary>Glue, grease and ties.</summary>
    public IReadOnlyList<SmallLine> Small { get; private set; } = [];

    /// <summary>All vans and shelves with what they hold.</summary>
    public IReadOnlyList<StockPlace> Places { get; private set; } = [];

    /// <summary>The one that is counted; null where all are shown together.</summary>
    public StockPlace? Counting { get; private set; }

    /// <summary>What is here of a number: in the one that is counted, else in all together.</summary>
    public int Here(string number, int all) => Counting?.Holds.GetValueOrDefault(number) ?? all;

    /// <summary>Today, where the shop is.</summary>
    public DateOnly Today => small.Today;

    public int Service => stock.Service;

    public double Years => stock.Counted;

    public int Days => money.Supplier.Days;

    public bool Keeps => HttpContext.Caller().Keeps;

    /// <summary>Where one that is begun lies, in a shop of several places; empty where nobody said.</summary>
    public string Where(BegunOne begun) =>
        Places.Count > 1 && Places.FirstOrDefault(p => p.Id == begun.Place) is { } place ? "in " + place.Name : "";

    /// <summary>Whether counts can be typed: of one place at a time.</summary>
    public bool Counts => Keeps && Counting is not null;

    /// <summary>This page, of the place that is counted.</summary>
    public string Self(string more = "") =>
        "/stock"
        + (
            Counting is { } place && Places.Count > 1 ? $"?in={Uri.EscapeDataString(place.Id)}&{more}" : "?" + more
        ).TrimEnd('&', '?');

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
        if (!KeepCounts())
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        return this.SeeOther(Self("kept=1"));
    }

    /// <summary>Keeps what was typed, of the place that is counted; what was not typed stays.</summary>
    /// <returns>Whether it is kept; else what is wrong stands under <see cref="Wrong"/>.</returns>
    private bool KeepCounts()
    {
        var wrong = new FieldErrors();
        if (Counting is not { } place)
        {
            Wrong = [new("in", "Choose first which van or shelf was counted.")];
            return false;
        }
        var held = place.Holds.ToDictionary();
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
                held[line.Number] = n;
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
                : vans.Keep([.. Places.Select(p => p.Id == place.Id ? p with { Holds = held } : p)]);
        if (Wrong.Count > 0)
        {
            return false;
        }
        stock.Service = service;
        return true;
    }

    /// <summary>One is opened.</summary>
    public IActionResult OnPostOpened(CancellationToken cancellation)
    {
        Load(cancellation);
        // What was typed and not kept yet was counted before it was opened.
        if (KeepCounts())
        {
            Wrong = small.Open(Request.Form["number"].ToString(), Counting?.Id);
        }
        if (Wrong.Count == 0)
        {
            return this.SeeOther(Self() + "#small");
        }
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    /// <summary>One that was begun is used up.</summary>
    public IActionResult OnPostUsedUp(CancellationToken cancellation)
    {
        Load(cancellation);
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
            small.UsedUp(
                Request.Form["number"].ToString(),
                on,
                Request.Form["place"].ToString() is { Length: > 0 } place ? place : null
            );
        }
        return this.SeeOther(Self() + "#small");
    }

    /// <summary>Some of it goes from one van or shelf into another.</summary>
    public IActionResult OnPostMoved(CancellationToken cancellation)
    {
        var count = int.TryParse(
            Request.Form["count"].ToString().Trim(),
            NumberStyles.None,
            CultureInfo.InvariantCulture,
            out var n
        )
            ? n
            : 0;
        Wrong = vans.Move(
            Request.Form["number"].ToString(),
            Request.Form["from"].ToString(),
            Request.Form["to"].ToString(),
            count
        );
        if (Wrong.Count == 0)
        {
            return this.SeeOther(LocalAddress.Of(Request.Form["next"].ToString(), "/stock"));
        }
        Load(cancellation);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private void Load(CancellationToken cancellation)
    {
        var basis = stock.Read(cancellation);
        (Lines, Small, Places) = (stock.Lines(basis), small.Lines(basis), vans.Places());
        Counting = Places.Count == 1 ? Places[0] : Places.FirstOrDefault(p => p.Id == Request.Query["in"]);
    }
}
