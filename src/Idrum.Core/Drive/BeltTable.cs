using System.Globalization;
using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>One belt or state against the layout's own.</summary>
/// <param name="Id">own, longer-5 …, stretched, rib-less, spring-weak, glazed.</param>
/// <param name="Name">In words.</param>
/// <param name="Run">By the model.</param>
public sealed record BeltVariant(string Id, string Name, DriveRun Run)
{
    /// <summary>Pull of a spring that has grown weak, against the layout's.</summary>
    public const double WeakSpring = 0.6;

    private static readonly int[] Steps = [5, 10, 20, -5, -10, -20];

    /// <summary>The layout's own belt, then what is met.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz.</param>
    public static IReadOnlyList<BeltVariant> Of(Layout layout, int hertz)
    {
        var (drive, own) = (layout.Drive, DriveCase.Of(layout.Drive));
        BeltVariant Made(string id, string name, DriveCase given) => new(id, name, DriveRun.Of(drive, given, hertz));
        return
        [
            Made("own", "Its own belt", own),
            Made(
                "stretched",
                "Its own, stretched 1.5 %",
                own with
                {
                    BeltMm = own.BeltMm * (1 + DriveRules.BeltStretch),
                }
            ),
            .. Steps.Select(mm =>
                Made(
                    mm > 0 ? $"longer-{mm}" : $"shorter-{-mm}",
                    mm > 0 ? $"{mm} mm longer" : $"{-mm} mm shorter",
                    own with
                    {
                        BeltMm = own.BeltMm + mm,
                    }
                )
            ),
            .. own.Ribs > 1 ? new[] { Made("rib-less", "A rib narrower", own with { Ribs = own.Ribs - 1 }) } : [],
            Made("spring-weak", "Spring weak, 60 % of its pull", own with { SpringFactor = WeakSpring }),
            Made("glazed", "Glazed", own with { FrictionFactor = DriveCase.Glazed }),
        ];
    }
}

/// <summary>Whether a belt in the hand is the right one, by what is printed on it or measured.</summary>
/// <param name="Right">Whether it is.</param>
/// <param name="Say">One sentence.</param>
/// <param name="Others">Layouts whose belt it would be.</param>
public sealed record BeltInHand(bool Right, string Say, IReadOnlyList<string> Others)
{
    // Ruler and flat tape, one length of belt.
    private const double LengthErrorMm = 3,
        WidthErrorMm = 0.8,
        ThicknessErrorMm = 0.6;

    /// <summary>Judges it.</summary>
    /// <param name="layout">The machine it is for.</param>
    /// <param name="all">All machines of the shop.</param>
    /// <param name="lengthMm">Its length, mm; null where nobody measured.</param>
    /// <param name="ribs">Its ribs.</param>
    /// <param name="widthMm">Its width, mm.</param>
    /// <param name="thicknessMm">Its thickness over the ribs, mm.</param>
    /// <param name="used">Whether it has run: it may then be up to 1.5 % longer than its number.</param>
    /// <param name="printed">Whether the length is the number printed on it.</param>
    public static BeltInHand Of(
        Layout layout,
        IReadOnlyList<Layout> all,
        double? lengthMm,
        double? ribs,
        double? widthMm,
        double? thicknessMm,
        bool used,
        bool printed
    )
    {
        var own = layout.Drive.Belt;
        string? Differs(BeltSpec belt)
        {
            var error = printed ? 0.5 : LengthErrorMm;
            var longest = belt.LengthMm * (used && !printed ? 1 + DriveRules.BeltStretch : 1) + error;
            return lengthMm is { } length && !(length >= belt.LengthMm - error && length <= longest)
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"{length:0} mm for {belt.LengthMm:0}: {Math.Abs(length - belt.LengthMm):0} mm {(length < belt.LengthMm ? "short" : "long")}"
                    )
                : ribs is { } n && n != belt.Ribs ? $"{n} ribs for {belt.Ribs}"
                : widthMm is { } w && Math.Abs(w - belt.WidthMm) > WidthErrorMm
                    ? string.Create(CultureInfo.InvariantCulture, $"{w:0.#} mm wide for {belt.WidthMm:0.#}")
                : thicknessMm is { } t && Math.Abs(t - belt.ThicknessMm) > ThicknessErrorMm
                    ? string.Create(CultureInfo.InvariantCulture, $"{t:0.#} mm thick for {belt.ThicknessMm:0.#}")
                : null;
        }
        var wrong = Differs(own);
        var others =
            wrong is null || lengthMm is null
                ? []
                : all.Where(l => l.Drive.Belt != own && Differs(l.Drive.Belt) is null).Select(l => l.Title).ToList();
        if (wrong is null)
        {
            return new(
                true,
                lengthMm is { } length && length > own.LengthMm + LengthErrorMm
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"The right one, run in: {(length / own.LengthMm - 1) * 100:0.0} % longer than its number."
                    )
                    : "The right one, as far as it was measured.",
                []
            );
        }
        return new(
            false,
            $"Not this machine's: {wrong}."
                + (others.Count > 0 ? $" It is that of {string.Join(" or ", others)}." : ""),
            others
        );
    }
}
