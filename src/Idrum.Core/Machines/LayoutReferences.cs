using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>No id of a layout dangles.</summary>
internal static class LayoutReferences
{
    internal static void Check(Layout layout, FieldErrors errors)
    {
        var operations = layout.Operations.Select(o => o.Id.Value).ToList();
        var parts = layout.Parts.Select(p => p.Id.Value).ToList();
        var steps = layout.Operations.SelectMany(o => o.Steps.Select(s => o.Id + "/" + s.Id)).ToList();
        void Operation(string pointer, OperationId id)
        {
            if (layout.FindOperation(id) is null)
            {
                errors.Add(pointer, $"There is no operation '{id}'.{Nearest.Hint(id, operations)}");
            }
        }
        void Part(string pointer, PartId id)
        {
            if (layout.FindPart(id) is null)
            {
                errors.Add(pointer, $"There is no part '{id}'.{Nearest.Hint(id, parts)}");
            }
        }
        void Step(string pointer, string id)
        {
            var slash = id.IndexOf('/', StringComparison.Ordinal);
            if (slash < 0 || layout.FindOperation(id[..slash])?.FindStep(id[(slash + 1)..]) is null)
            {
                errors.Add(pointer, $"There is no refit step '{id}' (operation/step).{Nearest.Hint(id, steps)}");
            }
        }
        for (var i = 0; i < layout.Parts.Count; i++)
        {
            Groups($"/parts/{i}/seenAfter", layout.Parts[i].SeenAfter);
            if (layout.Parts[i].On is { IsNone: false } on)
            {
                Part($"/parts/{i}/on", on);
                errors.If(
                    layout.FindPart(on) is { On.IsNone: false },
                    $"/parts/{i}/on",
                    "What it sits on sits on something itself; name that."
                );
            }
        }
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            Groups($"/operations/{i}/needs", o.Needs);
            Groups($"/operations/{i}/first", o.First);
            Each($"/operations/{i}/takesOff", o.TakesOff, Part);
            Each($"/operations/{i}/loosens", o.Loosens, Part);
            Each($"/operations/{i}/frees", o.Frees, Part);
            for (var k = 0; k < o.Fasteners.Count; k++)
            {
                var f = o.Fasteners[k];
                var at = $"/operations/{i}/fasteners/{k}";
                errors.If(
                    f.LeftIn > 0 && f.LeftInTill.IsNone,
                    at,
                    "Name the operation at which the one left in comes out (leftInTill)."
                );
                errors.If(
                    f.LeftIn > 0 && !f.LeftInTill.IsNone && layout.FindOperation(f.LeftInTill) is null,
                    at + "/leftInTill",
                    $"There is no operation '{f.LeftInTill}', at which the one left in comes out.{Nearest.Hint(f.LeftInTill, operations)}"
                );
                errors.If(
                    f.LeftIn > 0 && f.LeftInTill == o.Id,
                    at + "/leftInTill",
                    "The one left in comes out at a later operation."
                );
                errors.If(f.LeftIn >= f.Count && f.LeftIn > 0, at + "/leftIn", "Fewer are left in than there are.");
                errors.If(f.LeftIn > 0 && f.LoosenOnly, at + "/leftIn", "What is only loosened stays in anyway.");
                errors.If(f.At.Count > 1 && f.At.Count != f.Count, at + "/at", "One place for each, or one for all.");
                CheckLeftInAt(f, at + "/leftInAt", errors);
            }
            for (var k = 0; k < o.Refit.Count; k++)
            {
                var at = $"/operations/{i}/refit/{k}";
                Each(at + "/after", [.. o.Refit[k].After.Select(s => s.ToString())], Step);
                Each(at + "/before", [.. o.Refit[k].Before.Select(s => s.ToString())], Step);
                Each(at + "/stillOut", o.Refit[k].StillOut, Operation);
                CheckAtOnce(o, k, at + "/directlyAfter", errors);
                errors.If(
                    o.Refit[k].StillOut.Contains(o.Id),
                    at + "/stillOut",
                    "A step cannot ask its own operation to be out."
                );
                errors.If(o.Refit[k].Checks.Count == 0 && o.Refit[k].Do.Length == 0, at + "/do", "Say what to do.");
            }
        }
        for (var i = 0; i < layout.Ways.Count; i++)
        {
            Each($"/ways/{i}/options", layout.Ways[i].Options, Operation);
        }
        for (var i = 0; i < layout.NotMirrored.Count; i++)
        {
            Operation($"/notMirrored/{i}/operation", layout.NotMirrored[i].Operation);
            Operation($"/notMirrored/{i}/through", layout.NotMirrored[i].Through);
        }
        for (var i = 0; i < layout.Solids.Count; i++)
        {
            Part($"/solids/{i}/part", layout.Solids[i].Part);
        }
        for (var i = 0; i < layout.Apart.Count; i++)
        {
            Each($"/apart/{i}", layout.Apart[i], Part);
        }
        foreach (var (roller, i) in layout.Drive.Rollers.Select((r, i) => (r, i)))
        {
            Part($"/drive/rollers/{i}/part", roller.Part);
        }

