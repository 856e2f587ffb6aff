using System.Globalization;
using System.Text;
using System.Text.Json;
using Idrum.Core.Basics;

namespace Idrum.Core.Listening;

/// <summary>A series of motion as a file: JSON (<c>{"seconds":[…],"x":[…],"y":[…],"z":[…]}</c>) or a table of four columns
/// (CSV: commas, semicolons or tabs; with semicolons or tabs a decimal comma is taken), times in s, acceleration in
/// m/s².</summary>
public static class MotionFile
{
    /// <summary>Longest line of a table, characters.</summary>
    private const int LongestLine = 400;

    /// <summary>Reads a file.</summary>
    /// <param name="bytes">UTF-8.</param>
    /// <returns>The series, or what is wrong with the file in a sentence.</returns>
    public static (MotionSeries? Series, string Problem) Read(ReadOnlySpan<byte> bytes)
    {
        string text;
        try
        {
            text = new UTF8Encoding(false, true).GetString(bytes).TrimStart('\uFEFF').Trim();
        }
        catch (DecoderFallbackException)
        {
            return (null, "This is no text: a series of motion is JSON or CSV.");
        }
        var (series, problem) = text.StartsWith('{') ? OfJson(text) : OfTable(text);
        return series is null ? (null, problem)
            : series.Check() is [var first, ..] ? (null, $"{first.Pointer}: {first.Message}")
            : (series, "");
    }

    /// <summary>Writes it as JSON, as it is kept: what is read of it is written the same again.</summary>
    public static byte[] Write(MotionSeries series) =>
        JsonSerializer.SerializeToUtf8Bytes(new Kept(series.Seconds, series.X, series.Y, series.Z), IdrumJson.Options);

    /// <summary>Writes it as a table with a head.</summary>
    public static string Table(MotionSeries series)
    {
        var text = new StringBuilder("seconds,x,y,z\r\n");
        for (var i = 0; i < series.Seconds.Count; i++)
        {
            text.Append(
                CultureInfo.InvariantCulture,
                $"{series.Seconds[i]},{series.X[i]},{series.Y[i]},{series.Z[i]}\r\n"
            );
        }
        return text.ToString();
    }

    private static (MotionSeries?, string) OfJson(string text)
    {
        try
        {
            if (JsonText.Faults(text) is [var fault, ..])
            {
                return (null, $"{fault.Pointer.TrimStart('/')}: {fault.Message}");
            }
            return JsonSerializer.Deserialize<Kept>(text, IdrumJson.Reading) is { } kept
                ? (new(kept.Seconds, kept.X, kept.Y, kept.Z), "")
                : (null, "The file is empty.");
        }
        catch (JsonException)
        {
            return (null, "A series in JSON has the lists seconds, x, y and z, of numbers.");
        }
    }

    private static (MotionSeries?, string) OfTable(string text)
    {
        var lines = text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (lines.Length == 0)
        {
            return (null, "The file is empty.");
        }
        if (lines.Length > MotionSeries.Most + 1)
        {
            return (null, $"At most {MotionSeries.Most} readings.");
        }
        var mark =
            lines[0].Contains(';', StringComparison.Ordinal) ? ';'
            : lines[0].Contains('\t', StringComparison.Ordinal) ? '\t'
            : ',';
        var columns = new List<double>[] { [], [], [], [] };
        for (var n = 0; n < lines.Length; n++)
        {
            var cells = lines[n].Length > LongestLine ? [] : lines[n].Split(mark, StringSplitOptions.TrimEntries);
            if (cells.Length < 4)
            {
                return (null, $"Line {n + 1}: a line has four numbers, the time and x, y, z.");
            }
            for (var k = 0; k < 4; k++)
            {
                var cell = mark == ',' ? cells[k] : cells[k].Replace(',', '.');
                if (
                    double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
                    && double.IsFinite(number)
                )
                {
                    columns[k].Add(number);
                }
                else if (n > 0)
                {
                    return (null, $"Line {n + 1}: '{FieldErrors.Short(cells[k])}' is no number.");
                }
            }
            if (n == 0 && columns[0].Count is > 0 and < 4 && columns.Any(c => c.Count != columns[0].Count))
            {
                return (null, "Line 1: neither a head nor four numbers.");
            }
        }
        return columns.Any(c => c.Count != columns[0].Count)
            ? (null, "Line 1: neither a head nor four numbers.")
            : (new(columns[0], columns[1], columns[2], columns[3]), "");
    }

    private sealed record Kept(
        IReadOnlyList<double> Seconds,
        IReadOnlyList<double> X,
        IReadOnlyList<double> Y,
        IReadOnlyList<double> Z
    );
}
