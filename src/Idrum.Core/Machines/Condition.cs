namespace Idrum.Core.Machines;

/// <summary>When something holds: a fact of the machine, a school of the repairer, or a combination. Exactly one of the
/// five forms is
/// filled in.</summary>
public sealed record Condition
{
    /// <summary>Fact id; holds where the fact has the value <see cref="Is"/>.</summary>
    public string? Fact { get; init; }

    /// <summary>School id; holds where the option <see cref="Is"/> is taken.</summary>
    public string? School { get; init; }

    /// <summary>Value of the fact, or option of the school.</summary>
    public string? Is { get; init; }

    /// <summary>All of these hold.</summary>
    public IReadOnlyList<Condition>? All { get; init; }

    /// <summary>At least one of these holds.</summary>
    public IReadOnlyList<Condition>? Any { get; init; }

    /// <summary>This does not hold.</summary>
    public Condition? Not { get; init; }

    /// <summary>Whether it holds.</summary>
    /// <param name="fact">Value of a fact; null where the machine has no such fact, which is like a value of its
    /// own.</param>
    /// <param name="school">Option taken of a school; null where there is no such school.</param>
    public bool Holds(Func<string, string?> fact, Func<string, string?> school) =>
        Fact is not null ? fact(Fact) == Is
        : School is not null ? school(School) == Is
        : All is not null ? All.All(c => c.Holds(fact, school))
        : Any is not null ? Any.Any(c => c.Holds(fact, school))
        : Not is null || !Not.Holds(fact, school);

    /// <summary>This condition and every one within it.</summary>
    public IEnumerable<Condition> Inside() =>
        new[] { this }.Concat(
            (All ?? []).Concat(Any ?? []).Concat(Not is null ? [] : [Not]).SelectMany(c => c.Inside())
        );
}
