using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Web.Work;

/// <summary>One line of a list of jobs.</summary>
/// <param name="Job">The job.</param>
/// <param name="Machine">Its machine, in words.</param>
/// <param name="Matter">Complaint and cause, in words.</param>
/// <param name="Ago">When something last happened, in words.</param>
public sealed record JobLine(JobSummary Job, string Machine, string Matter, string Ago)
{
    /// <summary>Lines of jobs.</summary>
    public static IReadOnlyList<JobLine> Of(IEnumerable<JobSummary> jobs, ShopSnapshot shop, DateTimeOffset now) =>
        [
            .. jobs.Select(j => new JobLine(
                j,
                shop.FindLayout(j.LayoutId)?.Title ?? j.LayoutId,
                MatterOf(j, shop),
                Say.Ago(now - j.LastAt)
            )),
        ];

    private static string MatterOf(JobSummary j, ShopSnapshot shop)
    {
        var told = j
            .Complaints.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(c => shop.Catalog.FindFinding(c)?.Name ?? c)
            .ToList();
        var complaint = told.Count > 0 ? string.Join(", ", told.Select((t, i) => i == 0 ? t : Say.Lower(t))) : j.Words;
        return shop.Catalog.FindFault(j.FaultId)?.Name is { } fault
            ? complaint.Length > 0
                ? $"{complaint}: {Say.Lower(fault)}"
                : fault
            : complaint;
    }
}
