namespace Idrum.Core.Listening;

/// <summary>A recording, or what was felt, made ready to be drawn.</summary>
/// <param name="Spectrum">Envelope spectrum of the band in which the rhythm stands out most.</param>
/// <param name="Seconds">Times of the levels, s.</param>
/// <param name="Levels">Level in that band, any unit, not negative.</param>
/// <param name="Bands">Edges of all bands, Hz; empty of what was felt.</param>
/// <param name="Power">Power by band and time; empty of what was felt.</param>
public sealed record SoundTrace(
    EnvelopeSpectrum Spectrum,
    IReadOnlyList<double> Seconds,
    IReadOnlyList<double> Levels,
    IReadOnlyList<(double Low, double High)> Bands,
    float[][] Power
)
{
    /// <summary>Of a sound.</summary>
    /// <param name="recording">The sound.</param>
    /// <param name="source">The source in question; null for the band with the highest line of all.</param>
    /// <param name="scale">Speed against the usual.</param>
    /// <param name="stop">Ends the work.</param>
    public static SoundTrace Of(
        Recording recording,
        SoundSource? source,
        double scale,
        CancellationToken stop = default
    )
    {
        var envelopes = BandEnvelopes.Of(recording, stop);
        List<EnvelopeSpectrum> spectra = [.. envelopes.Power.Select(band => EnvelopeSpectrum.Of(band, envelopes.Rate))];
        var clearest = SoundAnalysis.Clearest(spectra, source, scale);
        var band = envelopes.Power[spectra.IndexOf(clearest)];
        return new(
            clearest,
            [.. band.Select((_, i) => i / envelopes.Rate)],
            [.. band.Select(p => Math.Sqrt(p))],
            envelopes.Bands,
            envelopes.Power
        );
    }

    /// <summary>Of what was felt: how strongly it shakes, all ways together.</summary>
    /// <param name="series">What was felt; without errors and good enough.</param>
    /// <param name="source">The source in question; null for the highest line of all.</param>
    /// <param name="scale">Speed against the usual.</param>
    /// <param name="stop">Ends the work.</param>
    public static SoundTrace Of(
        MotionSeries series,
        SoundSource? source,
        double scale,
        CancellationToken stop = default
    ) =>
        new(
            SoundAnalysis.Clearest(series.Spectra(stop), source, scale),
            [.. series.Seconds.Select(s => s - series.Seconds[0])],
            series.Shaking,
            [],
            []
        );
}
