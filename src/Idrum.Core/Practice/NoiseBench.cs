using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using static Idrum.Core.Practice.NoiseSounds;

namespace Idrum.Core.Practice;

/// <summary>A machine's noise, made: a stand-in for machine and microphone. It knows what the analyser must find out,
/// and tells it nothing.</summary>
public static class NoiseBench
{
    /// <summary>Samples a second, Hz.</summary>
    public const int Rate = 32_000;

    /// <summary>Longest that is made, s.</summary>
    public const double MostSeconds = 1800;

    /// <summary>How long what begins later takes to be as loud as it gets, s.</summary>
    public const double GrowsSeconds = 20;

    /// <summary>How a fault is heard, and of which source.</summary>
    private static readonly Dictionary<FaultId, (Mechanism Mechanism, string Sound)> Heard = new()
    {
        ["roller-flat"] = (Mechanism.Roller, SoundWord.Thump),
        ["roller-dry"] = (Mechanism.Roller, SoundWord.Chirp),
        ["shaft-grooved"] = (Mechanism.Roller, SoundWord.Chirp),
        ["roller-seized"] = (Mechanism.Roller, SoundWord.Squeal),
        ["retainer-missing"] = (Mechanism.Roller, SoundWord.Rattle),
        ["idler-dry"] = (Mechanism.Idler, SoundWord.Chirp),
        ["idler-seized"] = (Mechanism.Idler, SoundWord.Squeal),
        ["idler-loose"] = (Mechanism.Idler, SoundWord.Rattle),
        ["track-debris"] = (Mechanism.Drum, SoundWord.Double),
        ["drum-lip"] = (Mechanism.Drum, SoundWord.Thump),
        ["baffle-loose"] = (Mechanism.Drum, SoundWord.Thump),
        ["hitch-loose"] = (Mechanism.Drum, SoundWord.Thump),
        ["rear-felt-folded"] = (Mechanism.Drum, SoundWord.Thump),
        ["rear-felt-worn"] = (Mechanism.Drum, SoundWord.Scrape),
        ["front-felt-worn"] = (Mechanism.Drum, SoundWord.Scrape),
        ["glides-worn"] = (Mechanism.Drum, SoundWord.Scrape),
        ["belt-worn"] = (Mechanism.BeltPass, SoundWord.Thump),
        ["belt-misrouted"] = (Mechanism.BeltPass, SoundWord.Thump),
        ["blower-loose"] = (Mechanism.Motor, SoundWord.Flutter),
        ["blower-broken"] = (Mechanism.Motor, SoundWord.Thump),
        ["motor-bearings"] = (Mechanism.Motor, SoundWord.Grind),
        ["motor-start"] = (Mechanism.Mains, SoundWord.Hum),
        ["capacitor-weak"] = (Mechanism.Mains, SoundWord.Hum),
    };

    /// <summary>Faults that can be heard on a machine.</summary>
    /// <param name="layout">The machine.</param>
    public static IReadOnlyList<FaultId> FaultsOf(Layout layout)
    {
        var mechanisms = SoundSource.Of(layout, 60).Select(s => s.Mechanism).ToHashSet();
        return [.. Heard.Where(h => mechanisms.Contains(h.Value.Mechanism)).Select(h => h.Key)];
    }

    /// <summary>The mechanism a fault sounds by.</summary>
    /// <exception cref="KeyNotFoundException">It makes no sound.</exception>
    public static Mechanism MechanismOf(FaultId faultId) => Heard[faultId].Mechanism;

