namespace Idrum.Core.Machines;

/// <summary>One piece of the stack a part sits in, as of a roller on its shaft.</summary>
/// <param name="Name">What it is.</param>
/// <param name="Draw">Its shape: one of those in the schema.</param>
/// <param name="Own">Whether it is the part itself.</param>
/// <param name="InBag">Whether a new one is in the bag of the single.</param>
public sealed record StackPiece(string Name, string Draw, bool Own = false, bool InBag = false);
