namespace Idrum.Core.Drive;

/// <summary>A question about what is seen of a belt.</summary>
/// <param name="Id">taut, blower, idler, pulley, drum, free or arm.</param>
/// <param name="Ask">To the repairer.</param>
/// <param name="Answers">Answer id → words.</param>
public sealed record CourseQuestion(string Id, string Ask, IReadOnlyDictionary<string, string> Answers);

/// <summary>Tells by a few questions which course a belt lies on.</summary>
public static class CourseKey
{
    /// <summary>All questions.</summary>
    public static IReadOnlyList<CourseQuestion> Questions { get; } =
    [
        new(
            "blower",
            "Turn the drum by hand in its running direction: does the blower turn with it?",
            new Dictionary<string, string> { ["follows"] = "It follows", ["stands"] = "It stands" }
        ),
        new(
            "taut",
            "Press the belt midway between two wheels: is it taut?",
            new Dictionary<string, string> { ["taut"] = "Taut", ["slack"] = "It hangs" }
        ),
        new(
            "idler",
            "What lies on the idler?",
            new Dictionary<string, string>
            {
                ["back"] = "The smooth back",
                ["ribs"] = "The ribs",
                ["none"] = "Nothing: the belt passes beside it",
                ["inside"] = "Nothing: it stands inside the loop",
            }
        ),
        new(
            "pulley",
            "What lies on the motor pulley?",
            new Dictionary<string, string>
            {
                ["ribs"] = "The ribs, round it",
                ["back"] = "The smooth back, round it",
                ["passes"] = "The belt passes above it",
                ["beside"] = "Its grooves are empty, the belt lies beside",
            }
        ),
        new(
            "drum",
            "How does it lie on the drum, and between the wheels?",
            new Dictionary<string, string>
            {
                ["track"] = "Flat, on its track",
                ["beside"] = "Beside its track",
                ["other"] = "In a recess without a shiny mark, askew to the pulley",
                ["edge"] = "On its edge somewhere",
            }
        ),
        new(
            "free",
            "Follow it with a finger once round: what does it touch besides its wheels?",
            new Dictionary<string, string>
            {
                ["free"] = "Nothing",
                ["harness"] = "The harness",
                ["hook"] = "The wire hook",
                ["beside-idler"] = "The idler's side",
            }
        ),
        new(
            "arm",
            "How does the tensioner stand?",
            new Dictionary<string, string>
            {
                ["between"] = "Between its stops, sprung",
                ["latched"] = "Caught in its latch",
                ["beyond"] = "Beyond its stop",
                ["other-slots"] = "In slots without wear",
                ["spring-off"] = "Its spring hangs",
            }
        ),
    ];

    /// <summary>Courses that fit what was seen; an answer that is not among a question's says nothing.</summary>
    public static IReadOnlyList<BeltCourse> Fitting(
        IReadOnlyList<BeltCourse> courses,
        IReadOnlyDictionary<string, string> seen
    ) =>
        [
            .. courses.Where(c =>
                Questions.All(q =>
                    !seen.TryGetValue(q.Id, out var answer)
                    || !q.Answers.ContainsKey(answer)
                    || c.Signs.GetValueOrDefault(q.Id) == answer
                )
            ),
        ];

    /// <summary>The question that splits them best, with the answers that occur; null where one is left or none
    /// splits.</summary>
    public static CourseQuestion? Next(IReadOnlyList<BeltCourse> left, IReadOnlyDictionary<string, string> seen)
    {
        if (left.Count < 2)
        {
            return null;
        }
        var (best, least) = ((CourseQuestion?)null, (double)left.Count);
        foreach (var question in Questions.Where(q => !seen.ContainsKey(q.Id)))
        {
            var groups = left.GroupBy(c => c.Signs[question.Id]).Select(g => g.Count()).ToList();
            // Courses still to be told apart after it, on average.
            var after = groups.Sum(n => (double)n * n) / left.Count;
            if (after < least)
            {
                (best, least) = (question, after);
            }
        }
        return best is null
            ? null
            : best with
            {
                Answers = best
                    .Answers.Where(a => left.Any(c => c.Signs[best.Id] == a.Key))
                    .ToDictionary(a => a.Key, a => a.Value),
            };
    }
}
