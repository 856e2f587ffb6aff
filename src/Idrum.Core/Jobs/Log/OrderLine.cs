using System.Collections.Immutable;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Log;

/// <summary>One line of parts for a job: ordered, or taken from the van.</summary>
/// <param name="LineId">Id of the act that began it.</param>
/// <param name="ArticleId">The supplier's number.</param>
/// <param name="Name">What it is.</param>
/// <param name="Covers">Part id → how many of it are in one.</param>
/// <param name="Quantity">How many.</param>
/// <param name="Price">Price of one.</param>
/// <param name="Source">supplier or van.</param>
/// <param name="Due">When it is due; null where it came with the van.</param>
/// <param name="ReturnDays">Days within which it is taken back.</param>
public sealed record OrderLine(
    string LineId,
    string ArticleId,
    string Name,
    ImmutableSortedDictionary<PartId, int> Covers,
    int Quantity,
    double Price,
    string Source,
    DateTimeOffset? Due,
    int ReturnDays
)
{
    /// <summary>The way of fitting that it is for; empty where it is fitted as usual.</summary>
    public string Way { get; init; } = "";

    /// <summary>Parts of the job it is meant for.</summary>
    public ImmutableList<PartId> For { get; init; } = [];

    /// <summary>Which van it is out of; null from the supplier, and in logs from when there was but one.</summary>
    public TakenFrom? From { get; init; }

    /// <summary>Whether it was bought for the machine this one was thought to be, and goes into nothing here.</summary>
    public bool Astray { get; init; }

    /// <summary>How many came.</summary>
    public int Came { get; init; }

    /// <summary>How many came and did not fit.</summary>
    public int Wrong { get; init; }

    /// <summary>How many cannot be had.</summary>
    public int Missing { get; init; }

    /// <summary>How many went back, the wrong ones among them.</summary>
    public int Returned { get; init; }

    /// <summary>When the last of them came.</summary>
    public DateTimeOffset? CameAt { get; init; }

    /// <summary>What was paid for one; null where nobody said and <see cref="Price"/> is the list's.</summary>
    public PaidPrice? Paid { get; init; }

    /// <summary>How many are still to come.</summary>
    public int Open => Quantity - Came - Wrong - Missing;

    /// <summary>Until when it is taken back; null where it need not go back to anyone.</summary>
    public DateTimeOffset? ReturnBy => Source == BoughtFrom.Van ? null : CameAt?.AddDays(ReturnDays);
}
