using System.Globalization;
using System.Numerics.Tensors;

namespace Idrum.Core.Diagnosis;

/// <summary>Names what does not fit: a finding that no fault explains, and pairs that contradict each other.</summary>
internal static class OddFindings
{
    /// <summary>Below this probability that any of its causes is there, a finding counts as unexplained.</summary>
    private const double Unexplained = 0.15;

    /// <summary>A pair contradicts where seeing both is five times rarer than if they had nothing to do with each other
    /// (the conflict measure of Jensen et al., 1990, taken pairwise: P(a)P(b)/P(a,b) above 5).</summary>
    private const double Conflict = 5;

    private const int MostPairs = 12;

    internal static List<Oddity> Find(Belief belief, double wear, double[] there)
    {
        var model = belief.Model;
        var odd = new List<Oddity>();
        var known = belief.Known.Where(k => k.Outcome >= 0).ToList();
        foreach (
            var (f, o) in known.Where(k =>
                k.Outcome > 0
                && model.Findings[k.Finding].Tells is null
                && model.Findings[k.Finding].Group != FindingGroup.History
            )
        )
        {
            var finding = model.Findings[f];
            var none = model
                .Faults.Select((x, i) => (x.Id, i))
                .Where(x => finding.Links.Any(l => l.Fault == x.Id))
                .Aggregate(1.0, (p, x) => p * (1 - Math.Min(1, there[x.i])));
            if (1 - none < Unexplained)
            {
                odd.Add(
                    new(
                        [KnownFindings.Answered(finding.Id)],
                        $"Nothing likely explains “{finding.Name}: {Label(finding, o)}”. Look again, or keep it in mind as a fault of its own."
                    )
                );
            }
        }
        if (known.Count < 2)
        {
            return odd;
        }
        var prior = model.Prior(wear);
        var looked = known.TakeLast(MostPairs).ToList();
        var nothing = new Belief(model, (double[])prior.Clone(), wear, []);
        var all = Enumerable.Range(0, prior.Length).ToArray();
        var likelihood = looked.Select(k => nothing.Outcomes(k.Finding, all)[k.Outcome]).ToList();
        var single = likelihood.Select(l => TensorPrimitives.Dot<double>(prior, l)).ToList();
        var product = new double[prior.Length];
        for (var a = 0; a < looked.Count; a++)
        {
            TensorPrimitives.Multiply<double>(prior, likelihood[a], product);
            for (var b = a + 1; b < looked.Count; b++)
            {
                // Two looks at one part are tied by the same wear; all else by the faults that speak.
                var together =
                    model.ClusterOf[looked[a].Finding] is >= 0 and var c && c == model.ClusterOf[looked[b].Finding];
                var both = together
                    ? new Belief(model, (double[])prior.Clone(), wear, [looked[a], looked[b]]).Evidence
                    : TensorPrimitives.Dot<double>(product, likelihood[b]);
                if (single[a] * single[b] / Math.Max(both, 1e-15) > Conflict)
                {
                    var (x, y) = (model.Findings[looked[a].Finding], model.Findings[looked[b].Finding]);
                    odd.Add(
                        new(
                            [KnownFindings.Answered(x.Id), KnownFindings.Answered(y.Id)],
                            $"“{x.Name}: {Label(x, looked[a].Outcome)}” and “{y.Name}: {Label(y, looked[b].Outcome)}” hardly go together. Check one of them again."
                        )
                    );
                }
            }
        }
        return odd;

        static string Label(Finding f, int o) => f.Outcomes[o].Label.ToLower(CultureInfo.InvariantCulture);
    }
}
