using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>What a closed job teaches: what was said and seen, what was put right and whether that was it. Stored
/// beside the log, so that
/// nobody reads all logs to learn.</summary>
/// <param name="Number">The job.</param>
/// <param name="LayoutId">Its layout.</param>
/// <param name="Wear">Wear relative to ten years of average use.</param>
/// <param name="CallBackOf">The job it came back from; empty where it did not.</param>
/// <param name="ClosedAt">When it was closed.</param>
/// <param name="Answers">Finding id → outcome id; complaints that were told among them.</param>
/// <param name="Causes">Causes decided on, each with its decision.</param>
/// <param name="Proved">Whether every proof that was run came out right, and at least one was.</param>
public sealed record JobLesson(
    string Number,
    string LayoutId,
    double Wear,
    string CallBackOf,
    DateTimeOffset ClosedAt,
    IReadOnlyDictionary<string, string> Answers,
    IReadOnlyList<LessonCause> Causes,
    bool Proved
)
{
    /// <summary>Minutes that steps took: operations on the way out, their steps on the way back.</summary>
    public IReadOnlyDictionary<StepRef, double> Minutes { get; init; } = new Dictionary<StepRef, double>();

    /// <summary>Seized wheels: minutes each was tried, and whether it came off.</summary>
    public IReadOnlyList<WheelTried> Wheels { get; init; } = [];

    /// <summary>What was paid for articles that came.</summary>
    public IReadOnlyList<PaidPrice> Paid { get; init; } = [];
}

/// <summary>What was paid.</summary>
/// <param name="ArticleId">The supplier's number.</param>
/// <param name="Price">Price of one, in the shop's currency.</param>
/// <param name="At">When it came.</param>
/// <param name="Currency">The currency it was paid in.</param>
public sealed record PaidPrice(string ArticleId, double Price, DateTimeOffset At, string Currency);

/// <summary>A cause of a lesson.</summary>
/// <param name="FaultId">The fault; empty where parts were picked, or something handed over, without one.</param>
/// <param name="Decision">change, leave or hand-over.</param>
public sealed record LessonCause(FaultId FaultId, string Decision);

/// <summary>A seized wheel that was tried.</summary>
/// <param name="Minutes">For how long.</param>
/// <param name="Off">Whether it came off.</param>
public sealed record WheelTried(double Minutes, bool Off)
{
    /// <summary>What it is called among the readings of a job.</summary>
    public const string Reading = "Seized wheel tried";

    /// <summary>Unit of one that came off.</summary>
    public const string CameOff = "min, came off";

    /// <summary>Unit of one that did not.</summary>
    public const string Sat = "min, sits";
}
