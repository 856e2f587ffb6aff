namespace Idrum.Core.Diagnosis;

/// <summary>One cause with what speaks for and against it.</summary>
/// <param name="Fault">The fault.</param>
/// <param name="Probability">Posterior probability that it is present, alone or with others.</param>
/// <param name="Because">Weight of each finding.</param>
/// <param name="RepairMinutes">Stripping, work, rebuilding and parts (as minutes) from the present state; null where it is referred.</param>
public sealed record Cause(Fault Fault, double Probability, IReadOnlyList<Weight> Because, double? RepairMinutes);

/// <summary>Weight of one finding: 10·log10 of the factor by which it multiplies the odds, given all other findings.</summary>
/// <param name="FindingId">The finding.</param>
/// <param name="Decibans">Positive speaks for, negative against.</param>
public sealed record Weight(string FindingId, double Decibans);

/// <summary>One check that could be done next.</summary>
/// <param name="Finding">The check.</param>
/// <param name="Minutes">Its own minutes.</param>
/// <param name="TeardownMinutes">Minutes out and in to where it can be done, from the present state.</param>
/// <param name="ExpectedCost">Expected minutes until the machine is right if this check is done next.</param>
/// <param name="Tells">Names of the causes its outcomes point to.</param>
public sealed record PricedCheck(Finding Finding, double Minutes, double TeardownMinutes, double ExpectedCost, IReadOnlyList<string> Tells);

/// <summary>What to do next.</summary>
/// <param name="Kind">check, repair or refer.</param>
/// <param name="Id">Finding id or fault id.</param>
/// <param name="ExpectedCost">Expected minutes until the machine is right.</param>
/// <param name="Reason">One sentence.</param>
public sealed record Advice(string Kind, string Id, double ExpectedCost, string Reason);

/// <summary>A finding nothing explains, or two that do not go together.</summary>
/// <param name="FindingIds">One or two findings.</param>
/// <param name="Text">In words.</param>
public sealed record Oddity(IReadOnlyList<string> FindingIds, string Text);

/// <summary>The whole picture.</summary>
public sealed record DiagnosisResult
{
    /// <summary>Causes, likeliest first.</summary>
    public required IReadOnlyList<Cause> Causes { get; init; }
    /// <summary>Probability that two or more faults are present at once.</summary>
    public required double SeveralAtOnce { get; init; }
    /// <summary>Checks, best first.</summary>
    public required IReadOnlyList<PricedCheck> Checks { get; init; }
    /// <summary>Advice.</summary>
    public required Advice Advice { get; init; }
    /// <summary>Second best.</summary>
    public required Advice? RunnerUp { get; init; }
    /// <summary>Findings that do not fit.</summary>
    public required IReadOnlyList<Oddity> Oddities { get; init; }
}

/// <summary>What is known when advice is asked for.</summary>
/// <param name="Findings">Finding id → outcome id; ids this layout does not have are passed over.</param>
/// <param name="Done">Operations done and not put back.</param>
/// <param name="Wear">Wear relative to ten years of average use.</param>
/// <param name="Isolated">Whether the supply is off, so that nothing can be run.</param>
/// <param name="ComplaintsTold">Whether the complaint has been taken, so that nobody is asked for it again.</param>
public sealed record DiagnosisRequest(IReadOnlyDictionary<string, string> Findings, IReadOnlyList<string> Done, double Wear = 1, bool Isolated = false, bool ComplaintsTold = false);
