using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The customer said no, to parts or to all that is still to be done: the old ones stay, and the machine goes
/// together with them.</summary>
/// <param name="Parts">Parts he does not want changed; empty for all that are still to be dealt with.</param>
/// <param name="Name">Who said so.</param>
/// <param name="Note">Why, or empty.</param>
public sealed record WorkDeclined(IReadOnlyList<PartId> Parts, string Name, string Note) : JobEvent
{
    internal override IEnumerable<string> Touches => Parts.Count == 0 ? ["targets"] : Parts.Select(p => "part:" + p);

    // What is still to come off and go in is another plan.
    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        errors.Text(Name, "name", FieldErrors.ShortText, true);
        errors.Text(Note, "note", FieldErrors.LongText);
        var open = Open(state);
        errors.If(
            open.Count == 0,
            "parts",
            state.Targets.Count == 0
                ? "No part is chosen: there is nothing to say no to."
                : "All that was chosen is dealt with: what is in stays in, and is paid for."
        );
        foreach (var part in Parts.Where(p => open.Count > 0 && !open.Contains(p)))
        {
            errors.Add(
                "parts",
                state.Targets.Contains(part)
                    ? $"{check.Machine.Layout.FindPart(part)?.Name ?? part} is dealt with already."
                    : $"'{FieldErrors.Short(part)}' is not chosen for change."
            );
        }
        foreach (var part in (Parts.Count == 0 ? open : Parts).Where(state.Glue.ContainsKey))
        {
            errors.Add(
                "parts",
                $"{check.Machine.Layout.FindPart(part)?.Name ?? part} is being glued: the old one is off. Finish it, or take the coat back."
            );
        }
    }

    internal override JobState Apply(JobState state)
    {
        HashSet<PartId> gone = [.. Parts.Count == 0 ? Open(state) : Parts];
        return state with
        {
            Found =
            [
                .. state.Found.Select(f =>
                    f.Decision != Decided.Change || !f.Parts.Exists(gone.Contains) ? f
                    : f.Parts.TrueForAll(gone.Contains)
                        ? f with
                        {
                            Decision = Decided.Leave,
                            Reason = $"Declined by {Name}",
                        }
                    : f with { Parts = f.Parts.RemoveAll(gone.Contains) }
                ),
            ],
            Targets = state.Targets.RemoveAll(gone.Contains),
            Declined = state.Declined.AddRange(gone.Order().Select(p => new Declined(p, Name, Happened, Note))),
        };
    }

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => this with { Name = CustomerRemoved.Word };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{(Parts.Count == 0 ? "All that was left" : string.Join(", ", Parts.Select(p => machine.Layout.FindPart(p)?.Name ?? p)))} declined by {Name}{(Note.Length > 0 ? $": {Note}" : "")}";

    /// <summary>Parts that are chosen and not dealt with.</summary>
    private static IReadOnlyList<PartId> Open(JobState state) =>
        [.. state.Targets.Where(t => !state.Fitted.ContainsKey(t))];
}

/// <summary>A part that the customer does not want changed.</summary>
/// <param name="Part">Its id.</param>
/// <param name="By">Who said so.</param>
/// <param name="At">When.</param>
/// <param name="Note">Why, or empty.</param>
public sealed record Declined(PartId Part, string By, DateTimeOffset At, string Note);
