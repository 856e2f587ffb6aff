using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Identify;

/// <summary>Which layout stands there, from what can be seen from outside without tools: each answer prunes and ranks,
/// "can't tell" is always
/// one, and the next question is the one that splits best for the time it takes to look.</summary>
/// <remarks>Naive Bayes over the layouts and "none of these": given the layout the answers are independent; a person
/// names the true value with
/// probability 1 − <see cref="FactTerm.Wrong"/>, else one of the others, all as likely. A fact in which single machines
/// of a layout differ
/// has every value met there, all as likely; a layout that does not name a fact says nothing about it. A machine that
/// is none of them
/// gives nearly any answer. The question is chosen by expected Shannon information
/// in bits per second (Lindley, Annals of Mathematical Statistics 27(4), 1956).</remarks>
public sealed class IdentificationKey
{
    /// <summary>Id of the candidate that stands for "none of these".</summary>
    public const string None = "none";

    /// <summary>Answer where a person cannot tell.</summary>
    public const string CantTell = "cant-tell";

    /// <summary>Most questions that are asked.</summary>
    public const int MostQuestions = 8;

    /// <summary>Weight of "none of these" before anything is asked. More than the share of such machines: that a
    /// stranger is forced into the
    /// nearest layout costs more than one more question (table in docs/models.md).</summary>
    public const double NonePrior = 0.19;

    /// <summary>Surety at which no more is asked.</summary>
    public const double Sure = 0.972;

    /// <summary>What a question costs beside the looking, in seconds of looking: reading it, going round the machine,
    /// the patience of whoever
    /// asks. It makes few telling questions out of many cheap ones.</summary>
    private const double AskingSeconds = 100;

    /// <summary>Share of a stranger's answers that is as with the shop's layouts; the rest is any.</summary>
    private const double StrangerLike = 0.1;
    private const double LeastBits = 0.01;

    /// <summary>Layouts that nothing seen from outside tells apart, together; the first stands for them.</summary>
    private readonly Layout[][] groups;
    private readonly double[] prior;

    /// <summary>P(answer | candidate) by question, candidate and value; the last candidate is "none".</summary>
    private readonly double[][][] likelihood;

    /// <summary>Makes one.</summary>
    /// <param name="layouts">The shop's layouts, at least one.</param>
    /// <param name="words">Facts with their questions.</param>
    /// <param name="weights">How often each layout is met, in any unit; null where all are as likely.</param>
    /// <exception cref="ArgumentException">There is no layout, or not one weight above 0 for each.</exception>
    public IdentificationKey(IReadOnlyList<Layout> layouts, Vocabulary words, IReadOnlyList<double>? weights = null)
    {
        weights ??= [.. layouts.Select(_ => 1.0)];
        if (layouts.Count == 0 || weights.Count != layouts.Count || weights.Any(w => !(w > 0)))
        {
            throw new ArgumentException("At least one layout, and one weight above 0 for each.", nameof(layouts));
        }
        Questions = [.. words.Facts.Where(f => f.Seconds > 0 && layouts.Any(l => l.ValueOf(f.Id) is not null))];
        groups =
        [
            .. layouts
                .GroupBy(l => string.Join(' ', Questions.SelectMany(q => Answers(q, l))))
                .Select(g => g.ToArray()),
        ];
        var total = weights.Sum();
        var weight = layouts
            .Select((l, i) => (l, i))
            .ToDictionary(x => x.l, x => weights[x.i], ReferenceEqualityComparer.Instance as IEqualityComparer<Layout>);
        prior = [.. groups.Select(g => (1 - NonePrior) * g.Sum(l => weight[l]) / total), NonePrior];
        likelihood =
        [
            .. Questions.Select(q =>
            {
                double[][] of = [.. groups.Select(g => Answers(q, g[0]))];
                var n = q.Values.Count;
                double[] any =
                [
                    .. Enumerable
                        .Range(0, n)
                        .Select(v => StrangerLike * of.Average(p => p[v]) + (1 - StrangerLike) / n),
                ];
                return (double[][])[.. of, any];
            }),
        ];
    }

    /// <summary>Everything that can be asked.</summary>
    public ImmutableArray<FactTerm> Questions { get; }

    /// <summary>Chances of each answer on a machine of that layout.</summary>
    /// <param name="question">A fact seen from outside.</param>
    /// <param name="layout">A layout.</param>
    /// <returns>One probability a value, summing to 1.</returns>
    public static double[] Answers(FactTerm question, Layout layout)
    {
        var n = question.Values.Count;
        if (layout.Facts.FirstOrDefault(f => f.Id == question.Id) is not { } fact)
        {
            return [.. Enumerable.Repeat(1.0 / n, n)];
        }
        var met =
            !fact.Varies ? [fact.Value]
            : fact.Values is { Count: > 0 } values ? values
            : [.. question.Values.Select(v => v.Id)];
        var right = n == 1 ? 1 : 1 - question.Wrong;
        var wrong = n == 1 ? 0 : question.Wrong / (n - 1);
        return [.. question.Values.Select(v => met.Average(m => m == v.Id ? right : wrong))];
    }

    /// <summary>What the answers say.</summary>
    /// <param name="answers">Fact id → value id or <see cref="CantTell"/>; facts that are not asked from outside are
    /// passed over.</param>
    /// <param name="tag">Likelihood of the tag on a layout, or (null) on none of them; null where it was not
    /// read.</param>
    /// <exception cref="ArgumentException">A fact has no such value.</exception>
    public Identification Of(IReadOnlyDictionary<string, string> answers, Func<Layout?, double>? tag = null) =>
        Weigh(answers, tag).Found;

