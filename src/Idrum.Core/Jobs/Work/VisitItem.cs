using Idrum.Core.Basics;

namespace Idrum.Core.Jobs.Work;

/// <summary>What kind of thing is done on the rest of a visit.</summary>
public enum ChoreKind
{
    /// <summary>An operation of the way out.</summary>
    Out,

    /// <summary>A felt's seat is scraped and the felt laid dry.</summary>
    Prepare,

    /// <summary>Glue is put on.</summary>
    Coat,

    /// <summary>What was coated is joined and pressed.</summary>
    Join,

    /// <summary>A part without glue is fitted.</summary>
    Fit,

    /// <summary>The open machine is cleaned.</summary>
    Clean,

    /// <summary>A step of the way back.</summary>
    In,

    /// <summary>It is turned, run and listened to.</summary>
    Prove,
}

/// <summary>One thing to do on the rest of a visit.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="About">Operation, part, or operation and step; empty where there is one of its kind only.</param>
public readonly record struct VisitChore(ChoreKind Kind, string About = "")
{
    /// <summary>Its name among the chores that are put in time.</summary>
    internal string Id => $"{Kind.Word()} {About}";
}

/// <summary>One act of the rest of a visit.</summary>
/// <param name="Chore">What it is.</param>
/// <param name="Words">The same in words.</param>
/// <param name="PartId">The part fitted, or empty.</param>
/// <param name="Start">Start, minutes from now.</param>
/// <param name="End">End, minutes from now.</param>
public sealed record VisitItem(VisitChore Chore, string Words, PartId PartId, double Start, double End);
