using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Week;

/// <summary>What is owed to a job on a day.</summary>
public enum DueKind
{
    /// <summary>Glue has cured: the run with heat.</summary>
    Cured,

    /// <summary>A part is to come.</summary>
    PartDue,

    /// <summary>All that was ordered is here and the machine is still as it was left.</summary>
    PartsHere,

    /// <summary>To ask whether it is still quiet.</summary>
    StillQuiet,

    /// <summary>Last day of the warranty on the work.</summary>
    WarrantyEnds,

    /// <summary>Last day to send back what is left over.</summary>
    ReturnBy,
}

/// <summary>Kinds of what comes due, as they are stored.</summary>
public static class DueKindName
{
    /// <summary>As the database and the calendars of those who follow it have known it all along.</summary>
    /// <param name="kind">The kind.</param>
    public static string Stored(this DueKind kind) => Enum.GetName(kind)!;
}

/// <summary>One thing that comes due.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Day">Day of the shop's calendar.</param>
/// <param name="At">The moment, where there is one.</param>
/// <param name="JobNumber">Of which job.</param>
/// <param name="Text">In a sentence, without who the customer is.</param>
public sealed record ComesDue(DueKind Kind, DateOnly Day, DateTimeOffset? At, string JobNumber, string Text)
{
    /// <summary>All that comes due of a job, at any day.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="terms">What the shop promises, and its zone.</param>
    /// <param name="now">The present.</param>
    public static IReadOnlyList<ComesDue> Of(
        JobState state,
        MachineKnowledge machine,
        ShopTerms terms,
        DateTimeOffset now
    )
    {
        var layout = machine.Layout;
        var due = new List<ComesDue>();
        void Add(DueKind kind, DateOnly day, string text, DateTimeOffset? at = null) =>
            due.Add(new(kind, day, at, state.Number, text));
        if (state.Closed is null)
        {
            if (state.CuredAt is { } cured)
            {
                var parts = state
                    .Glue.Where(g => g.Value.RunFrom == cured)
                    .Select(g => Wording.Inside(layout.FindPart(g.Key)?.Name ?? g.Key));
                Add(
                    DueKind.Cured,
                    terms.DayOf(cured),
                    $"Glue has cured ({string.Join(", ", parts)}): run with heat",
                    cured
                );
            }
            foreach (var line in state.Lines.Values.Where(l => l is { Open: > 0, Due: not null, Astray: false }))
            {
                Add(DueKind.PartDue, terms.DayOf(line.Due!.Value), $"{line.Open} × {line.Name} to come");
            }
            if (
                state.Lines.Values.Any(l => l.CameAt is not null && l.Source != BoughtFrom.Van && !l.Astray)
                && state.Lines.Values.All(l => l.Open == 0 || l.Astray)
                && Supplies.Rows(state, layout) is var rows
                && rows.Any(r => r.Here > 0 && r.Fitted < r.Needed)
                && rows.All(r => r.Short == 0)
            )
            {
                Add(DueKind.PartsHere, terms.DayOf(now), "All parts are here: it can go on");
            }
        }
        else
        {
            due.AddRange(OfClosed(state.Number, state.Closed.Happened, state.HandedOver, terms));
        }
        foreach (var rest in Supplies.LeftOver(state, layout).Where(r => r.Over > 0 && r.Line.ReturnBy is not null))
        {
            Add(
                DueKind.ReturnBy,
                terms.DayOf(rest.Line.ReturnBy!.Value),
                $"Last day to return {rest.Over} × {rest.Line.Name}"
            );
        }
        return [.. due.OrderBy(d => d.Day).ThenBy(d => d.Kind)];
    }

    /// <summary>What comes due of a closed job by when it was closed alone: to ask after it, the end of the warranty.</summary>
    /// <param name="number">The job.</param>
    /// <param name="closedAt">When it was closed.</param>
    /// <param name="handedOver">Whether all was handed over: then it is theirs to ask after.</param>
    /// <param name="terms">What the shop promises, and its zone.</param>
    public static IEnumerable<ComesDue> OfClosed(
        string number,
        DateTimeOffset closedAt,
        bool handedOver,
        ShopTerms terms
    )
    {
        if (handedOver)
        {
            yield break;
        }
        var day = terms.DayOf(closedAt);
        yield return new(DueKind.StillQuiet, day.AddDays(CustomerWord.AskAfterDays), null, number, "Ask: still quiet?");
        if (terms.WarrantyMonths > 0)
        {
            yield return new(
                DueKind.WarrantyEnds,
                day.AddMonths(terms.WarrantyMonths),
                null,
                number,
                "Last day of the warranty on the work"
            );
        }
    }
}
