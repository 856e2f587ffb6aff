using Idrum.Core.Drive;

namespace Idrum.Core.Practice;

/// <summary>A short question whose right answer follows from a layout or the handbook.</summary>
/// <param name="Card">What it asks again as: kind, layout and matter.</param>
/// <param name="Kind">One of <see cref="Drill.Kinds"/>.</param>
/// <param name="Ask">The question.</param>
/// <param name="Choices">What may be answered.</param>
/// <param name="Right">Place of the right answer.</param>
/// <param name="Why">Why it is that.</param>
/// <param name="Sound">The fault whose sound is played; empty where none is.</param>
public sealed record DrillQuestion(
    string Card,
    string Kind,
    string Ask,
    IReadOnlyList<string> Choices,
    int Right,
    string Why,
    string Sound = ""
)
{
    /// <summary>The course of the belt that is drawn; empty where none is.</summary>
    public string Course { get; init; } = "";

    /// <summary>Whether it is drawn from behind.</summary>
    public bool Behind { get; init; }

    /// <summary>Keys of <see cref="Rehearsal"/>, one a choice, where the belt is laid by finger; empty where it is not.</summary>
    public IReadOnlyList<string> Ways { get; init; } = [];

    /// <summary>A mark on a photo of a job; null where the question is of something else.</summary>
    public (string Job, string PhotoId, double X, double Y)? Photo { get; init; }

    /// <summary>A gap read round the rim: clock angle, drum angle, degrees; mm. Empty where the question is of something else.</summary>
    public IReadOnlyList<(double ClockDeg, double DrumDeg, double Mm)> Gaps { get; init; } = [];
}
