using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>The usual changes of a layout, made one at a time: a step's words, times, screws and plugs, a step out or
/// in, a fact. The result
/// is as sound or unsound as the change; who takes it in checks it.</summary>
public static class LayoutEdit
{
    /// <summary>With one operation written anew.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="operation">The operation; its id must be there.</param>
    public static Layout With(Layout layout, Operation operation) =>
        layout with
        {
            Operations = [.. layout.Operations.Select(o => o.Id == operation.Id ? operation : o)],
        };

    /// <summary>With one fact set, or added.</summary>
    public static Layout With(Layout layout, LayoutFact fact) =>
        layout with
        {
            Facts = layout.Facts.Any(f => f.Id == fact.Id)
                ? [.. layout.Facts.Select(f => f.Id == fact.Id ? fact : f)]
                : [.. layout.Facts, fact],
        };

    /// <summary>Without an operation: see <see cref="LayoutWithout"/>.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="operationId">The operation that this machine does not have.</param>
    public static Layout Without(Layout layout, OperationId operationId) =>
        LayoutWithout.Of(layout, new HashSet<OperationId> { operationId });

    /// <summary>With a plain operation put in before another: whatever needed what the other needs now goes through
    /// it.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="id">Id of the new operation.</param>
    /// <param name="name">Its name.</param>
    /// <param name="what">What to do.</param>
    /// <param name="before">The operation it stands in the way of.</param>
    /// <param name="minutes">Time out; as long in.</param>
    /// <returns>The layout; whether it is sound, who takes it in finds out.</returns>
    /// <exception cref="ArgumentException">The layout has no operation to come before.</exception>
    public static Layout WithStepBefore(
        Layout layout,
        string id,
        string name,
        string what,
        string before,
        Spread minutes
    )
    {
        var other = layout.FindOperation(before)
            ?? throw new ArgumentException($"There is no operation '{before}'.", nameof(before));
        var made = new Operation
        {
            Id = id,
            Name = name,
            Do = what,
            Needs = other.Needs,
            View = other.View,
            Region = other.Region,
            Minutes = minutes,
            Refit =
            [
                new()
                {
                    Id = RefitStep.WholeId,
                    Do = "Put back: " + name,
                    Minutes = minutes,
                },
            ],
        };
        return layout with
        {
            Operations =
            [
                .. layout.Operations.SelectMany(o =>
                    o.Id == before ? new[] { made, o with { Needs = [.. o.Needs, [id]] } } : [o]
                ),
            ],
        };
    }
}
