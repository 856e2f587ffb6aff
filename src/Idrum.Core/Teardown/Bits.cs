using System.Numerics;
using System.Runtime.Intrinsics;

namespace Idrum.Core.Teardown;

/// <summary>A set of up to 512 small numbers (operations of a layout, or steps of a way back) as a value.</summary>
/// <param name="Words">Bits, the lowest first.</param>
public readonly record struct Bits(Vector512<ulong> Words)
{
    /// <summary>Most members.</summary>
    public const int Capacity = 512;

    /// <summary>The empty set.</summary>
    public static Bits None => default;

    /// <summary>The set of one number.</summary>
    public static Bits Of(int i) => new(Vector512<ulong>.Zero.WithElement(i >> 6, 1UL << i));

    /// <summary>The set of these numbers.</summary>
    public static Bits Of(IEnumerable<int> members) => members.Aggregate(None, (s, i) => s | Of(i));

    /// <summary>0 to <paramref name="n"/> − 1.</summary>
    public static Bits UpTo(int n) => Of(Enumerable.Range(0, n));

    /// <summary>Whether nothing is in it.</summary>
    public bool IsEmpty => Words == Vector512<ulong>.Zero;

    /// <summary>How many are in it.</summary>
    public int Count
    {
        get
        {
            var n = 0;
            for (var w = 0; w < 8; w++)
            {
                n += BitOperations.PopCount(Words.GetElement(w));
            }
            return n;
        }
    }

    /// <summary>Whether a number is in it.</summary>
    public bool Has(int i) => (Words.GetElement(i >> 6) >> i & 1) == 1;

    /// <summary>Whether the two have one in common.</summary>
    public bool Meets(Bits other) => (Words & other.Words) != Vector512<ulong>.Zero;

    /// <summary>Whether the other lies within this one.</summary>
    public bool Covers(Bits other) => (other.Words & ~Words) == Vector512<ulong>.Zero;

    /// <summary>With one more.</summary>
    public Bits With(int i) => this | Of(i);

    /// <summary>With one less.</summary>
    public Bits Without(int i) => this - Of(i);

    /// <summary>Union.</summary>
    public static Bits operator |(Bits a, Bits b) => new(a.Words | b.Words);

    /// <summary>Intersection.</summary>
    public static Bits operator &(Bits a, Bits b) => new(a.Words & b.Words);

    /// <summary>What is in the first and not in the second.</summary>
    public static Bits operator -(Bits a, Bits b) => new(a.Words & ~b.Words);

    /// <summary>Union; see the operator.</summary>
    public static Bits BitwiseOr(Bits left, Bits right) => left | right;

    /// <summary>Intersection; see the operator.</summary>
    public static Bits BitwiseAnd(Bits left, Bits right) => left & right;

    /// <summary>Difference; see the operator.</summary>
    public static Bits Subtract(Bits left, Bits right) => left - right;

    /// <summary>Its members, rising.</summary>
    public Members GetEnumerator() => new(Words);

    /// <summary>Its members as a list, rising.</summary>
    public List<int> ToList()
    {
        var list = new List<int>();
        foreach (var i in this)
        {
            list.Add(i);
        }
        return list;
    }

    /// <summary>Walks the members.</summary>
    public struct Members(Vector512<ulong> words)
    {
        private int word = -1;
        private ulong rest;

        /// <summary>The member.</summary>
        public int Current { get; private set; }

        /// <summary>Goes on to the next.</summary>
        public bool MoveNext()
        {
            while (rest == 0)
            {
                if (++word == 8)
                {
                    return false;
                }
                rest = words.GetElement(word);
            }
            Current = (word << 6) + BitOperations.TrailingZeroCount(rest);
            rest &= rest - 1;
            return true;
        }
    }
}
