using System.Globalization;

namespace Idrum.Core.Diagnosis;

/// <summary>Names what does not fit: a finding that no fault explains, and pairs that contradict each other.</summary>
internal static class OddFindings
{
    /// <summary>Below this probability that any of its causes is present, a finding counts as unexplained.</summary>
    private const double Unexplained = 0.15;

    /// <summary>A pair contradicts where seeing both is five times rarer than if they had nothing to do with each other
    /// (the conflict measure of Jensen et al., 1990, taken pairwise: P(a)P(b)/P(a,b) above 5).</summary>
    private const double Conflict = 5;

    internal static List<Oddity> Find(NoisyOrModel model, double[] prior, double[] posterior, List<(int Finding, int Outcome)> known)
    {
        var odd = new List<Oddity>();
        foreach (var (f, o) in known.Where(k => k.Outcome > 0))
        {
            var finding = model.Findings[f];
            var causes = model.Faults.Select((x, i) => (x.Id, i)).Where(x => finding.Links.Any(l => l.Fault == x.Id)).Aggregate(0u, (m, x) => m | 1u << x.i);
            var explained = 0.0;
            for (var s = 0; s < posterior.Length; s++)
            {
                explained += (model.Sets[s] & causes) != 0 ? posterior[s] : 0;
            }
            if (explained < Unexplained)
            {
                odd.Add(new([finding.Id], $"Nothing likely explains “{finding.Name}: {finding.Outcomes[o].Label.ToLower(CultureInfo.InvariantCulture)}”. Look again, or keep it in mind as a fault of its own."));
            }
        }
        var single = known.Select(k => Evidence(model, prior, [k])).ToList();
        for (var a = 0; a < known.Count; a++)
        {
            for (var b = a + 1; b < known.Count; b++)
            {
                var both = Evidence(model, prior, [known[a], known[b]]);
                if (single[a] * single[b] / Math.Max(both, 1e-15) > Conflict)
                {
                    var (x, y) = (model.Findings[known[a].Finding], model.Findings[known[b].Finding]);
                    odd.Add(new([x.Id, y.Id], $"“{x.Name}: {Label(x, known[a].Outcome)}” and “{y.Name}: {Label(y, known[b].Outcome)}” hardly go together. Check one of them again."));
                }
            }
        }
        return odd;

        static string Label(Finding f, int o) => f.Outcomes[o].Label.ToLower(CultureInfo.InvariantCulture);
    }

    private static double Evidence(NoisyOrModel model, double[] prior, List<(int, int)> findings)
    {
        model.Posterior(prior, findings, out var evidence);
        return evidence;
    }
}
