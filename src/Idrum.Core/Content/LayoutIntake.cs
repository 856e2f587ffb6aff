using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Content;

/// <summary>Takes a layout file in: its form and ids, its drive, its orders.</summary>
public sealed class LayoutIntake
{
    private readonly LayoutReader reader;
    private readonly Vocabulary words;
    private readonly TimeProvider? clock;

    /// <summary>Makes one.</summary>
    /// <param name="schemaJson">Text of layout.schema.json.</param>
    /// <param name="words">Shared words; an unknown one is refused.</param>
    /// <param name="clock">For the deadline of the orders; without one there is none.</param>
    public LayoutIntake(string schemaJson, Vocabulary words, TimeProvider? clock = null)
    {
        this.words = words;
        this.clock = clock;
        reader = new(schemaJson, words);
    }

    /// <summary>Reads one layout.</summary>
    /// <param name="json">The file's text; must be JSON.</param>
    /// <param name="parents">Finds a variant's parent.</param>
    /// <returns>The layout where there are no errors, else null, with every error found.</returns>
    /// <exception cref="System.Text.Json.JsonException">The text is not JSON.</exception>
    /// <param name="cancellation">Stops the checks.</param>
    public (Layout? Layout, IReadOnlyList<FieldError> Errors) Read(
        string json,
        Func<LayoutParent, ParentAnswer>? parents = null,
        CancellationToken cancellation = default
    ) => Read(json, parents, true, cancellation);

    /// <summary>The same, with or without the orders on every machine its facts make; these cost a tenth of a second
    /// and more.</summary>
    /// <inheritdoc cref="Read(string, Func{LayoutParent, ParentAnswer}, CancellationToken)" />
    public (Layout? Layout, IReadOnlyList<FieldError> Errors) Read(
        string json,
        Func<LayoutParent, ParentAnswer>? parents,
        bool orders,
        CancellationToken cancellation = default
    )
    {
        var (layout, errors) = reader.Read(json, parents);
        if (layout is null)
        {
            return (null, First(errors));
        }
        errors =
        [
            .. DriveRules.Check(layout),
            .. orders ? TeardownRules.Check(layout, words, clock, cancellation) : [],
        ];
        return errors.Count == 0 ? (layout, errors) : (null, First(errors));
    }

    // Each is shown at its line, which is looked for in the text: of a file that is wrong throughout not all are.
    private const int MostTold = 200;

    private static IReadOnlyList<FieldError> First(IReadOnlyList<FieldError> errors) =>
        errors.Count <= MostTold
            ? errors
            : [.. errors.Take(MostTold), new("", $"And {errors.Count - MostTold} more like these.")];
}
