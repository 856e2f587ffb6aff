using System.Net;
using System.Security.Cryptography;

namespace Idrum.Web.Devices;

/// <summary>An invitation to pair one device.</summary>
/// <param name="Code">Eight signs, shown and typed in two groups of four.</param>
/// <param name="Name">What the device will be called.</param>
/// <param name="Person">Whose it will be.</param>
/// <param name="Keeps">Whether it will keep the shop.</param>
/// <param name="Until">Until when it holds.</param>
public sealed record Invitation(string Code, string Name, string Person, bool Keeps, DateTimeOffset Until);

/// <summary>Codes for pairing: each for one device, once, for five minutes. Who guesses is slowed, and after a few
/// wrong tries no code that is out holds any more.</summary>
public sealed class PairingDesk(TimeProvider clock)
{
    /// <summary>How long a code holds.</summary>
    public static readonly TimeSpan Life = TimeSpan.FromMinutes(5);

    /// <summary>Wrong tries, by anyone, after which all codes that are out are withdrawn.</summary>
    public const int MostWrong = 5;

    private const string Signs = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ";
    private static readonly TimeSpan Forgotten = TimeSpan.FromMinutes(10);
    private readonly Lock gate = new();
    private readonly Dictionary<string, Invitation> invitations = new(StringComparer.Ordinal);
    private readonly Dictionary<IPAddress, (int Wrong, DateTimeOffset Last)> tries = [];
    private int wrongSince;

    /// <summary>Makes a code.</summary>
    public Invitation Invite(string name, string person, bool keeps)
    {
        var code = string.Concat(
            Enumerable.Range(0, 8).Select(_ => Signs[RandomNumberGenerator.GetInt32(Signs.Length)])
        );
        var invitation = new Invitation(code, name, person, keeps, clock.GetUtcNow() + Life);
        lock (gate)
        {
            wrongSince = 0;
            Sweep();
            invitations[code] = invitation;
        }
        return invitation;
    }

    /// <summary>Seconds this address must wait before its next try; 0 where it need not.</summary>
    public int WaitSeconds(IPAddress from)
    {
        lock (gate)
        {
            Sweep();
            return tries.TryGetValue(from, out var t) && t.Wrong >= 3
                ? Math.Max(
                    0,
                    (int)
                        Math.Ceiling(
                            (
                                t.Last.AddSeconds(Math.Min(300, 1 << Math.Min(t.Wrong, 9))) - clock.GetUtcNow()
                            ).TotalSeconds
                        )
                )
                : 0;
        }
    }

    /// <summary>Takes a code, which then holds no more; null where it does not hold.</summary>
    public Invitation? Take(string typed, IPAddress from)
    {
        var code = string.Concat(typed.ToUpperInvariant().Where(char.IsAsciiLetterOrDigit));
        lock (gate)
        {
            Sweep();
            if (invitations.Remove(code, out var invitation))
            {
                tries.Remove(from);
                return invitation;
            }
            tries[from] = (tries.GetValueOrDefault(from).Wrong + 1, clock.GetUtcNow());
            if (++wrongSince >= MostWrong)
            {
                invitations.Clear();
            }
            return null;
        }
    }

    private void Sweep()
    {
        var now = clock.GetUtcNow();
        foreach (var old in invitations.Values.Where(i => i.Until <= now || i.Until > now + Life).ToList())
        {
            invitations.Remove(old.Code);
        }
        foreach (var (address, _) in tries.Where(t => (now - t.Value.Last).Duration() > Forgotten).ToList())
        {
            tries.Remove(address);
        }
    }
}
