namespace Idrum.Core.Diagnosis;

/// <summary>Advice looked two checks ahead: what each of the most promising checks would lead to, with the best further check or act after each of
/// its answers. Anytime: candidates are worked through in the order of their price one check ahead, until the deadline.</summary>
/// <remarks>Depth-two expectimax over checks with the order of repairs as the value of stopping; the first step of policy improvement over the
/// one-step policy.</remarks>
internal sealed class Lookahead(Func<DiagnosisRequest, (PricedActs Acts, IReadOnlyList<PricedCheck> Checks, Belief Belief)> price, FaultModel model)
{
    private const int Candidates = 8;
    private const double Rare = 0.01;

    /// <param name="request">What is known.</param>
    /// <param name="checks">Checks priced one ahead, best first.</param>
    /// <param name="acts">The acts they were priced with.</param>
    /// <param name="belief">What is believed.</param>
    /// <param name="late">Whether the time is up.</param>
    /// <returns>Expected cost two ahead by finding id, of those that were reached.</returns>
    internal Dictionary<string, double> Prices(DiagnosisRequest request, IReadOnlyList<PricedCheck> checks, PricedActs acts, Belief belief, Func<bool> late)
    {
        var prices = new Dictionary<string, double>();
        foreach (var check in checks.Where(c => !c.Finding.Live && c.TeardownMinutes == 0 && acts.Turns[c.Finding.Id] > 0).Take(Candidates))
        {
            if (late())
            {
                break;
            }
            var place = model.IndexOfFinding(check.Finding.Id);
            var cost = check.Minutes + check.Finding.RiskMinutes;
            var chances = belief.Chances(place);
            for (var o = 0; o < chances.Length; o++)
            {
                if (chances[o] < Rare)
                {
                    cost += chances[o] * acts.Stop.Cost;
                    continue;
                }
                var after = request with { Findings = new Dictionary<string, string>(request.Findings) { [check.Finding.Id] = check.Finding.Outcomes[o].Id } };
                var (next, further, _) = price(after);
                cost += chances[o] * further.Where(c => !c.Finding.Live).Select(c => c.ExpectedCost).Append(next.Stop.Cost).Min();
            }
            prices[check.Finding.Id] = cost;
        }
        return prices;
    }
}