        void Groups(string pointer, IReadOnlyList<IReadOnlyList<OperationId>> groups)
        {
            for (var g = 0; g < groups.Count; g++)
            {
                Each($"{pointer}/{g}", groups[g], Operation);
            }
        }
        static void Each<T>(string pointer, IReadOnlyList<T> ids, Action<string, T> check)
        {
            for (var k = 0; k < ids.Count; k++)
            {
                check($"{pointer}/{k}", ids[k]);
            }
        }
    }

    /// <summary>What follows another step at once follows one of its own operation, alone and without a circle, and needs no
    /// other tool than that.</summary>
    private static void CheckAtOnce(Operation operation, int at, string pointer, FieldErrors errors)
    {
        var step = operation.Refit[at];
        if (step.DirectlyAfter.Length == 0)
        {
            return;
        }
        if (operation.Refit.FirstOrDefault(s => s.Id == step.DirectlyAfter) is not { } leader)
        {
            errors.Add(
                pointer,
                $"'{operation.Id}' has no refit step '{step.DirectlyAfter}'; what follows at once follows a step of its own operation.{Nearest.Hint(step.DirectlyAfter, operation.Refit.Select(s => s.Id))}"
            );
            return;
        }
        var seen = new HashSet<string> { step.Id };
        for (var s = leader; s is not null; s = operation.Refit.FirstOrDefault(x => x.Id == s.DirectlyAfter))
        {
            if (!seen.Add(s.Id))
            {
                errors.Add(pointer, "These steps follow one another at once in a circle.");
                return;
            }
        }
        errors.If(
            leader.Tools.Count > 0
                && (
                    leader.Tools.Concat(step.Tools).Any(t => t.When is not null)
                    || !leader.Tools.Select(Said).Order().SequenceEqual(step.Tools.Select(Said).Order())
                ),
            pointer,
            $"'{step.DirectlyAfter}' takes tools that this step does not: between two steps at once no tool is changed."
        );

        static string Said(ToolUse use) => string.Join('|', use.Any);
    }

    /// <summary>Which of them stays in is told by its place in the list of places.</summary>
    private static void CheckLeftInAt(FastenerGroup group, string pointer, FieldErrors errors)
    {
        if (group.LeftInAt.Count == 0)
        {
            return;
        }
        errors.If(group.LeftInAt.Count != group.LeftIn, pointer, "As many places as stay in (leftIn).");
        errors.If(group.LeftInAt.Distinct().Count() != group.LeftInAt.Count, pointer, "A place stands twice.");
        for (var k = 0; k < group.LeftInAt.Count; k++)
        {
            errors.If(
                group.LeftInAt[k] < 0 || group.LeftInAt[k] >= group.At.Count,
                $"{pointer}/{k}",
                $"There is no such place: 'at' has {group.At.Count}, counted from 0."
            );
        }
    }
}
