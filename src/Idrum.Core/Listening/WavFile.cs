using System.Buffers.Binary;

namespace Idrum.Core.Listening;

/// <summary>Sound as numbers: one channel, full scale ± 1.</summary>
/// <param name="Rate">Samples a second, Hz.</param>
/// <param name="Samples">The samples.</param>
/// <param name="Note">What was odd about the file and did no harm; empty where nothing was.</param>
public sealed record Recording(int Rate, float[] Samples, string Note = "")
{
    /// <summary>Its length, s.</summary>
    public double Seconds => (double)Samples.Length / Rate;
}

/// <summary>Reads and writes WAV files (RIFF WAVE): PCM of 8, 16, 24 and 32 bits and floats of 32 and 64, plain or
/// extensible, any number of channels.</summary>
public static class WavFile
{
    /// <summary>Largest file that is read, bytes.</summary>
    public const int MostBytes = 60 << 20;

    /// <summary>Longest recording, s.</summary>
    public const double MostSeconds = 3600;

    private const int LowestRate = 8000,
        HighestRate = 96_000,
        MostChannels = 64;

    /// <summary>Reads a file: its channels are averaged; where that would cancel them, the loudest is taken.</summary>
    /// <param name="file">The whole file.</param>
    /// <returns>The recording, or null and what is wrong with the file in a sentence.</returns>
    public static (Recording? Recording, string Problem) Read(ReadOnlySpan<byte> file)
    {
        if (file.Length > MostBytes)
        {
            return (null, $"The file has {file.Length / 1e6:0} MB; {MostBytes / 1e6:0} MB are allowed.");
        }
        if (file.Length < 12 || !file[..4].SequenceEqual("RIFF"u8) || !file[8..12].SequenceEqual("WAVE"u8))
        {
            return (null, file.Length == 0 ? "The file is empty." : "This is no WAV file.");
        }
        Format? format = null;
        var note = "";
        for (var at = 12; at + 8 <= file.Length; )
        {
            var size = BinaryPrimitives.ReadUInt32LittleEndian(file[(at + 4)..]);
            var body = file[(at + 8)..];
            if (file.Slice(at, 4).SequenceEqual("fmt "u8))
            {
                (format, var problem) = FormatOf(body[..(int)Math.Min(size, (uint)body.Length)]);
                if (format is null)
                {
                    return (null, problem);
                }
            }
            else if (file.Slice(at, 4).SequenceEqual("data"u8))
            {
                if (format is null)
                {
                    return (null, "The WAV file does not say how its sound is stored before it begins.");
                }
                if (size > (uint)body.Length)
                {
                    // A recorder that was cut off leaves a length that was never filled in.
                    note =
                        size >= 0xFFFFFF00 || size == 0
                            ? ""
                            : "The file is shorter than it says; what is there was taken.";
                    size = (uint)body.Length;
                }
                return Decode(body[..(int)(size == 0 ? (uint)body.Length : size)], format, note);
            }
            var next = at + 8L + size + (size & 1);
            if (next > file.Length)
            {
                break;
            }
            at = (int)next;
        }
        return (null, "The WAV file holds no sound.");
    }

    /// <summary>Writes one channel as 16-bit PCM; what is louder than full scale is cut.</summary>
    /// <param name="recording">The sound.</param>
    public static byte[] Write(Recording recording)
    {
        var file = new byte[44 + recording.Samples.Length * 2];
        var to = file.AsSpan();
        Header(to, 1, 1, recording.Rate, 16, recording.Samples.Length * 2);
        for (var i = 0; i < recording.Samples.Length; i++)
        {
            // By the factor it is read with, so that what was read is written again bit for bit.
            var value = (short)Math.Clamp(MathF.Round(recording.Samples[i] * 32768), -32768, 32767);
            BinaryPrimitives.WriteInt16LittleEndian(to[(44 + 2 * i)..], value);
        }
        return file;
    }

    private static void Header(Span<byte> to, int code, int channels, int rate, int bits, int bytes)
    {
        "RIFF"u8.CopyTo(to);
        BinaryPrimitives.WriteInt32LittleEndian(to[4..], 36 + bytes);
        "WAVEfmt "u8.CopyTo(to[8..]);
        BinaryPrimitives.WriteInt32LittleEndian(to[16..], 16);
        BinaryPrimitives.WriteInt16LittleEndian(to[20..], (short)code);
        BinaryPrimitives.WriteInt16LittleEndian(to[22..], (short)channels);
        BinaryPrimitives.WriteInt32LittleEndian(to[24..], rate);
        BinaryPrimitives.WriteInt32LittleEndian(to[28..], rate * channels * bits / 8);
        BinaryPrimitives.WriteInt16LittleEndian(to[32..], (short)(channels * bits / 8));
        BinaryPrimitives.WriteInt16LittleEndian(to[34..], (short)bits);
        "data"u8.CopyTo(to[36..]);
        BinaryPrimitives.WriteInt32LittleEndian(to[40..], bytes);
    }

