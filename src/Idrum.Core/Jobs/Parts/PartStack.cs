using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>What becomes of a piece of a stack when its part is changed.</summary>
public enum PieceFate
{
    /// <summary>It stays where it is.</summary>
    Stays,

    /// <summary>It comes off and goes on again: it is of the old part, or lies before it.</summary>
    GoesOn,

    /// <summary>A new one goes in: the part itself, or what its kit brings.</summary>
    New,

    /// <summary>It is left off: the kit makes it needless.</summary>
    Needless,
}

/// <summary>The stack a part sits in, from the outside in, with what becomes of each piece.</summary>
public static class PartStack
{
    /// <summary>Pieces in their order; those the kit puts in place of others stand after what they replace. Empty where
    /// the layout states none.</summary>
    /// <param name="part">The part.</param>
    /// <param name="bought">Articles that came for it.</param>
    public static IReadOnlyList<(StackPiece Piece, PieceFate Fate)> Of(Part part, IReadOnlyList<Article> bought)
    {
        var pieces = new List<(StackPiece, PieceFate)>();
        var replaced = bought.SelectMany(a => a.Replaces).ToList();
        var brought = bought.SelectMany(a => a.Brings).ToList();
        var before = true;
        foreach (var piece in part.Stack)
        {
            before &= !piece.Own;
            var goesOn = before && piece.Draw != "wall" || part.Transfer.Any(t => SmallParts.Same(t, piece.Name));
            pieces.Add(
                (
                    piece,
                    piece.Own || piece.InBag ? PieceFate.New
                    : replaced.Any(r => SmallParts.Same(r, piece.Name)) ? PieceFate.Needless
                    : brought.Any(b => SmallParts.Same(b, piece.Name)) ? PieceFate.New
                    : goesOn ? PieceFate.GoesOn
                    : PieceFate.Stays
                )
            );
            // Fibre washers in the place of the spring washer.
            foreach (
                var instead in bought
                    .Where(a => a.Replaces.Any(r => SmallParts.Same(r, piece.Name)))
                    .SelectMany(a => a.Brings)
                    .Where(b => !part.Stack.Any(p => SmallParts.Same(b, p.Name)))
                    .Distinct()
            )
            {
                pieces.Add((new(instead, piece.Draw == "spring-washer" ? "washer" : piece.Draw), PieceFate.New));
            }
        }
        return pieces;
    }
}
