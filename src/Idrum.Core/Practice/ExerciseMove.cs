namespace Idrum.Core.Practice;

/// <summary>What may be done in an exercise.</summary>
public enum MoveKind
{
    /// <summary>The supply is taken off and secured.</summary>
    Isolate,

    /// <summary>The supply is put on.</summary>
    Power,

    /// <summary>A look, a question or a feel.</summary>
    Check,

    /// <summary>A tool instead of the look.</summary>
    Measure,

    /// <summary>Opening up to a part.</summary>
    Open,

    /// <summary>Putting a fault right.</summary>
    Repair,

    /// <summary>An answer of the hands: glue, belt, screws, plugs.</summary>
    Hands,

    /// <summary>Handing it over to another trade.</summary>
    HandOver,

    /// <summary>Ending without a cause.</summary>
    End,
}

/// <summary>One act of an exercise.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="Id">Finding of a check or of measuring, part of opening, fault of a repair; of the hands the task and the answer,
/// <c>plugs:a,b</c>; else empty.</param>
public sealed record ExerciseMove(MoveKind Kind, string Id = "");

/// <summary>An act with what it was worth when it was chosen, whatever came of it.</summary>
/// <param name="Move">The act.</param>
/// <param name="Lost">Minutes it cost on average above the best act known; 0 where it was as good.</param>
/// <param name="Better">What was advised, in words; empty where nothing was lost.</param>
/// <param name="Why">The reason for each lost minute, in a sentence; empty where none was.</param>
/// <param name="Ahead">Whether it was better than what was advised.</param>
/// <param name="Minutes">Minutes it took, teardown and parts not counted apart.</param>
public sealed record Decision(ExerciseMove Move, double Lost, string Better, string Why, bool Ahead, double Minutes);
