namespace Idrum.Core.Diagnosis;

/// <summary>One cause with what speaks for and against it.</summary>
/// <param name="Fault">The fault.</param>
/// <param name="Probability">Posterior probability that it speaks, alone or with others; where its own part was looked
/// at, that it is there.</param>
/// <param name="Because">Weight of each finding.</param>
/// <param name="RepairMinutes">Stripping, work, rebuilding and parts (as minutes) from the present state; null where it
/// is referred.</param>
public sealed record Cause(Fault Fault, double Probability, IReadOnlyList<Weight> Because, double? RepairMinutes);

/// <summary>Weight of one finding: 10·log10 of the factor by which it multiplies the odds, given all other
/// findings.</summary>
/// <param name="FindingId">The finding.</param>
/// <param name="Decibans">Positive speaks for, negative against.</param>
public sealed record Weight(string FindingId, double Decibans);

/// <summary>Faults that speak together.</summary>
/// <param name="Faults">The faults.</param>
/// <param name="Probability">That these and no others do.</param>
public sealed record Together(IReadOnlyList<Fault> Faults, double Probability);

/// <summary>One check that could be done next.</summary>
/// <param name="Finding">The check.</param>
/// <param name="Minutes">Its own minutes.</param>
/// <param name="TeardownMinutes">Minutes out and in to where it can be done, from the present state.</param>
/// <param name="ExpectedCost">Expected minutes until the machine is right if this check is done next.</param>
/// <param name="Tells">Names of the causes it shows, the likeliest first.</param>
public sealed record PricedCheck(
    Finding Finding,
    double Minutes,
    double TeardownMinutes,
    double ExpectedCost,
    IReadOnlyList<string> Tells
);

/// <summary>What may be advised.</summary>
public enum AdviceKind
{
    /// <summary>A look, a question or a feel.</summary>
    Check,

    /// <summary>Opening up to a part, to look at it.</summary>
    Open,

    /// <summary>Putting a fault right with what is here.</summary>
    Repair,

    /// <summary>Taking the part along, and then putting it right.</summary>
    Bring,

    /// <summary>Handing it over to another trade.</summary>
    Refer,

    /// <summary>Ending without a cause.</summary>
    NothingFound,
}

/// <summary>What to do next.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="Id">Of a check the finding; of opening the part to get at; of a repair, of bringing and of a referral
/// the fault; else "unknown".</param>
/// <param name="ExpectedCost">Expected minutes until the machine is right, money counted as minutes at the shop's
/// rate.</param>
/// <param name="Reason">One sentence.</param>
/// <param name="ExpectedMinutes">Of it, minutes at the machine and on the way.</param>
/// <param name="ExpectedMoney">Of it, parts and referral, in the shop's currency.</param>
public sealed record Advice(
    AdviceKind Kind,
    string Id,
    double ExpectedCost,
    string Reason,
    double ExpectedMinutes = 0,
    double ExpectedMoney = 0
);

/// <summary>One thing in reach, to run down with a thumb.</summary>
/// <param name="Finding">The check.</param>
/// <param name="PartIds">Parts it looks at, each by itself.</param>
public sealed record InReach(Finding Finding, IReadOnlyList<PartId> PartIds);

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

    /// <summary>Sets of faults that speak together, likeliest first, down to one in a hundred; the empty set is
    /// "nothing of these".</summary>
    public required IReadOnlyList<Together> Together { get; init; }

    /// <summary>Checks, best first.</summary>
    public required IReadOnlyList<PricedCheck> Checks { get; init; }

    /// <summary>Advice.</summary>
    public required Advice Advice { get; init; }

    /// <summary>Second best.</summary>
    public required Advice? RunnerUp { get; init; }

    /// <summary>What is in reach of an open machine, by place; empty while it is closed.</summary>
    public required IReadOnlyList<InReach> WalkRound { get; init; }

    /// <summary>What was asked and speaks against its causes: the ruled-out ones, likeliest before.</summary>
    public required IReadOnlyList<Fault> RuledOut { get; init; }

    /// <summary>Findings that do not fit.</summary>
    public required IReadOnlyList<Oddity> Oddities { get; init; }
}

/// <summary>What is known when advice is asked for.</summary>
/// <param name="Findings">Finding id → outcome id; ids this layout does not have are passed over.</param>
/// <param name="Done">Operations done and not put back.</param>
/// <param name="Wear">Wear relative to ten years of average use.</param>
/// <param name="Isolated">Whether the supply is off, so that nothing can be run.</param>
/// <param name="ComplaintsTold">Whether the complaint has been taken: nobody is asked for it again, and what was not
/// mentioned is a soft no.</param>
public sealed record DiagnosisRequest(
    IReadOnlyDictionary<string, string> Findings,
    IReadOnlyList<OperationId> Done,
    double Wear = 1,
    bool Isolated = false,
    bool ComplaintsTold = false
)
{
    /// <summary>Findings that were not answered but made more or less likely, by a reading or a recording.</summary>
    public IReadOnlyList<GradedFinding> Graded { get; init; } = [];

    /// <summary>What is as good as answered: the findings, and of those that were not answered what a reading says plainly.</summary>
    public IReadOnlyDictionary<string, string> Told =>
        Graded.Count == 0
            ? Findings
            : Graded
                .Where(g => g.Plain is not null && !Findings.ContainsKey(g.FindingId))
                .GroupBy(g => g.FindingId)
                .Select(g => KeyValuePair.Create(g.Key, g.Last().Plain!))
                .Concat(Findings)
                .ToDictionary();

    /// <summary>Ids of findings that were asked for and cannot be told: they say nothing, and nobody is asked for them
    /// again.</summary>
    public IReadOnlyCollection<string> Untold { get; init; } = [];

    /// <summary>Ids of parts changed in this job.</summary>
    public IReadOnlyCollection<PartId> Fitted { get; init; } = [];

    /// <summary>Ids of faults put right in this job by cleaning or adjusting.</summary>
    public IReadOnlyCollection<FaultId> PutRight { get; init; } = [];

    /// <summary>Whether what is known was heard and seen after what was changed and put right: none of that is the
    /// cause of it.</summary>
    public bool HeardAgain { get; init; }

    /// <summary>Operations that are not on this machine.</summary>
    public IReadOnlyCollection<OperationId> Absent { get; init; } = [];

    /// <summary>Ids of parts that are here; null where nobody said.</summary>
    public IReadOnlyCollection<PartId>? AtHand { get; init; }
}

/// <summary>What thinking a job through to its end came to.</summary>
/// <param name="Advice">The next act.</param>
/// <param name="Whole">Whether all was thought through; not where time cut it short.</param>
public sealed record Improved(Advice Advice, bool Whole);

/// <summary>What every act costs on average until the machine is right, minutes, money counted in.</summary>
/// <param name="Advice">What is advised.</param>
/// <param name="Checks">Checks that can be made, each with its price.</param>
/// <param name="Faults">Going for a fault without a further check, by its id; those put right already are not among them.</param>
/// <param name="There">Probability that each fault of the model is there.</param>
public sealed record ActPrices(
    Advice Advice,
    IReadOnlyList<PricedCheck> Checks,
    IReadOnlyDictionary<FaultId, double> Faults,
    IReadOnlyList<double> There
);
