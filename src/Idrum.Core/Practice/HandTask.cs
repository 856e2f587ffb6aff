namespace Idrum.Core.Practice;

/// <summary>Something the hands do before an exercise is closed: its right answer follows from what is out of the machine.</summary>
/// <param name="Kind">glue, belt, plugs or screws.</param>
/// <param name="Ask">What is to be done.</param>
/// <param name="Things">What it is done with: id and words. Plugs to be joined or left, screws to be placed.</param>
/// <param name="Places">Where a thing may go: id and words. For screws and the belt.</param>
public sealed record HandTask(
    string Kind,
    string Ask,
    IReadOnlyList<(string Id, string Words)> Things,
    IReadOnlyList<(string Id, string Words)> Places
);

/// <summary>What came of it.</summary>
/// <param name="Wrong">What was wrong, in a sentence; empty where nothing was.</param>
/// <param name="Minutes">Minutes it takes to put that right once it is closed and proved.</param>
/// <param name="Unsafe">Why the exercise ends with it; empty where it does not.</param>
public sealed record HandResult(string Wrong, double Minutes, string Unsafe = "");
