using System.Globalization;
using Idrum.Core.Identify;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Identification simulated: machines of every layout answered with the stated error rates, once more with one
/// answer forced wrong,
/// and machines that are none of them; against what asking everything reaches, and on four layouts against exhaustive
/// look-ahead.</summary>
internal static class IdentifyPart
{
    private const int Runs = 2000;

    internal static Task<bool> RunAsync(string[] args)
    {
        var (shop, _) = ContentFolder.Read(BenchHost.Content).Read();
        Layout[] layouts = [.. shop.Layouts.OrderBy(l => l.Arrangement, StringComparer.Ordinal)];
        var key = new IdentificationKey(layouts, shop.Words);
        Console.WriteLine(
            $"{key.Questions.Length} questions, {Runs} runs a layout, none of these {IdentificationKey.NonePrior:0.00}, sure at {IdentificationKey.Sure:0.000}"
        );
        Console.WriteLine(
            $"{"layout", -18} {"first %", 8} {"questions", 10} {"most", 5} {"seconds", 8} {"all asked %", 12} {"one wrong: top two %", 21}"
        );
        var (ok, sumQuestions) = (true, 0.0);
        foreach (var (layout, l) in layouts.Select((x, i) => (x, i)))
        {
            var random = new Random(4000 + l);
            var (right, asked, most, seconds, full, two) = (0, 0, 0, 0.0, 0, 0);
            for (var i = 0; i < Runs; i++)
            {
                var machine = Machine(key, layout, random);
                var (found, n, s) = Ask(key, machine);
                right += found.First.Id == layout.Id ? 1 : 0;
                (asked, most, seconds) = (asked + n, Math.Max(most, n), seconds + s);
                full += key.Of(machine).First.Id == layout.Id ? 1 : 0;
                two += Ask(key, machine, random.Next(4), layout, random)
                    .Found.Candidates.Take(2)
                    .Any(c => c.Id == layout.Id)
                    ? 1
                    : 0;
            }
            sumQuestions += (double)asked / Runs;
            ok &= right >= 0.95 * Runs && most <= IdentificationKey.MostQuestions && two >= 0.95 * Runs;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{layout.Arrangement + " " + layout.Title, -18} {100.0 * right / Runs, 8:0.0} {(double)asked / Runs, 10:0.00} {most, 5} {seconds / Runs, 8:0} {100.0 * full / Runs, 12:0.0} {100.0 * two / Runs, 21:0.0}"
                )
            );
        }
        ok &= sumQuestions / layouts.Length <= 5;
        Console.WriteLine(
            string.Create(CultureInfo.InvariantCulture, $"on average {sumQuestions / layouts.Length:0.00} questions")
        );
        ok &= Strangers(key, layouts);
        ok &= LookAhead(shop.Words, layouts);
        return Task.FromResult(ok);
    }

    /// <summary>Answers a person would give on one machine, every question.</summary>
    private static Dictionary<string, string> Machine(IdentificationKey key, Layout layout, Random random) =>
        key.Questions.ToDictionary(q => q.Id, q => q.Values[Draw(IdentificationKey.Answers(q, layout), random)].Id);

    private static int Draw(double[] p, Random random)
    {
        var x = random.NextDouble();
        var i = 0;
        while (i < p.Length - 1 && (x -= p[i]) > 0)
        {
            i++;
        }
        return i;
    }

    /// <summary>Asks until it is sure or nothing more is to be asked; the answer numbered <paramref name="wrongAt"/> is
    /// made false on purpose.</summary>
    private static (Identification Found, int Asked, double Seconds) Ask(
        IdentificationKey key,
        Dictionary<string, string> machine,
        int wrongAt = -1,
        Layout? truth = null,
        Random? random = null
    )
    {
        var (answers, seconds) = (new Dictionary<string, string>(), 0.0);
        while (true)
        {
            var found = key.Of(answers);
            if (found.Next is not { } question)
            {
                return (found, answers.Count, seconds);
            }
            seconds += question.Seconds;
            var answer = machine[question.Id];
            if (answers.Count == wrongAt && truth!.ValueOf(question.Id) is { } real)
            {
                var others = question.Values.Where(v => v.Id != real).ToList();
                answer = others[random!.Next(others.Count)].Id;
            }
            answers[question.Id] = answer;
        }
    }

    /// <summary>Machines that are none: values mixed from different layouts or met on none, kept where at least three
    /// of the firm values differ
    /// from every layout.</summary>
    private static bool Strangers(IdentificationKey key, Layout[] layouts)
    {
        var random = new Random(77);
        var (none, asked, made) = (0, 0, 0);
        while (made < Runs)
        {
            var true_ = key.Questions.ToDictionary(q => q.Id, q => q.Values[random.Next(q.Values.Count)].Id);
            var nearest = layouts.Min(l =>
                key.Questions.Count(q =>
                    l.Facts.FirstOrDefault(f => f.Id == q.Id) is { Varies: false } f && f.Value != true_[q.Id]
                )
            );
            if (nearest < 3)
            {
                continue;
            }
            made++;
            var machine = key.Questions.ToDictionary(
                q => q.Id,
                q =>
                    random.NextDouble() < q.Wrong
                        ? q.Values.Where(v => v.Id != true_[q.Id]).ElementAt(random.Next(q.Values.Count - 1)).Id
                        : true_[q.Id]
            );
            var (found, n, _) = Ask(key, machine);
            asked += n;
            none += found.First.Id == IdentificationKey.None ? 1 : 0;
        }
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"none of them, {Runs} machines at least three values from every layout: said to be none {100.0 * none / Runs:0.0} % after {(double)asked / Runs:0.00} questions"
            )
        );
        return none >= 0.9 * Runs;
    }

    /// <summary>On four layouts: the surety the greedy questions reach with three and four answers, against the best of
    /// every adaptive choice of questions.</summary>
    private static bool LookAhead(Vocabulary words, Layout[] layouts)
    {
        Layout[] four = [.. "A C2 D F".Split(' ').Select(a => layouts.Single(l => l.Arrangement == a))];
        var key = new IdentificationKey(four, words);
        var ok = true;
        for (var depth = 1; depth <= 3; depth++)
        {
            var greedy = Value(key, [], depth, false);
            var best = Value(key, [], depth, true);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"four layouts, {depth} question(s): right first {100 * greedy:0.00} % greedily, {100 * best:0.00} % at best over every adaptive choice"
                )
            );
            ok &= best >= greedy - 1e-9;
        }
        return ok;
    }

    /// <summary>Expected probability that the likeliest is right after so many more questions: weights are joint with
    /// the answers.</summary>
    private static double Value(IdentificationKey key, Dictionary<string, string> answers, int left, bool exhaustive)
    {
        var (now, evidence) = key.Weigh(answers);
        if (left == 0)
        {
            return evidence * now.First.Probability;
        }
        double After(FactTerm q) => q.Values.Sum(v => Value(key, new(answers) { [q.Id] = v.Id }, left - 1, exhaustive));
        var open = key.Questions.Where(q => !answers.ContainsKey(q.Id));
        return exhaustive ? open.Max(After)
            : now.Next is { } next ? After(next)
            : evidence * now.First.Probability;
    }
}
