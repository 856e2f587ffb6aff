namespace Idrum.Core.Practice;

/// <summary>One act of an exercise.</summary>
/// <param name="Kind">isolate, power, check, measure, open, repair, hands, hand-over or end.</param>
/// <param name="Id">Finding of a check or of measuring, part of opening, fault of a repair; of the hands the task and the answer,
/// <c>plugs:a,b</c>; else empty.</param>
public sealed record ExerciseMove(string Kind, string Id = "");

/// <summary>An act with what it was worth when it was chosen, whatever came of it.</summary>
/// <param name="Move">The act.</param>
/// <param name="Lost">Minutes it cost on average above the best act known; 0 where it was as good.</param>
/// <param name="Better">What was advised, in words; empty where nothing was lost.</param>
/// <param name="Why">The reason for each lost minute, in a sentence; empty where none was.</param>
/// <param name="Ahead">Whether it was better than what was advised.</param>
/// <param name="Minutes">Minutes it took, teardown and parts not counted apart.</param>
public sealed record Decision(ExerciseMove Move, double Lost, string Better, string Why, bool Ahead, double Minutes);
