using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>What the customer is told at the end: found and done in a sentence, what may still squeak and for how long,
/// what lasts how long, what was declined, the warranty on the work, when to ask again.</summary>
/// <param name="Sentence">Found and done, and what is no longer there.</param>
/// <param name="MaySqueak">What may still be heard, each with how long.</param>
/// <param name="Lasts">Parts that were renewed, with the years they usually last at this use.</param>
/// <param name="Declined">What was declined, with what that risks.</param>
/// <param name="WarrantyUntil">Last day of the warranty on the work.</param>
/// <param name="AskOn">The day to ask whether it is still quiet.</param>
public sealed record CustomerWord(
    string Sentence,
    IReadOnlyList<string> MaySqueak,
    IReadOnlyList<string> Lasts,
    IReadOnlyList<string> Declined,
    DateOnly WarrantyUntil,
    DateOnly AskOn
)
{
    /// <summary>What was measured near its limit and stays in, each with how long it is likely to last.</summary>
    public IReadOnlyList<string> Watch { get; init; } = [];

    /// <summary>Days after its closing that a customer is asked whether it is still quiet.</summary>
    public const int AskAfterDays = 7;

    /// <summary>Of a job as it stands.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="terms">What the shop promises.</param>
    /// <param name="now">The present; counted from the closing where the job is closed.</param>
    /// <param name="earlier">Earlier jobs on the same tag, for what wore since; null where nobody asks.</param>
    public static CustomerWord Of(
        JobState state,
        MachineKnowledge machine,
        ShopTerms terms,
        DateTimeOffset now,
        IReadOnlyList<JobState>? earlier = null
    )
    {
        var layout = machine.Layout;
        var catalog = machine.Diagnostician.Model.Catalog;
        string Name(PartId part) => Wording.Inside(layout.FindPart(part)?.Name ?? part);
        var day = terms.DayOf(state.Closed?.Happened ?? now);
        var found = state
            .Found.Where(f => f.Decision is Decided.Change && catalog.FindFault(f.FaultId) is not null)
            .Select(f => Wording.Inside(catalog.FindFault(f.FaultId)!.Name))
            .ToList();
        var renewed = state.Fitted.Values.Where(f => f.Action == FittedAs.Replaced).Select(f => f.PartId).ToList();
        var righted = state
            .Fitted.Values.Where(f => f.Action is FittedAs.Cleaned or FittedAs.Adjusted)
            .Select(f => f.PartId)
            .ToList();
        var done = new[]
        {
            renewed.Count > 0 ? "renewed: " + string.Join(", ", renewed.Select(Name)) : "",
            righted.Count > 0 ? "put right: " + string.Join(", ", righted.Select(Name)) : "",
        }
            .Where(d => d.Length > 0)
            .ToList();
        var handed = state.Found.Where(f => f.Decision == Decided.HandOver).ToList();
        var sentence =
            handed.Count > 0 && done.Count == 0
                ? "What was found is no work on the drum: it is handed over."
                : $"{(found.Count > 0 ? "Found: " + string.Join(", ", found) + "; " : "")}{(done.Count > 0 ? string.Join("; ", done) : "nothing was changed")}.";
        bool Is(PartId part, params string[] kinds) => kinds.Contains(layout.FindPart(part)?.Kind);
        var squeak = new List<string>();
        if (renewed.Exists(p => Is(p, "front-felt", "rear-felt", "glide")))
        {
            squeak.Add("The new felt rubs and may smell for the first loads: it runs in.");
        }
        var frontNew = renewed.Exists(p => Is(p, "front-felt", "glide"));
        var rearOld = layout.Parts.Any(p =>
            p.Wears && Is(p.Id, "drum-roller", "sleeve", "ball-hitch", "rear-shaft") && !renewed.Contains(p.Id)
        );
        if (frontNew && rearOld)
        {
            squeak.Add(
                "A squeak may remain from the rear: its support was not renewed. If it lasts longer than two weeks, call."
            );
        }
        var twins = layout
            .Parts.Where(p =>
                p.Wears
                && !renewed.Contains(p.Id)
                && p.Kind is PartKinds.DrumRoller or PartKinds.Glide
                && renewed.Exists(r => layout.FindPart(r)?.Kind == p.Kind)
            )
            .Select(p => p.Name)
            .ToList();
        if (twins.Count > 0)
        {
            squeak.Add($"{string.Join(", ", twins)} was not renewed and is as old as what was: it may be heard next.");
        }
        var use = state.Machine.UsesPerWeek is > 0 and var weekly ? weekly / 5 : 1;
        return new(
            sentence,
            squeak,
            [
                .. renewed
                    .Select(p => layout.FindPart(p))
                    .OfType<Part>()
                    .Where(p => p.LifeYears > 0)
                    .Select(p =>
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"{p.Name}: usually some {Math.Max(1, Math.Round(p.LifeYears / use)):0} years{(state.Machine.UsesPerWeek is > 0 and var w ? $" at {w:0.#} loads a week" : " at five loads a week")}"
                        )
                    ),
            ],
            [
                .. state
                    .Declined.Where(d => !state.Fitted.ContainsKey(d.Part))
                    .Select(d =>
                        $"{layout.FindPart(d.Part)?.Name ?? d.Part}: {machine.Words.RiskOf(layout.FindPart(d.Part)?.Kind ?? "")}"
                    ),
            ],
            day.AddMonths(terms.WarrantyMonths),
            day.AddDays(AskAfterDays)
        )
        {
            Watch =
            [
                .. GaugedSet
                    .Of(state, machine, null, earlier)
                    .Where(s =>
                        s.Part is { } part
                        && s.Result?.Verdict is GaugeVerdict.Watch or GaugeVerdict.Replace
                        && (s.After || !renewed.Contains(part.Id))
                        // While the job is open nobody knows yet that what is worn stays in.
                        && (
                            state.Closed is not null
                            || s.Result.Verdict == GaugeVerdict.Watch && !state.Targets.Contains(part.Id)
                        )
                    )
                    .Select(s =>
                        s.Part!.Name
                        + (s.Result!.Verdict == GaugeVerdict.Replace ? ": worn, and stays in" : ": near its limit")
                        + (
                            s.Until(state) is { } until
                                ? $"; likely until {until.ToString("MMMM yyyy", CultureInfo.InvariantCulture)}"
                            : LiningLeft.Of(s, state, earlier) is { Limit.Loads: > 0 } left
                                ? $"; some {left.Limit.Loads:0} loads to it, {left.Since}"
                            : ""
                        )
                        + "."
                    ),
            ],
        };
    }
}