    /// <summary>Makes the sound.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="order">What is to be heard; see <see cref="FaultsOf"/>.</param>
    /// <param name="stop">Ends the work.</param>
    /// <exception cref="ArgumentException">A fault that makes no sound on this machine, or a length out of
    /// range.</exception>
    public static Recording Render(Layout layout, NoiseOrder order, CancellationToken stop = default)
    {
        if (order.Faults.FirstOrDefault(f => !FaultsOf(layout).Contains(f)) is { } silent)
        {
            throw new ArgumentException($"'{silent}' makes no sound on this machine.", nameof(order));
        }
        if (!(order.Seconds is > 0 and <= MostSeconds))
        {
            throw new ArgumentException("A length above 0 and up to half an hour.", nameof(order));
        }
        var random = new Random(order.Seed);
        var n = (int)(order.Seconds * Rate);
        var turns = Turns(layout, order, random, n);
        var room = new NoiseRoom(random);
        var (faults, driven) = (new float[n], new float[n]);
        foreach (var fault in order.Faults)
        {
            stop.ThrowIfCancellationRequested();
            var one = FaultSound(layout, fault, order, random, turns, n);
            RunsDown(one, order, Heard[fault].Mechanism == Mechanism.Mains);
            var gain = NoisePlace.Gain(layout, order, fault) / Math.Max(Rms(one), 1e-9);
            Add(faults, one, gain);
            if (
                order.BeltOff
                && Heard[fault].Mechanism is Mechanism.Idler or Mechanism.Motor or Mechanism.BeltPass or Mechanism.Mains
            )
            {
                Add(driven, one, gain);
            }
        }
        var before = Rms(faults);
        stop.ThrowIfCancellationRequested();
        var rest = Background(layout, order, random, turns, n);
        faults = room.Heard(faults);
        rest = room.Heard(rest);
        var sound = new float[n];
        if (order.Faults.Count > 0)
        {
            // At a spot it is louder or quieter than where all is heard alike: there each fault is as loud as the others.
            var share = order.Spot.Length == 0 ? Rms(faults) : Rms(faults) / before * Math.Sqrt(order.Faults.Count);
            var loud = Math.Pow(10, (order.FaultDb ?? 0) / 20) / Math.Max(share, 1e-9);
            if (order.BeginsAt > 0)
            {
                for (var i = 0; i < n; i++)
                {
                    faults[i] *= (float)Math.Clamp(((double)i / Rate - order.BeginsAt) / GrowsSeconds, 0, 1);
                }
            }
            Add(sound, faults, loud);
            driven = [.. room.Heard(driven).Select(d => (float)(d * loud))];
        }
        if (order.FaultDb is not null || order.Faults.Count == 0)
        {
            Add(sound, rest, NoisePlace.OfMotor(layout, order) / Math.Max(Rms(rest), 1e-9));
        }
        // How near the phone is held and how it is set; at the four spots one phone, held nearly alike.
        var set = Math.Pow(10, (-34 + 16 * random.NextDouble()) / 20);
        var level = order.Spot.Length == 0 ? set / Math.Max(Rms(sound), 1e-9) : 0.5 * set * NoisePlace.Held(order);
        for (var i = 0; i < n; i++)
        {
            sound[i] = (float)Math.Clamp((sound[i] - driven[i]) * level + 2e-5 * (random.NextDouble() - 0.5), -1, 1);
        }
        return new(Rate, sound);
    }

    /// <summary>Faults that are felt through the cabinet: what strikes.</summary>
    public static IReadOnlyList<FaultId> FeltOf(Layout layout) =>
        [
            .. FaultsOf(layout)
                .Where(f =>
                    Heard[f].Sound is SoundWord.Thump or SoundWord.Double && Heard[f].Mechanism != Mechanism.Motor
                ),
        ];

