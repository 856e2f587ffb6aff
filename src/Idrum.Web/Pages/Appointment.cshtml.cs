using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>On the telephone: how long to reserve, from the complaint alone.</summary>
public sealed class AppointmentModel(ShopSnapshot shop, WorkGate gate) : PageModel
{
    private const double MostYears = 60;

    /// <summary>Complaints ticked.</summary>
    public IReadOnlyList<string> Told { get; private set; } = [];

    /// <summary>The machine, or empty where nobody knows.</summary>
    public string LayoutId { get; private set; } = "";

    /// <summary>Age as typed.</summary>
    public string Age { get; private set; } = "";

    /// <summary>What is wrong with the age, or empty.</summary>
    public string AgeWrong { get; private set; } = "";

    /// <summary>The answer; null while nothing was told.</summary>
    public Appointment? Answer { get; private set; }

    /// <summary>All complaints.</summary>
    public IEnumerable<Finding> Complaints => shop.Catalog.Findings.Where(f => f.Group == FindingGroup.Complaint);

    /// <summary>All machines.</summary>
    public IReadOnlyList<Layout> Layouts => shop.ByUse;

    /// <summary>What whoever calls is told until somebody is there.</summary>
    public IReadOnlyList<string> Tells => shop.Catalog.Tells(Told);

    public async Task OnGetAsync()
    {
        var known = Complaints.Select(c => c.Id).ToHashSet();
        Told = [.. Request.Query["complaint"].OfType<string>().Where(known.Contains).Distinct()];
        LayoutId = shop.FindLayout(Request.Query["machine"].ToString())?.Id ?? "";
        Age = Request.Query["age"].ToString() is { Length: <= 20 } typed ? typed : "";
        var years = Age.Length > 0 ? TypedNumber.Read(Age) : 0;
        if (years is not (>= 0 and <= MostYears))
        {
            AgeWrong = $"A number of years from 0 to {MostYears} is needed, or nothing.";
            return;
        }
        if (Told.Count == 0)
        {
            return;
        }
        // Each machine is built by itself, so that the first question after a start has the deadline of one, not of
        // twelve.
        var stop = HttpContext.RequestAborted;
        var machines = await Task.WhenAll(
            shop.Layouts.Where(l => LayoutId.Length == 0 || l.Id == LayoutId)
                .Select(l => gate.RunAsync(_ => shop.For(l), stop))
        );
        Answer = await gate.RunAsync(
            late => Appointment.Of(machines, Told, JobState.WearOf(Age.Length > 0 ? years : null, null), late),
            stop
        );
    }

    /// <summary>Minutes to five, as one says them.</summary>
    public static string About(double minutes) =>
        minutes < 12 ? $"{Math.Max(5, Math.Round(minutes)):0} min" : $"{Math.Round(minutes / 5) * 5:0} min";
}
