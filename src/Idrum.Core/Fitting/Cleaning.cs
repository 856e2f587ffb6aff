using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>Something that is cleaned before the machine closes: lint is fuel, and what rubs comes back.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Do">What is done.</param>
/// <param name="Why">Why.</param>
/// <param name="When">Only on machines where this holds; null on all.</param>
/// <param name="Kinds">Only where the machine has a part of one of these kinds; empty: always.</param>
/// <param name="Renewed">Only where a part of one of these kinds was changed; empty: wherever the machine was
/// opened.</param>
public sealed record Cleaning(
    string Id,
    string Do,
    string Why,
    Condition? When = null,
    IReadOnlyList<string>? Kinds = null,
    IReadOnlyList<string>? Renewed = null
);
