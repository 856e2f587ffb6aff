using System.Buffers.Binary;
using Idrum.Core.Listening;

namespace Idrum.Core.Tests;

public class WavFileTests
{
    /// <summary>A WAV file written by hand, apart from the code under test.</summary>
    private static byte[] File(
        int code,
        int bits,
        int channels,
        int rate,
        float[] samples,
        bool extensible = false,
        bool odd = false
    )
    {
        using var stream = new MemoryStream();
        using var writer = new BinaryWriter(stream);
        var bytes = bits / 8;
        writer.Write("RIFF"u8);
        writer.Write(0);
        writer.Write("WAVE"u8);
        if (odd)
        {
            writer.Write("LIST"u8);
            writer.Write(3);
            writer.Write(new byte[] { 1, 2, 3, 0 });
        }
        writer.Write("fmt "u8);
        writer.Write(extensible ? 40 : 16);
        writer.Write((short)(extensible ? -2 : code));
        writer.Write((short)channels);
        writer.Write(rate);
        writer.Write(rate * channels * bytes);
        writer.Write((short)(channels * bytes));
        writer.Write((short)bits);
        if (extensible)
        {
            writer.Write((short)22);
            writer.Write((short)bits);
            writer.Write(0);
            writer.Write((short)code);
            writer.Write(new byte[14]);
        }
        writer.Write("data"u8);
        writer.Write(samples.Length * channels * bytes);
        foreach (var s in samples)
        {
            for (var c = 0; c < channels; c++)
            {
                switch (code, bits)
                {
                    case (3, 32):
                        writer.Write(s);
                        break;
                    case (3, 64):
                        writer.Write((double)s);
                        break;
                    case (1, 8):
                        writer.Write((byte)Math.Round(s * 127 + 128));
                        break;
                    case (1, 16):
                        writer.Write((short)Math.Round(s * 32767));
                        break;
                    case (1, 24):
                        var v = (int)Math.Round(s * 8388607);
                        writer.Write((byte)v);
                        writer.Write((byte)(v >> 8));
                        writer.Write((byte)(v >> 16));
                        break;
                    default:
                        writer.Write((int)Math.Round((double)s * int.MaxValue));
                        break;
                }
            }
        }
        return stream.ToArray();
    }

    private static float[] Tone(int count) => [.. Enumerable.Range(0, count).Select(i => 0.7f * MathF.Sin(0.37f * i))];

    [Theory]
    [InlineData(1, 8, 0.01)]
    [InlineData(1, 16, 1e-4)]
    [InlineData(1, 24, 1e-6)]
    [InlineData(1, 32, 1e-6)]
    [InlineData(3, 32, 1e-7)]
    [InlineData(3, 64, 1e-7)]
    public void Every_way_of_storing_is_read(int code, int bits, double off)
    {
        var tone = Tone(500);
        foreach (var channels in new[] { 1, 2, 5 })
        {
            foreach (var (extensible, odd) in new[] { (false, false), (true, false), (false, true) })
            {
                var (read, problem) = WavFile.Read(File(code, bits, channels, 44_100, tone, extensible, odd));
                Assert.Equal("", problem);
                Assert.Equal((44_100, 500), (read!.Rate, read.Samples.Length));
                Assert.All(tone.Zip(read.Samples), p => Assert.Equal(p.First, p.Second, off));
            }
        }
    }

    [Fact]
    public void What_is_written_is_read_again()
    {
        var tone = Tone(300);
        var again = WavFile.Read(WavFile.Write(new(16_000, tone))).Recording!;
        Assert.Equal(16_000, again.Rate);
        Assert.All(tone.Zip(again.Samples), p => Assert.Equal(p.First, p.Second, 1e-4));
    }

    [Fact]
    public void What_is_wrong_with_a_file_is_said()
    {
        void Says(string words, byte[] file)
        {
            var (read, problem) = WavFile.Read(file);
            Assert.Null(read);
            Assert.Contains(words, problem, StringComparison.Ordinal);
        }
        var good = File(1, 16, 1, 16_000, Tone(100));
        byte[] With(int at, byte value)
        {
            var copy = (byte[])good.Clone();
            copy[at] = value;
            return copy;
        }
        Says("empty", []);
        Says("no WAV", "not a sound at all"u8.ToArray());
        Says("0 channels", With(22, 0));
        Says("1 Hz", File(1, 16, 1, 1, Tone(100)));
        Says("192000 Hz", File(1, 16, 1, 192_000, Tone(100)));
        Says("packed", With(20, 85));
        Says("contradicts", With(32, 9));
        Says("no sound", good[..44]);
        Says("no sound", good[..40]);
        Says("no numbers", File(3, 32, 1, 16_000, [0.1f, float.NaN, 0.2f]));
        // One byte a sample at the lowest rate: an hour and a half.
        Says("longer than an hour", File(1, 8, 1, 8000, new float[8000 * 5400]));
    }

    [Fact]
    public void A_length_that_was_never_filled_in_or_lies_takes_what_is_there()
    {
        var good = File(1, 16, 1, 16_000, Tone(100));
        foreach (var (size, note) in new[] { (0u, false), (0xFFFFFFFFu, false), (2_000_000_000u, true) })
        {
            var file = (byte[])good.Clone();
            BinaryPrimitives.WriteUInt32LittleEndian(file.AsSpan(40), size);
            var (read, _) = WavFile.Read(file);
            Assert.Equal(100, read!.Samples.Length);
            Assert.Equal(note, read.Note.Length > 0);
        }
    }

    [Fact]
    public void Two_microphones_in_opposite_phase_do_not_cancel()
    {
        var left = File(1, 16, 2, 16_000, Tone(200));
        for (var i = 46; i + 1 < left.Length; i += 4)
        {
            BinaryPrimitives.WriteInt16LittleEndian(
                left.AsSpan(i),
                (short)-BinaryPrimitives.ReadInt16LittleEndian(left.AsSpan(i))
            );
        }
        Assert.True(WavFile.Read(left).Recording!.Samples.Max() > 0.6f);
    }

    [Fact]
    public void Ten_thousand_spoilt_headers_never_break_the_reader()
    {
        var random = new Random(21);
        var good = File(1, 16, 2, 44_100, Tone(50), true, true);
        var read = 0;
        for (var run = 0; run < 10_000; run++)
        {
            var file = (byte[])good.Clone();
            for (var k = random.Next(1, 8); k > 0; k--)
            {
                file[random.Next(file.Length)] = (byte)random.Next(256);
            }
            var (recording, problem) = WavFile.Read(file.AsSpan(0, random.Next(file.Length + 1)));
            Assert.NotEqual(recording is null, problem.Length == 0);
            read += recording is null ? 0 : 1;
        }
        Assert.InRange(read, 50, 9950);
    }
}
