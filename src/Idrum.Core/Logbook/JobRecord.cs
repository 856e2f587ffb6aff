using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Logbook;

/// <summary>What of a closed job is counted: stored beside the log, so that nobody reads all logs to count.</summary>
/// <param name="Number">The job.</param>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Tag">Model tag of the machine; empty where it was not read.</param>
/// <param name="OpenedAt">When it was opened.</param>
/// <param name="ClosedAt">When it was closed.</param>
public sealed record JobRecord(
    string Number,
    string LayoutId,
    string Tag,
    DateTimeOffset OpenedAt,
    DateTimeOffset ClosedAt
)
{
    /// <summary>Age of the machine when the job was opened, years; null where unknown.</summary>
    public double? AgeYears { get; init; }

    /// <summary>Loads a week; null where unknown.</summary>
    public double? LoadsAWeek { get; init; }

    /// <summary>The job it came back from; empty where it did not.</summary>
    public string CallBackOf { get; init; } = "";

    /// <summary>Why it came back, one of <see cref="CallBackCause"/>; empty where nobody said.</summary>
    public string CallBackCause { get; init; } = "";

    /// <summary>Faults put right.</summary>
    public IReadOnlyList<FaultId> Faults { get; init; } = [];

    /// <summary>Faults left as they were.</summary>
    public IReadOnlyList<string> Left { get; init; } = [];

    /// <summary>Parts that were declined.</summary>
    public IReadOnlyList<string> Declined { get; init; } = [];

    /// <summary>Whether all was handed over to another trade.</summary>
    public bool HandedOver { get; init; }

    /// <summary>Parts changed.</summary>
    public IReadOnlyList<PartChanged> Changed { get; init; } = [];

    /// <summary>What each answered check was worth; empty in records from before it was told.</summary>
    public IReadOnlyList<CheckWorth> Checks { get; init; } = [];

    /// <summary>Days on which something was done at the machine.</summary>
    public int Trips { get; init; }

    /// <summary>Minutes worked.</summary>
    public double Taken { get; init; }

    /// <summary>Minutes the layout plans for the steps that were timed; 0 where none was.</summary>
    public double StepsPlanned { get; init; }

    /// <summary>Minutes those steps took.</summary>
    public double StepsTaken { get; init; }

    /// <summary>The total the customer was told as likely; null where none was.</summary>
    public double? Promised { get; init; }

    /// <summary>The total it cost; null where no price was made.</summary>
    public double? Charged { get; init; }

    /// <summary>Currency of both.</summary>
    public string Currency { get; init; } = "";

    /// <summary>The record of a job; null while it is open or not known what it is.</summary>
    /// <param name="history">Its log.</param>
    /// <param name="layout">Its layout; null where the shop has none.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <param name="checks">What its checks were worth; null where that was not worked out.</param>
    public static JobRecord? Of(
        JobHistory history,
        Layout? layout,
        ShopSnapshot shop,
        IReadOnlyList<CheckWorth>? checks = null
    )
    {
        var s = history.State;
        if (s.Closed is not { } closed || layout is null)
        {
            return null;
        }
        var timed = StepTimes
            .Of(history.Effective)
            .Select(t => (Took: t.Value, Planned: Planned(layout, t.Key)))
            .Where(t => t.Planned is not null)
            .ToList();
        var found = s.Found.Where(f => !f.FaultId.IsNone).ToLookup(f => f.Decision, f => f.FaultId);
        return new(s.Number, s.Machine.LayoutId, s.Machine.Tag, s.OpenedAt, s.LastAt)
        {
            AgeYears = s.Machine.AgeYears,
            LoadsAWeek = s.Machine.UsesPerWeek,
            CallBackOf = s.Machine.CallBackOf,
            CallBackCause = closed.CallBackCause ?? "",
            Faults = [.. found[Decided.Change].Distinct()],
            Left = [.. found[Decided.Leave].Distinct()],
            Declined = [.. s.Declined.Select(d => d.Part).Distinct()],
            HandedOver = s.HandedOver,
            Changed = PartChanged.Of(s, layout, shop.Catalog),
            Checks = checks ?? [],
            Trips = Estimates.Trips(history.Effective, shop.Terms),
            Taken = WorkTime.Minutes(history.Effective),
            StepsPlanned = Math.Round(timed.Sum(t => t.Planned!.Value), 2),
            StepsTaken = Math.Round(timed.Sum(t => t.Took), 2),
            Promised = s.Estimate?.Sum.Total,
            Charged = s.Price?.Sum.Total,
            Currency = s.Price?.Sum.Currency ?? s.Estimate?.Sum.Currency ?? "",
        };
    }

    /// <summary>Minutes a layout plans for a step; null where it has none such.</summary>
    public static double? Planned(Layout layout, StepRef step) =>
        step.IsWhole ? layout.FindOperation(step.Operation)?.Minutes.Typical : step.In(layout)?.Minutes.Typical;
}

/// <summary>A part that was changed, and why.</summary>
/// <param name="PartId">Which.</param>
/// <param name="Kind">Its kind.</param>
/// <param name="Why">How it was: one of <see cref="Failed"/>, <see cref="FoundGood"/>, <see cref="Along"/>.</param>
/// <param name="Units">How many single things it is.</param>
public sealed record PartChanged(PartId PartId, string Kind, string Why, int Units)
{
    /// <summary>Its fault was decided on, or it was seen to be worn.</summary>
    public const string Failed = "failed";

    /// <summary>It was seen to be sound when it came out.</summary>
    public const string FoundGood = "found-good";

    /// <summary>It was changed because the machine was open.</summary>
    public const string Along = "along";

    /// <summary>Parts changed in a job.</summary>
    /// <param name="s">The job.</param>
    /// <param name="layout">Its layout.</param>
    /// <param name="catalog">Knows which outcome is worse.</param>
    /// <returns>In the order of the layout. Of several of one kind that a cause was decided for and of which none was seen
    /// to be worn, one failed and the others went along: which, nobody said.</returns>
    public static IReadOnlyList<PartChanged> Of(JobState s, Layout layout, DiagnosisCatalog catalog)
    {
        var changed = layout
            .Parts.Where(p => s.Fitted.GetValueOrDefault(p.Id)?.Action == FittedAs.Replaced)
            .Select(p => new PartChanged(p.Id, p.Kind, HowItWas(p, s, catalog), PartItem.Units(p)))
            .ToList();
        foreach (var group in changed.Where(c => c.Why is Accused or Failed).GroupBy(c => c.Kind).ToList())
        {
            var worn = group.Any(c => c.Why == Failed);
            foreach (var (part, i) in group.Where(c => c.Why == Accused).Select((c, i) => (c, i)))
            {
                changed[changed.IndexOf(part)] = part with { Why = !worn && i == 0 ? Failed : Along };
            }
        }
        return changed;
    }

    private const string Accused = "accused";

    private static string HowItWas(Part part, JobState s, DiagnosisCatalog catalog)
    {
        var seen = s
            .Seen.Where(x => x.Key.Part == part.Id)
            .Select(x => catalog.FindFinding(x.Key.Finding)?.IndexOf(x.Value) ?? -1)
            .Where(o => o >= 0)
            .ToList();
        return seen.Count > 0
            ? seen.Exists(o => o > 0)
                ? Failed
                : FoundGood
            : s.Found.Any(f =>
                f.Decision == Decided.Change
                && (f.Parts.Contains(part.Id) || f.Parts.IsEmpty)
                && catalog.FindFault(f.FaultId)?.Kinds.Contains(part.Kind) == true
            )
                ? Accused
                : Along;
    }
}
