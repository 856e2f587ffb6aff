using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

/// <summary>What a step's sentence names is in its picture: large enough, and not behind others.</summary>
public class StepPictureTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    /// <summary>Every step of the way to everything that wears, out and in, as the floor draws it.</summary>
    private static IEnumerable<(string Name, DrawingRequest Request)> Steps(string layoutId)
    {
        var machine = TestShop.Machine(layoutId);
        var layout = machine.Layout;
        var way = machine
            .Planner.Plan(
                new([.. layout.Parts.Where(p => p.Wears).Select(p => p.Id)], [], new Dictionary<string, OperationId>())
            )!
            .Removal;
        Dictionary<PartId, PartCondition> After(IEnumerable<Operation> done) =>
            new(PartStates.Of(JobState.Empty with { Out = [.. done.Select(o => o.Id)] }, layout));
        for (var k = 0; k < way.Count; k++)
        {
            var step = way[k];
            IReadOnlyList<PartId> focus =
            [
                .. step.TakesOff.Count + step.Loosens.Count > 0 ? step.TakesOff.Concat(step.Loosens) : step.Frees,
            ];
            yield return (
                $"{step.Id} out",
                new()
                {
                    Views = [step.View],
                    Conditions = After(way.Take(k)),
                    Focus = focus,
                    Step = step,
                    CloseUp = true,
                }
            );
            yield return (
                $"{step.Id} in",
                new()
                {
                    Views = [step.View],
                    Conditions = After(way.Take(k + 1)),
                    Focus = focus,
                    Exploded = step.TakesOff.Count > 0 ? [step] : [],
                    Step = step,
                    Inward = true,
                    CloseUp = true,
                }
            );
        }
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void What_a_step_names_is_in_its_picture_and_free(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var wrong = new List<string>();
        foreach (var (name, request) in Steps(layoutId))
        {
            var figures = StepFigures.Of(layout, request);
            foreach (var id in request.Focus.Where(id => layout.Solids.Any(s => s.Part == id)))
            {
                var part = layout.FindPart(id)!;
                // What sits on another part the step names is seen with that one.
                if (!request.Focus.Contains(part.On) && !figures.Any(f => Told(f, id, request.Focus)))
                {
                    wrong.Add($"{name}: {id}");
                }
            }
        }
        Assert.True(wrong.Count == 0, string.Join("\n", wrong));
    }

    private static bool Told(StepFigure figure, string partId, IReadOnlyCollection<PartId> named)
    {
        if (figure.Scene.Items.FirstOrDefault(i => i.Part.Id == partId) is not { } item)
        {
            return false;
        }
        var box = figure.Scene.BoxOf([item]);
        var frame = figure.Frame;
        var scale = Math.Min(165 / (frame.Right - frame.Left), 400 / (frame.Bottom - frame.Top));
        var (wide, high) = ((box.Right - box.Left) * scale, (box.Bottom - box.Top) * scale);
        var inside =
            box.Left >= frame.Left && box.Right <= frame.Right && box.Top >= frame.Top && box.Bottom <= frame.Bottom;
        return inside
            && Math.Max(wide, high) >= 12
            && figure.Scene.Sight(item, named, figure.Scene.Depth(frame, figure.Cut)).Free >= 0.6;
    }
}