    /// <summary>What a phone on the cabinet feels: some 60 readings a second at uneven times, rounded to 0.1 m/s² as
    /// browsers do.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="order">What is to be felt; see <see cref="FeltOf"/>. The fault's root mean square against the rest is
    /// 6 dB above <see cref="NoiseOrder.FaultDb"/>: the cabinet carries blows and little else.</param>
    /// <param name="stop">Ends the work.</param>
    /// <exception cref="ArgumentException">A fault that is not felt, or a length out of range.</exception>
    public static MotionSeries Shake(Layout layout, NoiseOrder order, CancellationToken stop = default)
    {
        if (order.Faults.FirstOrDefault(f => !FeltOf(layout).Contains(f)) is { } unfelt)
        {
            throw new ArgumentException($"'{unfelt}' is not felt on this machine.", nameof(order));
        }
        if (!(order.Seconds is > 0 and <= MostSeconds / 10))
        {
            throw new ArgumentException("A length above 0 and up to three minutes.", nameof(order));
        }
        var random = new Random(order.Seed);
        var n = (int)(order.Seconds * Rate);
        var turns = Turns(layout, order, random, n);
        var felt = new float[n];
        foreach (var fault in order.Faults)
        {
            stop.ThrowIfCancellationRequested();
            var (mechanism, sound) = Heard[fault];
            var sources = SoundSource
                .Of(layout, order.MainsHertz, order.DrumRpm)
                .Where(s => s.Mechanism == mechanism)
                .ToList();
            var one = new float[n];
            // A cabinet on its feet rocks at ten to twenty-five a second and stills within a tenth of a second.
            Knocks(
                one,
                turns,
                sources[random.Next(sources.Count)].PerDrumTurn ?? 1,
                sound == SoundWord.Double ? [0, Spacing(layout)] : [0],
                random,
                0.01,
                [.. Modes(random, 9, 26).Select(m => (m.Hz, m.Decay * 3, m.Share))]
            );
            Add(felt, one, 1 / Math.Max(Rms(one), 1e-9));
        }
        var strength = 0.25 * Math.Pow(10, ((order.FaultDb ?? 0) + 6) / 20) / Math.Max(Rms(felt), 1e-9);
        var (seconds, x, y, z) = (new List<double>(), new List<double>(), new List<double>(), new List<double>());
        var (lean, side) = (0.3 + 0.5 * random.NextDouble(), random.NextDouble());
        for (var at = 0.0; at < order.Seconds - 0.05; at += (1 / 60.0) * (1 + 0.15 * Gauss(random) * 0.5))
        {
            if (random.NextDouble() < 0.01)
            {
                // Now and then the page is busy.
                at += 0.05;
            }
            var i = Math.Clamp((int)(at * Rate), 0, n - 1);
            var (blow, sway) = (
                order.Faults.Count > 0 ? strength * felt[i] : 0,
                0.05 * Math.Sin(2 * Math.PI * turns[i])
            );
            if (seconds.Count > 0 && at <= seconds[^1])
            {
                continue;
            }
            seconds.Add(at);
            double Rounded(double a) => Math.Round(a * 10) / 10;
            x.Add(Rounded(lean * blow + sway + 0.12 * Gauss(random)));
            y.Add(Rounded(side * blow * 0.5 + 0.12 * Gauss(random)));
            z.Add(Rounded(9.81 + blow + 0.12 * Gauss(random)));
        }
        return new(seconds, x, y, z);
    }

    /// <summary>Speed against that before the door was opened: 1, then down to 0 along a straight line.</summary>
    private static double Running(NoiseOrder order, int sample) =>
        order.OpensAt is { } opens ? Math.Clamp(1 - ((double)sample / Rate - opens) / order.RunDownSeconds, 0, 1) : 1;

    /// <summary>What turns is the quieter the slower it is; the hum of the mains is gone at once.</summary>
    private static void RunsDown(float[] sound, NoiseOrder order, bool atOnce)
    {
        if (order.OpensAt is null)
        {
            return;
        }
        for (var i = 0; i < sound.Length; i++)
        {
            var running = Running(order, i);
            sound[i] *= (float)(
                running >= 1 ? 1
                : atOnce ? 0
                : running * running
            );
        }
    }

    /// <summary>Turns of the drum since the beginning, by sample: its speed wanders slowly.</summary>
    private static double[] Turns(Layout layout, NoiseOrder order, Random random, int n)
    {
        var usual = DriveRates.Of(layout, order.MainsHertz, order.DrumRpm).DrumRpm / 60;
        var speed = order.DrumRpm is null ? usual * (0.94 + 0.12 * random.NextDouble()) : usual;
        var wander = order.ByHand ? 0.15 : 0.002 + 0.004 * random.NextDouble();
        if (order.ByHand)
        {
            speed *= 0.3;
        }
        var (period, phase) = (4 + 9 * random.NextDouble(), 6.28 * random.NextDouble());
        var turns = new double[n];
        var at = random.NextDouble();
        for (var i = 0; i < n; i++)
        {
            turns[i] = at;
            at += Running(order, i) * speed * (1 + wander * Math.Sin(2 * Math.PI * i / Rate / period + phase)) / Rate;
        }
        return turns;
    }

