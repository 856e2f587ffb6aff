using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Layouts made up at random: alternatives, circles, conditions, ways, things wanted first, steps with before,
/// after and still out, pairs that
/// are not mirrored.</summary>
internal static class RandomFile
{
    /// <summary>Facts that vary in every such file, with their values.</summary>
    internal static IReadOnlyDictionary<string, string[]> Facts { get; } =
        new Dictionary<string, string[]> { ["earth-clip"] = ["yes", "no"], ["gas"] = ["yes", "no"] };

    /// <summary>Every setting of the facts.</summary>
    internal static IEnumerable<Dictionary<string, string>> Machines =>
        Facts["earth-clip"]
            .SelectMany(e =>
                Facts["gas"].Select(g => new Dictionary<string, string> { ["earth-clip"] = e, ["gas"] = g })
            );

    /// <param name="random">Where it comes from.</param>
    /// <param name="like">A sound layout that lends what has nothing to do with orders.</param>
    internal static Layout Make(Random random, Layout like)
    {
        var n = random.Next(3, 8);
        var wild = random.Next(3) == 0;
        string Other(int i) => "o" + (i + 1 + random.Next(n - 1)) % n;
        string Earlier(int i) => wild ? Other(i) : "o" + random.Next(Math.Max(1, i));
        IReadOnlyList<IReadOnlyList<OperationId>> Groups(int i, int most) =>
            i == 0 && !wild
                ? []
                :
                [
                    .. Enumerable
                        .Range(0, random.Next(most))
                        .Select(_ =>
                            (IReadOnlyList<OperationId>)
                                [
                                    .. Enumerable
                                        .Range(0, random.Next(1, 4))
                                        .Select(_ => Earlier(i))
                                        .Where(o => o != "o" + i)
                                        .Distinct(),
                                ]
                        )
                        .Where(g => g.Count > 0),
                ];
        Condition? When(int oneIn) => random.Next(oneIn) > 0 ? null : Some(random, 0);
        var operations = Enumerable
            .Range(0, n)
            .Select(i => new Operation
            {
                Id = "o" + i,
                Name = "o" + i,
                Do = "o" + i,
                When = i == n - 1 ? null : When(5),
                Needs = Groups(i, 3),
                First = random.Next(4) == 0 ? Groups(i, 2) : [],
                Frees = i == n - 1 ? ["p"] : [],
                Minutes = new(0, random.Next(0, 4), 9),
                Refit =
                [
                    .. Enumerable
                        .Range(0, random.Next(4) == 0 ? 2 : 1)
                        .Select(k => new RefitStep
                        {
                            Id = "s" + k,
                            Do = "back",
                            Minutes = new(0, random.Next(0, 3), 9),
                            When = k == 1 ? When(3) : null,
                            DirectlyAfter = k == 1 && random.Next(3) == 0 ? "s0" : "",
                            After =
                                k == 1 && random.Next(2) == 0 ? [new($"o{i}", "s0")]
                                : random.Next(8) == 0 ? [new(Other(i), "s0")]
                                : [],
                            Before = random.Next(8) == 0 ? [new(Other(i), "s0")] : [],
                            StillOut = random.Next(10) == 0 ? [Other(i)] : [],
                        }),
                ],
            })
            .ToList();
        List<OperationId> options =
        [
            .. Enumerable.Range(0, n).OrderBy(_ => random.Next()).Take(2).Select(i => (OperationId)("o" + i)),
        ];
        return like with
        {
            Facts = [new("earth-clip", "no", true), new("gas", "no", true)],
            Schools = [],
            Operations = operations,
            Ways = random.Next(3) == 0 ? [new("w", "Way?", options)] : [],
            NotMirrored =
            [
                .. Enumerable
                    .Range(0, random.Next(3))
                    .Select(_ => random.Next(n))
                    .Select(i => new NotMirrored("o" + i, Other(i))),
            ],
            Parts =
            [
                new()
                {
                    Id = "p",
                    Kind = PartKinds.Belt,
                    Name = "P",
                    Wears = true,
                },
            ],
        };
    }

    private static Condition Some(Random random, int depth)
    {
        switch (random.Next(depth > 1 ? 1 : 4))
        {
            case 1:
                return new() { Not = Some(random, depth + 1) };
            case 2:
                return new() { All = [Some(random, depth + 1), Some(random, depth + 1)] };
            case 3:
                return new() { Any = [Some(random, depth + 1), Some(random, depth + 1)] };
            default:
                var fact = Facts.Keys.ElementAt(random.Next(2));
                return new() { Fact = fact, Is = Facts[fact][random.Next(2)] };
        }
    }
}
