using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;
using Idrum.Storage;

namespace Idrum.Web.Machines;

/// <summary>A message at its line of a layout's text.</summary>
/// <param name="Line">Line, from 1; 0 where it belongs to no line.</param>
/// <param name="Pointer">JSON pointer.</param>
/// <param name="Message">What is wrong.</param>
public sealed record LineError(int Line, string Pointer, string Message);

/// <summary>A layout file read on trial: what is wrong at which line, or the layout with its longest plan.</summary>
/// <param name="Layout">The layout; null where there are errors.</param>
/// <param name="Errors">All errors.</param>
/// <param name="Plan">The way to everything that wears.</param>
public sealed record LayoutTrial(Layout? Layout, IReadOnlyList<LineError> Errors, TeardownPlan? Plan)
{
    /// <summary>Reads a text on trial; nothing is stored.</summary>
    /// <param name="text">The file's text.</param>
    /// <param name="shop">The shop, for parents and shipped ids.</param>
    /// <param name="intake">The rules.</param>
    /// <param name="own">The shop's own layouts.</param>
    /// <param name="stop">Stops the checks.</param>
    public static LayoutTrial Of(
        string text,
        ShopSnapshot shop,
        LayoutIntake intake,
        IReadOnlyList<OwnLayout> own,
        CancellationToken stop
    )
    {
        if (text.Trim().Length == 0)
        {
            return new(null, [new(0, "", "Choose a file, or paste its text.")], null);
        }
        try
        {
            var (layout, errors) = intake.Read(text, shop.ParentOf, stop);
            if (layout is not null && shop.FindLayout(layout.Id) is not null && own.All(o => o.LayoutId != layout.Id))
            {
                (errors, layout) = (
                    [
                        new(
                            "/id",
                            $"Idrum came with a layout '{layout.Id}', which is read-only. Give this one an id of its own."
                        ),
                    ],
                    null
                );
            }
            if (layout is null)
            {
                return new(
                    null,
                    [
                        .. errors
                            .Select(e => new LineError(JsonLines.LineOf(text, e.Pointer), e.Pointer, e.Message))
                            .OrderBy(e => e.Line),
                    ],
                    null
                );
            }
            var usual = new Dictionary<string, string>();
            var machine = layout.For(usual, usual);
            return new(
                layout,
                [],
                new TeardownPlanner(machine, TimeProvider.System).Plan(
                    new(
                        [.. machine.Parts.Where(p => p.Wears).Select(p => p.Id)],
                        [],
                        new Dictionary<string, OperationId>()
                    ),
                    stop
                )
            );
        }
        catch (JsonException e)
        {
            var fault = JsonText.Fault(e, "Not JSON: ");
            return new(null, [new(e.LineNumber is { } line ? (int)line + 1 : 0, fault.Pointer, fault.Message)], null);
        }
    }
}
