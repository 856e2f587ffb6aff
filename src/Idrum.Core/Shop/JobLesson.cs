namespace Idrum.Core.Shop;

/// <summary>What a closed job teaches: what was said and seen, what was put right and whether that was it. Stored beside the log, so that
/// nobody reads all logs to learn.</summary>
/// <param name="Number">The job.</param>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Wear">Wear relative to ten years of average use.</param>
/// <param name="CallBackOf">The job it came back from; empty where it did not.</param>
/// <param name="ClosedAt">When it was closed.</param>
/// <param name="Answers">Finding id → outcome id; complaints that were told among them.</param>
/// <param name="Causes">Causes decided on, each with its decision.</param>
/// <param name="Proved">Whether every proof that was run came out right, and at least one was.</param>
public sealed record JobLesson(string Number, string LayoutId, double Wear, string CallBackOf, DateTimeOffset ClosedAt, IReadOnlyDictionary<string, string> Answers, IReadOnlyList<LessonCause> Causes, bool Proved)
{
    /// <summary>Minutes that steps took: operation id out, operation/step back.</summary>
    public IReadOnlyDictionary<string, double> Minutes { get; init; } = new Dictionary<string, double>();
}

/// <summary>A cause of a lesson.</summary>
/// <param name="FaultId">The fault; empty where parts were picked, or something handed over, without one.</param>
/// <param name="Decision">change, leave or hand-over.</param>
public sealed record LessonCause(string FaultId, string Decision);
