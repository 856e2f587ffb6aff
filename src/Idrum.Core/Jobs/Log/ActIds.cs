namespace Idrum.Core.Jobs.Log;

/// <summary>Ids of several acts that were said at once: the same however often they are sent, and known to each other by
/// all but their last byte.</summary>
public static class ActIds
{
    /// <summary>The id of an act beside the one that was given.</summary>
    /// <param name="said">The id given.</param>
    /// <param name="place">0: that one; from 1 on the others, up to 255.</param>
    public static Guid Beside(Guid said, int place)
    {
        var bytes = said.ToByteArray();
        bytes[^1] ^= (byte)place;
        return new(bytes);
    }

    /// <summary>Whether two acts were said at once.</summary>
    public static bool Together(Guid one, Guid other) =>
        one.ToByteArray().AsSpan(0, 15).SequenceEqual(other.ToByteArray().AsSpan(0, 15));
}
