using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>P(outcome | set, what the machine does) of one finding. Sets are told apart only by the faults that cause
/// the finding.</summary>
internal sealed class FindingTable
{
    private const double Reported = 0.97;
    private readonly Finding finding;
    private readonly int[] groupOf;
    private readonly double[][] probability;
    private readonly double[]?[] forced;

    internal FindingTable(Finding finding, IReadOnlyList<int[]> sets, Dictionary<FaultId, int> place, Layout layout)
    {
        this.finding = finding;
        var causes = CausesOf(finding, place, layout);
        var leak = Cumulative(finding.Leak);
        var groups = new Dictionary<(int, int, int), int>();
        groupOf = new int[sets.Count];
        var rows = new List<double[]>();
        for (var s = 0; s < groupOf.Length; s++)
        {
            var (a, b, c) = (-1, -1, -1);
            foreach (var i in sets[s])
            {
                if (causes.ContainsKey(i))
                {
                    (a, b, c) = (b, c, i);
                }
            }
            if (!groups.TryGetValue((a, b, c), out var group))
            {
                groups[(a, b, c)] = group = rows.Count;
                var row = new double[finding.Outcomes.Count];
                var below = 0.0;
                for (var k = 0; k < row.Length; k++)
                {
                    var upTo = leak[k];
                    foreach (var i in new[] { a, b, c })
                    {
                        upTo *= i < 0 ? 1 : causes[i][k];
                    }
                    row[k] = upTo - below;
                    below = upTo;
                }
                rows.Add(row);
            }
            groupOf[s] = group;
        }
        probability = [.. rows];
        forced = [.. Enum.GetValues<MachineDoes>().Select(Forced)];
    }

    internal double Of(int outcome, int set, MachineDoes does) =>
        Of(outcome, forced[(int)does] ?? probability[groupOf[set]]);

    /// <summary>Multiplies weights of hypotheses by the probability of an outcome, or divides by it where the power is
    /// −1.</summary>
    internal void Multiply(double[] weights, int outcome, int[] setOf, MachineDoes[] doesOf, int power)
    {
        double By(double[] row) => power < 0 ? 1 / Of(outcome, row) : Of(outcome, row);
        var ofGroup = probability.Select(By).ToArray();
        var ofState = forced.Select(row => row is null ? double.NaN : By(row)).ToArray();
        var free = Array.TrueForAll(ofState, double.IsNaN);
        for (var h = 0; h < weights.Length; h++)
        {
            var fixedBy = free ? double.NaN : ofState[(int)doesOf[h]];
            weights[h] *= double.IsNaN(fixedBy) ? ofGroup[groupOf[setOf[h]]] : fixedBy;
        }
    }

    private double Of(int outcome, double[] row) => outcome < 0 ? 1 - (1 - row[0]) * finding.Told : row[outcome];

    /// <summary>Cumulative probabilities of each fault that causes a finding.</summary>
    internal static Dictionary<int, double[]> CausesOf(
        Finding finding,
        Dictionary<FaultId, int> place,
        Layout layout
    ) =>
        finding
            .Links.Where(l => layout.Holds(l.When) && place.ContainsKey(l.Fault))
            .GroupBy(l => place[l.Fault])
            .ToDictionary(g => g.Key, g => Cumulative(g.First().P));

    /// <summary>P(grade ≤ k) for k = 0 … grades, from the probabilities of the grades 1 … grades.</summary>
    internal static double[] Cumulative(IReadOnlyList<double> grades)
    {
        var c = new double[grades.Count + 1];
        c[grades.Count] = 1;
        for (var k = grades.Count - 1; k >= 0; k--)
        {
            c[k] = c[k + 1] - grades[k];
        }
        return c;
    }

    /// <summary>The outcomes where the state alone settles them, else null.</summary>
    private double[]? Forced(MachineDoes does)
    {
        if (finding.Tells is not null)
        {
            var yes = finding.Tells == does ? Reported : finding.Leak[0];
            return [1 - yes, yes];
        }
        if (finding.States.Count == 0 || finding.States.Any(s => s == does))
        {
            return null;
        }
        var found = finding.Otherwise.Where(o => o.Key == does).Select(o => finding.IndexOf(o.Value)).FirstOrDefault(0);
        var row = new double[finding.Outcomes.Count];
        Array.Fill(row, FaultModel.Slip / (row.Length - 1));
        row[found] = 1 - FaultModel.Slip;
        return row;
    }
}