    private static float[] FaultSound(
        Layout layout,
        FaultId fault,
        NoiseOrder order,
        Random random,
        double[] turns,
        int n
    )
    {
        var (mechanism, sound) = Heard[fault];
        var sources = SoundSource
            .Of(layout, order.MainsHertz, order.DrumRpm)
            .Where(s => s.Mechanism == mechanism)
            .ToList();
        var ratio = sources[random.Next(sources.Count)].PerDrumTurn ?? 0;
        var to = new float[n];
        switch (sound)
        {
            case SoundWord.Thump:
                Knocks(
                    to,
                    turns,
                    ratio,
                    [0],
                    random,
                    mechanism == Mechanism.Roller ? 0.02 : 0.008,
                    Modes(random, 70, 420)
                );
                break;
            case SoundWord.Double:
                // Over the one roller, then over the other: some quarter turn apart.
                Knocks(to, turns, ratio, [0, Spacing(layout)], random, 0.008, Modes(random, 90, 600));
                break;
            case SoundWord.Rattle:
                Knocks(to, turns, ratio, [0, 0.31, 0.55], random, 0.06, Modes(random, 900, 4200));
                break;
            case SoundWord.Flutter:
                // A wheel loose on its shaft strikes once a turn.
                Knocks(to, turns, ratio, [0], random, 0.05, Modes(random, 600, 3000));
                break;
            case SoundWord.Chirp:
                Chirps(to, turns, ratio, random, order.Warmth);
                break;
            case SoundWord.Squeal:
                Squeal(to, turns, ratio, random, 0.1);
                break;
            case SoundWord.Scrape:
                Scrape(to, turns, ratio, random, 700, 4000, 0.85);
                break;
            case SoundWord.Grind:
                Scrape(to, turns, ratio, random, 300, 2600, 0.6);
                break;
            default:
                Hum(to, order.MainsHertz, random);
                break;
        }
        return to;
    }

    /// <summary>Angle between the two rollers that carry the drum, as a share of a turn.</summary>
    private static double Spacing(Layout layout)
    {
        var (rollers, drum) = (layout.Drive.Rollers, layout.Drive.Drum);
        if (rollers.Count < 2)
        {
            return 0.24;
        }
        double Angle(double x, double y) => Math.Atan2(y - drum.Y, x - drum.X) / (2 * Math.PI);
        var apart = Math.Abs(Angle(rollers[0].X, rollers[0].Y) - Angle(rollers[1].X, rollers[1].Y));
        return Math.Min(apart, 1 - apart);
    }

    /// <summary>All that a sound machine does: blower, motor, burner, the load that falls, zips, talk outside.</summary>
    private static float[] Background(Layout layout, NoiseOrder order, Random random, double[] turns, int n)
    {
        var to = new float[n];
        var motor = SoundSource.Of(layout, order.MainsHertz, order.DrumRpm).First(s => s.Mechanism == Mechanism.Motor);
        if (!order.ByHand)
        {
            var blower = new BandNoise(random, 120, 900 + 1500 * random.NextDouble());
            var rumble = new BandNoise(random, 40, 160);
            var (hum, beat) = (0.15 + 0.3 * random.NextDouble(), 0.03 + 0.05 * random.NextDouble());
            for (var i = 0; i < n; i++)
            {
                var running = Running(order, i);
                to[i] = (float)(
                    running
                        * running
                        * (
                            blower.Next() * (1 + beat * Math.Sin(2 * Math.PI * turns[i] * motor.PerDrumTurn!.Value))
                            + 0.7 * rumble.Next()
                        )
                    + (running < 1 ? 0 : hum * Math.Sin(2 * Math.PI * 2 * order.MainsHertz * i / Rate))
                );
            }
        }
        else
        {
            var still = new BandNoise(random, 60, 600);
            for (var i = 0; i < n; i++)
            {
                to[i] = (float)(0.4 * still.Next());
            }
        }
        if (order.OpensAt is not null)
        {
            // A room is never still.
            var still = new BandNoise(random, 60, 600);
            for (var i = 0; i < n; i++)
            {
                to[i] += (float)(0.02 * still.Next());
            }
        }
        if (order.Load > 0)
        {
            var soft = Modes(random, 50, 140);
            var sharp = Modes(random, 2000, 6000);
            for (var at = 0.0; at < order.Seconds; )
            {
                // It falls some twice a turn, never twice alike.
                at += 0.25 + 0.9 * random.NextDouble();
                if (at > order.OpensAt)
                {
                    break;
                }
                Strike(to, at, 3 * order.Load * (0.3 + random.NextDouble()), soft);
                if (random.NextDouble() < 0.5)
                {
                    Strike(to, at + 0.2 * random.NextDouble(), 1.2 * order.Load * random.NextDouble(), sharp);
                }
            }
        }
        return to;
    }
}