    private sealed record Format(bool Float, int Channels, int Rate, int Bytes);

    private static (Format?, string) FormatOf(ReadOnlySpan<byte> body)
    {
        if (body.Length < 16)
        {
            return (null, "The WAV file's description of its sound is cut off.");
        }
        var code = BinaryPrimitives.ReadUInt16LittleEndian(body);
        var channels = BinaryPrimitives.ReadUInt16LittleEndian(body[2..]);
        var rate = BinaryPrimitives.ReadUInt32LittleEndian(body[4..]);
        var block = BinaryPrimitives.ReadUInt16LittleEndian(body[12..]);
        var bits = BinaryPrimitives.ReadUInt16LittleEndian(body[14..]);
        if (code == 0xFFFE)
        {
            if (body.Length < 26)
            {
                return (null, "The WAV file's description of its sound is cut off.");
            }
            // The first two bytes of the sub-format are the code.
            code = BinaryPrimitives.ReadUInt16LittleEndian(body[24..]);
        }
        var bytes = (bits + 7) / 8;
        return code is not (1 or 3)
                ? (null, $"The sound is packed in a way (number {code}) that is not read: save it as plain WAV.")
            : channels is 0 or > MostChannels ? (null, $"The WAV file says it has {channels} channels.")
            : rate is < LowestRate or > HighestRate ? (null, $"The WAV file says {rate} Hz; 8,000 to 96,000 are read.")
            : code == 3 && bytes is not (4 or 8) || code == 1 && bytes is not (1 or 2 or 3 or 4)
                ? (null, $"The WAV file says {bits} bits a sample.")
            : block != channels * bytes ? (null, "The WAV file's description of its sound contradicts itself.")
            : (new(code == 3, channels, (int)rate, bytes), "");
    }

    private static (Recording?, string) Decode(ReadOnlySpan<byte> data, Format format, string note)
    {
        var frame = format.Channels * format.Bytes;
        var count = data.Length / frame;
        if (count == 0)
        {
            return (null, "The WAV file holds no sound.");
        }
        if ((double)count / format.Rate > MostSeconds)
        {
            return (null, $"The recording is longer than an hour ({(double)count / format.Rate / 3600:0.0} h).");
        }
        var mix = new float[count];
        Span<double> energy = stackalloc double[format.Channels];
        var together = 0.0;
        for (var i = 0; i < count; i++)
        {
            var sum = 0f;
            for (var c = 0; c < format.Channels; c++)
            {
                var value = Sample(data[(i * frame + c * format.Bytes)..], format);
                if (!float.IsFinite(value))
                {
                    return (null, "The WAV file holds values that are no numbers.");
                }
                energy[c] += (double)value * value;
                sum += value;
            }
            mix[i] = sum / format.Channels;
            together += (double)mix[i] * mix[i];
        }
        var loudest = 0;
        for (var c = 1; c < format.Channels; c++)
        {
            loudest = energy[c] > energy[loudest] ? c : loudest;
        }
        // Two microphones in opposite phase would cancel each other.
        if (together < 0.2 * energy[loudest])
        {
            for (var i = 0; i < count; i++)
            {
                mix[i] = Sample(data[(i * frame + loudest * format.Bytes)..], format);
            }
        }
        return (new(format.Rate, mix, note), "");
    }

    private static float Sample(ReadOnlySpan<byte> at, Format format) =>
        (format.Float, format.Bytes) switch
        {
            (true, 4) => BinaryPrimitives.ReadSingleLittleEndian(at),
            (true, _) => (float)BinaryPrimitives.ReadDoubleLittleEndian(at),
            (_, 1) => (at[0] - 128) / 128f,
            (_, 2) => BinaryPrimitives.ReadInt16LittleEndian(at) / 32768f,
            (_, 3) => ((at[0] << 8 | at[1] << 16 | at[2] << 24) >> 8) / 8388608f,
            _ => BinaryPrimitives.ReadInt32LittleEndian(at) / 2147483648f,
        };
}
