namespace Idrum.Core.Diagnosis;

/// <summary>What was learned: catalogues to diagnose with, and how they came about.</summary>
/// <param name="Pooled">For layouts no job was closed on.</param>
/// <param name="ByLayout">For the others, by layout id.</param>
/// <param name="From">How many jobs taught it.</param>
/// <param name="Faults">Faults, expected and met.</param>
/// <param name="Signs">What causes showed, of jobs with one cause that was seen.</param>
public sealed record Learned(
    DiagnosisCatalog Pooled,
    IReadOnlyDictionary<string, DiagnosisCatalog> ByLayout,
    LearnedFrom From,
    IReadOnlyList<LearnedFault> Faults,
    IReadOnlyList<LearnedSign> Signs
)
{
    /// <summary>The catalogue of a layout.</summary>
    public DiagnosisCatalog For(string layoutId) => ByLayout.GetValueOrDefault(layoutId) ?? Pooled;
}

/// <summary>How many jobs taught it.</summary>
/// <param name="Jobs">Closed jobs on layouts the shop has.</param>
/// <param name="Unknown">Of them without a cause.</param>
/// <param name="Suspected">Of them with something put right that no look had shown.</param>
/// <param name="CallBacks">Of them call-backs.</param>
public sealed record LearnedFrom(int Jobs, int Unknown, int Suspected, int CallBacks)
{
    /// <summary>Jobs with more causes than one job counts as.</summary>
    public IReadOnlyList<CrowdedJob> Crowded { get; init; } = [];
}

/// <summary>A job that named more causes than one job counts as: they share its weight.</summary>
/// <param name="Job">Its number.</param>
/// <param name="Causes">How many it named.</param>
public sealed record CrowdedJob(string Job, int Causes);

/// <summary>One fault, met and expected.</summary>
/// <param name="Fault">As the files have it.</param>
/// <param name="Met">How many jobs it brought; what was not sure counts by its probability.</param>
/// <param name="Expected">How many the files expected on the same machines.</param>
/// <param name="Incidence">Of a thousand jobs, now, over all layouts.</param>
/// <param name="ByLayout">The same on each layout.</param>
/// <param name="Silent">Probability that it is there silently, now.</param>
public sealed record LearnedFault(
    Fault Fault,
    double Met,
    double Expected,
    double Incidence,
    IReadOnlyDictionary<string, double> ByLayout,
    double Silent
);

/// <summary>What a cause showed.</summary>
/// <param name="Finding">The finding.</param>
/// <param name="Fault">The cause.</param>
/// <param name="Outcome">The outcome.</param>
/// <param name="Met">How often it came out so.</param>
/// <param name="Expected">How often the files expected it.</param>
/// <param name="Was">Likelihood by the files.</param>
/// <param name="Now">Likelihood now.</param>
public sealed record LearnedSign(
    Finding Finding,
    Fault Fault,
    Outcome Outcome,
    int Met,
    double Expected,
    double Was,
    double Now
);
