using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>Kinds, tools, regions, hazards and views of a layout are known words.</summary>
internal static class LayoutWords
{
    internal static void Check(Layout layout, Vocabulary words, FieldErrors errors)
    {
        var own = layout.Words ?? new();
        Own("partKinds", own.PartKinds, words.PartKinds);
        Own("tools", own.Tools, words.Tools);
        Own("regions", own.Regions, words.Regions);
        for (var i = 0; i < layout.Parts.Count; i++)
        {
            var kind = layout.Parts[i].Kind;
            errors.If(
                !words.HasPartKind(kind) && own.PartKinds.All(k => k.Id != kind),
                $"/parts/{i}/kind",
                $"There is no kind of part '{kind}'.{Nearest.Hint(kind, words.PartKinds.Concat(own.PartKinds).Select(k => k.Id))}"
            );
        }
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            errors.If(
                o.Region.Length > 0
                    && words.Regions.All(r => r.Id != o.Region)
                    && own.Regions.All(r => r.Id != o.Region),
                $"/operations/{i}/region",
                $"There is no region '{o.Region}'.{Nearest.Hint(o.Region, words.Regions.Concat(own.Regions).Select(r => r.Id))}"
            );
            errors.If(
                !LayoutRules.Views.Contains(o.View),
                $"/operations/{i}/view",
                $"There is no view '{o.View}'.{Nearest.Hint(o.View, LayoutRules.Views)}"
            );
            for (var k = 0; k < o.SeenFrom.Count; k++)
            {
                errors.If(
                    !LayoutRules.Views.Contains(o.SeenFrom[k].View),
                    $"/operations/{i}/seenFrom/{k}/view",
                    $"There is no view '{o.SeenFrom[k].View}'."
                );
                errors.If(
                    !o.Needs.Any(g => g.Contains(o.SeenFrom[k].Through)),
                    $"/operations/{i}/seenFrom/{k}/through",
                    $"'{o.SeenFrom[k].Through}' stands in no group of what is in the way.{Nearest.Hint(o.SeenFrom[k].Through, o.Needs.SelectMany(g => g, (_, id) => id.Value))}"
                );
            }
            for (var k = 0; k < o.Changes.Count; k++)
            {
                Hazards($"/operations/{i}/changes/{k}/hazards", o.Changes[k].Hazards);
            }
            Tools($"/operations/{i}/tools", o.Tools);
            Hazards($"/operations/{i}/hazards", o.Hazards);
            foreach (var (step, k) in o.Refit.Select((s, k) => (s, k)))
            {
                errors.If(
                    step.View.Length > 0 && !LayoutRules.Views.Contains(step.View),
                    $"/operations/{i}/refit/{k}/view",
                    $"There is no view '{step.View}'.{Nearest.Hint(step.View, LayoutRules.Views)}"
                );
                Tools($"/operations/{i}/refit/{k}/tools", step.Tools);
                Hazards($"/operations/{i}/refit/{k}/hazards", step.Hazards);
                for (var c = 0; c < step.Changes.Count; c++)
                {
                    Hazards($"/operations/{i}/refit/{k}/changes/{c}/hazards", step.Changes[c].Hazards);
                }
            }
        }
        void Tools(string pointer, IReadOnlyList<ToolUse> tools)
        {
            for (var i = 0; i < tools.Count; i++)
            {
                for (var k = 0; k < tools[i].Any.Count; k++)
                {
                    var t = tools[i].Any[k];
                    if (!words.HasTool(t) && own.Tools.All(x => x.Id != t))
                    {
                        errors.Add(
                            $"{pointer}/{i}",
                            $"There is no tool '{t}'.{Nearest.Hint(t, words.Tools.Concat(own.Tools).Select(x => x.Id))}"
                        );
                    }
                }
            }
        }
        void Hazards(string pointer, IReadOnlyList<string> hazards)
        {
            for (var i = 0; i < hazards.Count; i++)
            {
                errors.If(
                    words.FindHazard(hazards[i]) is null,
                    $"{pointer}/{i}",
                    $"There is no hazard '{hazards[i]}'.{Nearest.Hint(hazards[i], words.Hazards.Select(h => h.Id))}"
                );
            }
        }
        void Own(string name, IReadOnlyList<Term> mine, IReadOnlyList<Term> shipped)
        {
            for (var i = 0; i < mine.Count; i++)
            {
                errors.If(
                    shipped.Any(t => t.Id == mine[i].Id),
                    $"/words/{name}/{i}/id",
                    $"'{mine[i].Id}' is a shared word already; a layout cannot give it another meaning."
                );
                errors.If(
                    mine.Take(i).Any(t => t.Id == mine[i].Id),
                    $"/words/{name}/{i}/id",
                    $"The id '{mine[i].Id}' stands twice."
                );
            }
        }
    }
}
