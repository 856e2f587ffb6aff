using System.Globalization;

namespace Idrum.Core.Machines;

/// <summary>What a layout must keep beyond its schema: unique ids, no dangling or unknown id, refit steps that take everything once, times
/// that rise, solids within the machine.</summary>
public static class LayoutRules
{
    private static readonly string[] Views = ["door", "behind", "left", "right", "above", "slanting"];

    /// <summary>Checks a layout that fits the schema.</summary>
    /// <returns>All errors, empty where the layout is sound.</returns>
    public static IReadOnlyList<FieldError> Check(Layout layout, Vocabulary words)
    {
        var errors = new FieldErrors();
        errors.If(layout.Format != "idrum-layout" || layout.Version != Layout.FormatVersion, "/version", $"This is not an idrum-layout file of version {Layout.FormatVersion}.");
        errors.If(layout.Operations.Count > Layout.MostOperations, "/operations", $"{layout.Operations.Count} operations; a layout has {Layout.MostOperations} at most.");
        Unique(errors, "/facts", layout.Facts.Select(f => f.Id));
        Unique(errors, "/schools", layout.Schools.Select(s => s.Id));
        Unique(errors, "/parts", layout.Parts.Select(p => p.Id));
        Unique(errors, "/operations", layout.Operations.Select(o => o.Id));
        Unique(errors, "/ways", layout.Ways.Select(w => w.Id));
        Unique(errors, "/operations/*/fasteners", layout.Operations.SelectMany(o => o.Fasteners).Select(f => f.Id));
        Unique(errors, "/operations/*/plugs", layout.Operations.SelectMany(o => o.Plugs).Select(p => p.Id));
        Unique(errors, "/operations/*/notes", layout.Operations.SelectMany(o => o.Notes).Select(n => n.Id));
        Unique(errors, "/operations/*/refit/*/checks", layout.Operations.SelectMany(o => o.Refit).SelectMany(s => s.Checks).Select(c => c.Id));
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            Unique(errors, $"/operations/{i}/refit", layout.Operations[i].Refit.Select(s => s.Id));
        }
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        var tools = layout.Operations.SelectMany(o => o.Tools.Concat(o.Refit.SelectMany(s => s.Tools))).SelectMany(t => t.Any).Distinct().Count();
        errors.If(tools > Layout.MostTools, "/operations/*/tools", $"{tools} different tools; {Layout.MostTools} at most.");
        errors.If(layout.Operations.Sum(o => o.Steps.Count) > Layout.MostSteps, "/operations/*/refit", $"More than {Layout.MostSteps} refit steps.");
        CheckReferences(layout, errors);
        CheckConditions(layout, words, errors);
        CheckWords(layout, words, errors);
        CheckSteps(layout, errors);
        CheckWays(layout, errors);
        CheckSolids(layout, errors);
        return errors.All;
    }

    private static void Unique(FieldErrors errors, string pointer, IEnumerable<string> ids)
    {
        foreach (var g in ids.GroupBy(i => i).Where(g => g.Count() > 1))
        {
            errors.Add(pointer, $"The id '{g.Key}' stands {g.Count()} times; an id must be unique.");
        }
    }

    private static void CheckReferences(Layout layout, FieldErrors errors)
    {
        void Operation(string pointer, string id) => errors.If(layout.FindOperation(id) is null, pointer, $"There is no operation '{id}'.");
        void Part(string pointer, string id) => errors.If(layout.FindPart(id) is null, pointer, $"There is no part '{id}'.");
        void Step(string pointer, string id)
        {
            var slash = id.IndexOf('/', StringComparison.Ordinal);
            errors.If(slash < 0 || layout.FindOperation(id[..slash])?.FindStep(id[(slash + 1)..]) is null, pointer, $"There is no refit step '{id}' (operation/step).");
        }
        for (var i = 0; i < layout.Parts.Count; i++)
        {
            Groups($"/parts/{i}/seenAfter", layout.Parts[i].SeenAfter);
            if (layout.Parts[i].On is { Length: > 0 } on)
            {
                Part($"/parts/{i}/on", on);
                errors.If(layout.FindPart(on) is { On.Length: > 0 }, $"/parts/{i}/on", "What it sits on sits on something itself; name that.");
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
                errors.If(f.LeftIn > 0 && layout.FindOperation(f.LeftInTill) is null, at + "/leftInTill", "Name the operation at which the one left in comes out.");
                errors.If(f.LeftIn > 0 && f.LeftInTill == o.Id, at + "/leftInTill", "The one left in comes out at a later operation.");
                errors.If(f.LeftIn >= f.Count && f.LeftIn > 0, at + "/leftIn", "Fewer are left in than there are.");
                errors.If(f.LeftIn > 0 && f.LoosenOnly, at + "/leftIn", "What is only loosened stays in anyway.");
                errors.If(f.At.Count > 1 && f.At.Count != f.Count, at + "/at", "One place for each, or one for all.");
            }
            for (var k = 0; k < o.Refit.Count; k++)
            {
                var at = $"/operations/{i}/refit/{k}";
                Each(at + "/after", o.Refit[k].After, Step);
                Each(at + "/before", o.Refit[k].Before, Step);
                Each(at + "/stillOut", o.Refit[k].StillOut, Operation);
                errors.If(o.Refit[k].StillOut.Contains(o.Id), at + "/stillOut", "A step cannot ask its own operation to be out.");
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

        void Groups(string pointer, IReadOnlyList<IReadOnlyList<string>> groups)
        {
            for (var g = 0; g < groups.Count; g++)
            {
                Each($"{pointer}/{g}", groups[g], Operation);
            }
        }
        static void Each(string pointer, IReadOnlyList<string> ids, Action<string, string> check)
        {
            for (var k = 0; k < ids.Count; k++)
            {
                check($"{pointer}/{k}", ids[k]);
            }
        }
    }

    private static void CheckConditions(Layout layout, Vocabulary words, FieldErrors errors)
    {
        void When(string pointer, Condition? when)
        {
            foreach (var c in when?.Inside() ?? [])
            {
                var forms = new object?[] { c.Fact, c.School, c.All, c.Any, c.Not }.Count(f => f is not null);
                errors.If(forms != 1, pointer, "A condition is one of fact, school, all, any, not.");
                if (c.Fact is { } id)
                {
                    var fact = layout.Facts.FirstOrDefault(f => f.Id == id);
                    errors.If(fact is null, pointer, $"There is no fact '{id}'.");
                    errors.If(fact is not null && words.FindFact(id)?.Values.Any(v => v.Id == c.Is) == false, pointer, $"The fact '{id}' has no value '{c.Is}'.");
                }
                if (c.School is { } school)
                {
                    errors.If(layout.Schools.FirstOrDefault(s => s.Id == school)?.Options.Any(o => o.Id == c.Is) != true, pointer, $"There is no school '{school}' with the option '{c.Is}'.");
                }
            }
        }
        foreach (var (p, i) in layout.Parts.Select((p, i) => (p, i)))
        {
            When($"/parts/{i}/when", p.When);
        }
        foreach (var (s, i) in layout.Solids.Select((s, i) => (s, i)))
        {
            When($"/solids/{i}/when", s.When);
        }
        foreach (var (o, i) in layout.Operations.Select((o, i) => (o, i)))
        {
            When($"/operations/{i}/when", o.When);
            void All<T>(string name, IReadOnlyList<T> list, Func<T, Condition?> of)
            {
                for (var k = 0; k < list.Count; k++)
                {
                    When($"/operations/{i}/{name}/{k}/when", of(list[k]));
                }
            }
            All("fasteners", o.Fasteners, f => f.When);
            All("plugs", o.Plugs, p => p.When);
            All("tools", o.Tools, t => t.When);
            All("changes", o.Changes, c => c.When);
            All("refit", o.Refit, s => s.When);
            foreach (var (step, k) in o.Refit.Select((s, k) => (s, k)))
            {
                All($"refit/{k}/tools", step.Tools, t => t.When);
                All($"refit/{k}/changes", step.Changes, c => c.When);
            }
        }
        foreach (var (f, i) in layout.Facts.Select((f, i) => (f, i)))
        {
            var term = words.FindFact(f.Id);
            errors.If(term is null, $"/facts/{i}/id", $"There is no fact '{f.Id}'.");
            foreach (var value in term is null ? [] : (f.Values ?? []).Append(f.Value).Where(v => term.Values.All(x => x.Id != v)))
            {
                errors.Add($"/facts/{i}/value", $"The fact '{f.Id}' has no value '{value}'.");
            }
            errors.If(f.Values is { Count: > 0 } values && !values.Contains(f.Value), $"/facts/{i}/value", "The value is not among those met on this layout.");
        }
    }

    private static void CheckWords(Layout layout, Vocabulary words, FieldErrors errors)
    {
        var own = layout.Words ?? new();
        for (var i = 0; i < layout.Parts.Count; i++)
        {
            var kind = layout.Parts[i].Kind;
            errors.If(!words.HasPartKind(kind) && own.PartKinds.All(k => k.Id != kind), $"/parts/{i}/kind", $"There is no kind of part '{kind}'.");
        }
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            errors.If(o.Region.Length > 0 && words.Regions.All(r => r.Id != o.Region) && own.Regions.All(r => r.Id != o.Region), $"/operations/{i}/region", $"There is no region '{o.Region}'.");
            errors.If(!Views.Contains(o.View), $"/operations/{i}/view", $"There is no view '{o.View}'.");
            Tools($"/operations/{i}/tools", o.Tools);
            Hazards($"/operations/{i}/hazards", o.Hazards);
            foreach (var (step, k) in o.Refit.Select((s, k) => (s, k)))
            {
                errors.If(step.View.Length > 0 && !Views.Contains(step.View), $"/operations/{i}/refit/{k}/view", $"There is no view '{step.View}'.");
                Tools($"/operations/{i}/refit/{k}/tools", step.Tools);
                Hazards($"/operations/{i}/refit/{k}/hazards", step.Hazards);
            }
        }
        void Tools(string pointer, IReadOnlyList<ToolUse> tools)
        {
            foreach (var t in tools.SelectMany(t => t.Any).Where(t => !words.HasTool(t) && own.Tools.All(x => x.Id != t)))
            {
                errors.Add(pointer, $"There is no tool '{t}'.");
            }
        }
        void Hazards(string pointer, IReadOnlyList<string> hazards)
        {
            foreach (var h in hazards.Where(h => words.FindHazard(h) is null))
            {
                errors.Add(pointer, $"There is no hazard '{h}'.");
            }
        }
    }

    /// <summary>Times rise; of several refit steps each fastener group and plug goes back in exactly one.</summary>
    private static void CheckSteps(Layout layout, FieldErrors errors)
    {
        void Time(string pointer, Spread? time) => errors.If(
            time is { } t && !(t.Low >= 0 && t.Low <= t.Typical && t.Typical <= t.High && t.High <= 240), pointer, "Times must rise from low to high, none below 0 or above 240 minutes.");
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            Time($"/operations/{i}/minutes", o.Minutes);
            foreach (var (change, k) in o.Changes.Select((c, k) => (c, k)))
            {
                Time($"/operations/{i}/changes/{k}/minutes", change.Minutes);
            }
            for (var k = 0; k < o.Refit.Count; k++)
            {
                Time($"/operations/{i}/refit/{k}/minutes", o.Refit[k].Minutes);
                foreach (var id in o.Refit[k].Fasteners.Where(id => o.Removed.All(f => f.Id != id)))
                {
                    errors.Add($"/operations/{i}/refit/{k}/fasteners", $"No fasteners '{id}' come out at this operation.");
                }
                foreach (var id in o.Refit[k].Plugs.Where(id => o.Plugs.All(p => p.Id != id)))
                {
                    errors.Add($"/operations/{i}/refit/{k}/plugs", $"No plug '{id}' is parted at this operation.");
                }
            }
            if (o.Refit.Count < 2)
            {
                continue;
            }
            // Steps under conditions may share a group: one of them is there.
            var always = o.Refit.Where(s => s.When is null).ToList();
            foreach (var id in o.Removed.Select(f => f.Id).Where(id => o.Refit.All(s => !s.Fasteners.Contains(id)) || always.Count(s => s.Fasteners.Contains(id)) > 1))
            {
                errors.Add($"/operations/{i}/refit", $"The fasteners '{id}' must go back in exactly one of the steps.");
            }
            foreach (var id in o.Plugs.Select(p => p.Id).Where(id => o.Refit.All(s => !s.Plugs.Contains(id)) || always.Count(s => s.Plugs.Contains(id)) > 1))
            {
                errors.Add($"/operations/{i}/refit", $"The plug '{id}' must be joined in exactly one of the steps.");
            }
        }
    }

    private static void CheckWays(Layout layout, FieldErrors errors)
    {
        for (var i = 0; i < layout.Ways.Count; i++)
        {
            var options = layout.Ways[i].Options.ToHashSet();
            errors.If(options.Count < 2, $"/ways/{i}/options", "A way has at least two different options.");
            for (var k = 0; k < i; k++)
            {
                errors.If(layout.Ways[k].Options.ToHashSet().SetEquals(options), $"/ways/{i}/options", $"The same options as '{layout.Ways[k].Id}'.");
            }
        }
    }

    private static void CheckSolids(Layout layout, FieldErrors errors)
    {
        const double Over = 120;
        if (layout.Size.Count != 3)
        {
            errors.Add("/size", "Width, height and depth.");
            return;
        }
        for (var i = 0; i < layout.Solids.Count; i++)
        {
            var solid = layout.Solids[i];
            var at = $"/solids/{i}";
            var complete = solid.Shape switch
            {
                "box" => solid.At.Count == 3 && solid.Size.Count == 3 && solid.Size.All(v => v > 0),
                "cylinder" => solid.At.Count == 3 && solid.DiameterMm > 0 && solid.LengthMm > 0,
                "ring" or "tube" => solid.At.Count == 3 && solid.DiameterMm > solid.InnerMm && solid.InnerMm > 0 && solid.LengthMm > 0,
                "path" => solid.DiameterMm > 0 && (solid.Points.Count >= 2 && solid.Points.All(p => p.Count == 3) || solid.Points.Count == 0 && solid.At.Count == 3),
                _ => false,
            };
            errors.If(!complete, at, $"A {solid.Shape} lacks a measure: box at and size; cylinder at, diameterMm, lengthMm; ring and tube also innerMm; path diameterMm and points.");
            if (!complete || solid.Shape == "path" && solid.Points.Count == 0)
            {
                continue;
            }
            var (low, high) = solid.Bounds();
            errors.If(Enumerable.Range(0, 3).Any(k => low[k] < -Over || high[k] > layout.Size[k] + Over), at,
                string.Create(CultureInfo.InvariantCulture, $"Lies outside the machine's frame of {layout.Size[0]} × {layout.Size[1]} × {layout.Size[2]} mm."));
        }
        if (errors.All.Count > 0)
        {
            return;
        }
        for (var i = 0; i < layout.Apart.Count; i++)
        {
            var pair = layout.Apart[i];
            if (pair.Count == 2 && layout.Solids.Where(s => s.Part == pair[0] && s.Points.Count + s.At.Count > 0)
                .Any(a => layout.Solids.Where(s => s.Part == pair[1]).Any(b => Through(a, b))))
            {
                errors.Add($"/apart/{i}", $"'{pair[0]}' and '{pair[1]}' run through each other.");
            }
        }
    }

    /// <summary>Whether two solids share room: boxes by their corners, two round ones along the same axis by their distance, else by corners.</summary>
    private static bool Through(Solid a, Solid b)
    {
        var ((al, ah), (bl, bh)) = (a.Bounds(), b.Bounds());
        if (Enumerable.Range(0, 3).Any(k => ah[k] <= bl[k] || bh[k] <= al[k]))
        {
            return false;
        }
        if (a.Shape is "box" or "path" || b.Shape is "box" or "path" || a.Axis != b.Axis)
        {
            return true;
        }
        var across = Enumerable.Range(0, 3).Where(k => k != (a.Axis == "x" ? 0 : a.Axis == "y" ? 1 : 2)).ToArray();
        var apart = double.Hypot(a.At[across[0]] - b.At[across[0]], a.At[across[1]] - b.At[across[1]]);
        return apart < (a.DiameterMm + b.DiameterMm) / 2 && apart + a.DiameterMm / 2 > b.InnerMm / 2 && apart + b.DiameterMm / 2 > a.InnerMm / 2;
    }
}
