using Idrum.Core.Basics;

namespace Idrum.Core.Diagnosis;

/// <summary>Where something that is known comes from.</summary>
public enum EvidenceSource
{
    /// <summary>Told by whoever uses the machine, or answered by the repairer.</summary>
    Answer,

    /// <summary>Seen or felt on a part.</summary>
    Look,

    /// <summary>Measured.</summary>
    Reading,

    /// <summary>Heard in a recording or a series of motion.</summary>
    Recording,

    /// <summary>An earlier job on the same tag.</summary>
    Earlier,
}

/// <summary>A finding that is not answered but made more or less likely: a reading near its limit, a sound that may be
/// of two parts. It multiplies what is believed by P(reading | outcome) of each outcome (virtual evidence, Pearl 1988);
/// only the ratios count, and one outcome alone is the same as an answer.</summary>
/// <param name="FindingId">The finding.</param>
/// <param name="Likelihoods">Outcome id → P(what was read or heard | outcome) up to a common factor; an outcome that is
/// not named has 0.</param>
/// <param name="Source">Where it comes from.</param>
public sealed record GradedFinding(
    string FindingId,
    IReadOnlyDictionary<string, double> Likelihoods,
    EvidenceSource Source
)
{
    /// <summary>Most that a recording may say for one outcome against another, until the shop's own proofs bear its
    /// analyser out.</summary>
    public const double MostOfRecording = 20;

    /// <summary>What is wrong with it, by field.</summary>
    /// <param name="catalog">Knows the findings.</param>
    public IReadOnlyList<FieldError> Check(DiagnosisCatalog catalog)
    {
        var errors = new FieldErrors();
        if (catalog.FindFinding(FindingId) is not { } finding)
        {
            errors.Add("findingId", $"There is no finding '{FieldErrors.Short(FindingId)}'.");
            return errors.All;
        }
        errors.If(
            Likelihoods.Keys.FirstOrDefault(o => finding.IndexOf(o) < 0) is { },
            "likelihoods",
            $"The outcomes of '{finding.Id}' are: {string.Join(", ", finding.Outcomes.Select(o => o.Id))}."
        );
        errors.If(
            Likelihoods.Values.Any(p => !(p >= 0) || !double.IsFinite(p)),
            "likelihoods",
            "A likelihood is a finite number from 0 up."
        );
        errors.If(
            errors.All.Count == 0 && !Likelihoods.Values.Any(p => p > 0),
            "likelihoods",
            "One outcome at least must be possible."
        );
        return errors.All;
    }

    /// <summary>A reading that speaks so much louder for one outcome than for any other is as good as an answer.</summary>
    public const double Plainly = 10;

    /// <summary>The outcome that a reading leaves no doubt of; null where it leaves some, or where it was not measured. What the trade
    /// does by what is known it does by this too: a dead outlet is dead, whether it was said or read.</summary>
    public string? Plain
    {
        get
        {
            if (Source != EvidenceSource.Reading)
            {
                return null;
            }
            var by = Likelihoods.OrderByDescending(l => l.Value).ToList();
            return by.Count > 0 && by[0].Value > 0 && (by.Count == 1 || by[0].Value >= Plainly * by[1].Value)
                ? by[0].Key
                : null;
        }
    }

    /// <summary>Likelihoods by the outcomes' places, the largest 1; a recording's are held to <see
    /// cref="MostOfRecording"/> to 1.</summary>
    /// <exception cref="ArgumentException">It fails <see cref="Check"/>.</exception>
    internal double[] On(Finding finding)
    {
        var by = finding.Outcomes.Select(o => Likelihoods.GetValueOrDefault(o.Id)).ToArray();
        var most = by.Max();
        if (!(most > 0) || !double.IsFinite(most) || by.Any(p => !(p >= 0)))
        {
            throw new ArgumentException($"'{FindingId}' is made impossible.", nameof(finding));
        }
        var least = Source == EvidenceSource.Recording ? 1 / MostOfRecording : 0;
        return [.. by.Select(p => Math.Max(least, p / most))];
    }
}