    /// <summary>The same, with the probability of the answers before they were given.</summary>
    /// <inheritdoc cref="Of" />
    public (Identification Found, double Evidence) Weigh(
        IReadOnlyDictionary<string, string> answers,
        Func<Layout?, double>? tag = null
    )
    {
        double[] weight = [.. prior];
        for (var i = 0; tag is not null && i < weight.Length; i++)
        {
            weight[i] *= i == groups.Length ? tag(null) : groups[i].Average(tag);
        }
        var asked = new HashSet<int>();
        for (var q = 0; q < Questions.Length; q++)
        {
            if (!answers.TryGetValue(Questions[q].Id, out var value))
            {
                continue;
            }
            asked.Add(q);
            if (value == CantTell)
            {
                continue;
            }
            var v = Questions[q].Values.ToList().FindIndex(x => x.Id == value);
            if (v < 0)
            {
                throw new ArgumentException(
                    $"'{Questions[q].Id}' has no value '{FieldErrors.Short(value)}'.",
                    nameof(answers)
                );
            }
            for (var i = 0; i < weight.Length; i++)
            {
                weight[i] *= likelihood[q][i][v];
            }
        }
        var sum = weight.Sum();
        double[] p = [.. weight.Select(w => w / sum)];
        List<Candidate> ranked =
        [
            .. p.Select((x, i) => i < groups.Length ? new Candidate(groups[i][0], x, groups[i][1..]) : new(null, x, []))
                .OrderByDescending(c => c.Probability),
        ];
        return (
            new(
                ranked,
                asked.Count >= MostQuestions || ranked[0].Probability >= Sure ? null : Next(p, asked),
                asked.Count
            ),
            sum
        );
    }

    /// <summary>The question with most expected bits per second, or null where none says anything. The first is answered from
    /// the front: no machine is pulled out before it was looked at.</summary>
    private FactTerm? Next(double[] p, HashSet<int> asked)
    {
        var (best, rate) = (-1, 0.0);
        var fromFront = asked.Count == 0 && Questions.Any(q => !q.Behind);
        for (var q = 0; q < Questions.Length; q++)
        {
            if (asked.Contains(q) || fromFront && Questions[q].Behind)
            {
                continue;
            }
            var bits = Bits(p, q);
            if (bits > LeastBits && bits / (Questions[q].Seconds + AskingSeconds) > rate)
            {
                (best, rate) = (q, bits / (Questions[q].Seconds + AskingSeconds));
            }
        }
        return best < 0 ? null : Questions[best];
    }

    /// <summary>Mutual information of the answer and the machine, bits.</summary>
    private double Bits(double[] p, int question)
    {
        var bits = 0.0;
        for (var v = 0; v < Questions[question].Values.Count; v++)
        {
            var all = 0.0;
            for (var i = 0; i < p.Length; i++)
            {
                all += p[i] * likelihood[question][i][v];
            }
            for (var i = 0; i < p.Length && all > 0; i++)
            {
                var joint = p[i] * likelihood[question][i][v];
                bits += joint > 0 ? joint * Math.Log2(likelihood[question][i][v] / all) : 0;
            }
        }
        return bits;
    }
}

/// <summary>A layout that it may be.</summary>
/// <param name="Layout">The layout; null stands for none of them.</param>
/// <param name="Probability">How likely it is, or one that looks like it.</param>
/// <param name="Alike">Layouts that nothing seen from outside tells from it.</param>
public sealed record Candidate(Layout? Layout, double Probability, IReadOnlyList<Layout> Alike)
{
    /// <summary>Layout id, or <see cref="IdentificationKey.None"/>.</summary>
    public string Id => Layout?.Id ?? IdentificationKey.None;
}

/// <summary>What is known of the machine so far.</summary>
/// <param name="Candidates">All layouts and none, likeliest first.</param>
/// <param name="Next">The next question; null where it is sure enough or nothing more can be asked.</param>
/// <param name="Asked">How many were answered.</param>
public sealed record Identification(IReadOnlyList<Candidate> Candidates, FactTerm? Next, int Asked)
{
    /// <summary>The likeliest.</summary>
    public Candidate First => Candidates[0];

    /// <summary>Facts by which the two likeliest layouts are told apart for certain, those seen from outside first;
    /// facts that single machines
    /// differ in tell nothing.</summary>
    /// <param name="words">Facts with their questions.</param>
    public IReadOnlyList<Difference> Differences(Vocabulary words)
    {
        if (Candidates.Where(c => c.Layout is not null).Take(2).Select(c => c.Layout!).ToList() is not [var a, var b])
        {
            return [];
        }
        string? Firm(Layout layout, string fact) =>
            layout.Facts.FirstOrDefault(f => f.Id == fact) is { Varies: false } f ? f.Value : null;
        return
        [
            .. words
                .Facts.Select(f => new Difference(f, Firm(a, f.Id) ?? "", Firm(b, f.Id) ?? ""))
                .Where(d => d.Left.Length > 0 && d.Right.Length > 0 && d.Left != d.Right)
                .OrderBy(d => d.Fact.Seconds == 0)
                .ThenBy(d => d.Fact.Seconds),
        ];
    }
}

/// <summary>A fact by which two layouts are told apart.</summary>
/// <param name="Fact">The fact; seen from outside where its seconds are above 0, else with the machine open.</param>
/// <param name="Left">Its value on the likeliest.</param>
/// <param name="Right">Its value on the second.</param>
public sealed record Difference(FactTerm Fact, string Left, string Right);
