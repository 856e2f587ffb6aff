using System.Text.Json.Serialization;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>An operation, or one refit step of it. Files write <c>operation</c> or <c>operation/step</c>.</summary>
/// <param name="Operation">Id of the operation.</param>
/// <param name="Step">Id of the step; empty where the operation as a whole is meant.</param>
[JsonConverter(typeof(Converter))]
public readonly record struct StepRef(OperationId Operation, string Step = "") : IComparable<StepRef>
{
    /// <summary>Whether the operation as a whole is meant.</summary>
    public bool IsWhole => Step.Length == 0;

    /// <summary>Reads it as files write it. Whether a layout has such a step is another matter: <see
    /// cref="In"/>.</summary>
    /// <param name="text"><c>operation</c> or <c>operation/step</c>.</param>
    /// <returns>What stands before the first stroke, and what stands after it.</returns>
    public static StepRef Parse(string text) =>
        text.IndexOf('/', StringComparison.Ordinal) is >= 0 and var at ? new(text[..at], text[(at + 1)..]) : new(text);

    /// <summary>The refit step on a layout.</summary>
    /// <param name="layout">The layout.</param>
    /// <returns>The step; null where an operation as a whole is meant, and where the layout has no such step.</returns>
    public RefitStep? In(Layout layout) => IsWhole ? null : layout.FindOperation(Operation)?.FindStep(Step);

    /// <inheritdoc />
    public int CompareTo(StepRef other) =>
        string.CompareOrdinal(Operation, other.Operation) is not 0 and var first
            ? first
            : string.CompareOrdinal(Step, other.Step);

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <(StepRef a, StepRef b) => a.CompareTo(b) < 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >(StepRef a, StepRef b) => a.CompareTo(b) > 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <=(StepRef a, StepRef b) => a.CompareTo(b) <= 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >=(StepRef a, StepRef b) => a.CompareTo(b) >= 0;

    /// <summary>As files write it.</summary>
    public override string ToString() => IsWhole ? Operation : $"{Operation}/{Step}";

    private sealed class Converter()
        : WrittenConverter<StepRef>(Parse, s => s.ToString(), "A step is written operation/step.");
}
