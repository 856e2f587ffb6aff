using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The printable record of a job.</summary>
public sealed class ReportModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Close;

    /// <summary>Parts bought and not used, with the day they go back by.</summary>
    public IReadOnlyList<string> LeftOver =>
        [
            .. Supplies
                .Left(State, View.Layout)
                .Where(r => r.Over > 0 && (r.Line.Astray || r.Line.Covers.Count > 0))
                .Select(r =>
                    $"{r.Over} × {r.Line.Name}{(r.Line.ReturnBy is { } by ? $", back by {Say.Day(by)}" : ", back into the van")}"
                ),
        ];

    public int MinutesTaken => WorkTime.Minutes(View.Job.History.Effective);

    /// <summary>Who signed that the machine is safe, each once.</summary>
    public IReadOnlyList<string> Signers =>
        [.. View.Job.History.Effective.OfType<SafetySigned>().Select(s => s.SignedBy).Distinct()];

    /// <summary>How many of a removal's fasteners are back; the one that stayed in by a turn is counted with its
    /// fellows.</summary>
    public string InWords(Core.Ledger.Removal r)
    {
        if (State.Out.Contains(r.OperationId))
        {
            return "open";
        }
        var own = r.Out.Keys.Where(id => View.Layout.OwnerOf(id)?.Id == r.OperationId).ToList();
        return r.Out.Count == 0 ? "–"
            : own.Count == 0 ? "with the others"
            : own.Sum(id => r.In?.GetValueOrDefault(id) ?? 0)
                .ToString(System.Globalization.CultureInfo.InvariantCulture);
    }

    /// <summary>Adhesives used, as they were recorded.</summary>
    public IReadOnlyList<string> Consumables =>
        [
            .. State.Glue.Select(g =>
                $"adhesive for {View.Layout.FindPart(g.Key)?.Name ?? g.Key} ({View.Machine.Handbook.For(View.Layout.FindPart(g.Key)?.Kind ?? "")?.Schools.FirstOrDefault(s => s.Id == g.Value.School)?.Text ?? g.Value.School})"
            ),
        ];
}
