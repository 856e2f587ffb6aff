using Idrum.Core.Basics;
using Idrum.Core.Money;

namespace Idrum.Core.Machines;

/// <summary>What a layout must keep beyond its schema: unique ids, no dangling or unknown id, refit steps that take
/// everything once, times
/// that rise, solids within the machine.</summary>
public static class LayoutRules
{
    internal static readonly string[] Views = ["door", "behind", "left", "right", "above", "slanting"];

    /// <summary>What a layout says that version 2 did not know; empty where nothing.</summary>
    private static string Since3(Layout layout)
    {
        var (drive, t) = (layout.Drive, layout.Drive.Tensioner);
        return string.Join(
            ", ",
            new (string Name, bool Said)[]
            {
                ("article", layout.Parts.Any(p => p.Article.Length > 0)),
                ("drive.motor", drive.Motor is not null),
                ("drive.load", drive.Load is not null),
                ("drive.friction", drive.Friction is not null),
                ("drive.levers", drive.Levers is not null),
                ("drive.belt.stiffnessN", drive.Belt.StiffnessN is not null),
                ("drive.belt.grooveDeg", drive.Belt.GrooveDeg is not null),
                (
                    "drive.tensioner",
                    t.SpringOnArmMm is not null || t.SpringPreloadN > 0 || t.ArmKg is not null || t.IdlerFace.Length > 0
                ),
                ("frontLoad", layout.FrontLoad.Length > 0),
                ("glueWidthMm", layout.GlueWidthMm > 0),
                ("air", layout.Air is not null),
                ("directlyAfter", layout.Operations.Any(o => o.Refit.Any(s => s.DirectlyAfter.Length > 0))),
            }
                .Where(f => f.Said)
                .Select(f => f.Name)
        );
    }

    /// <summary>Checks a layout that fits the schema.</summary>
    /// <returns>All errors, empty where the layout is sound.</returns>
    public static IReadOnlyList<FieldError> Check(Layout layout, Vocabulary words)
    {
        var errors = new FieldErrors();
        errors.If(
            layout.Format != "idrum-layout" || layout.Version is < Layout.EarliestVersion or > Layout.FormatVersion,
            "/version",
            $"This is not an idrum-layout file of version {Layout.EarliestVersion} to {Layout.FormatVersion}."
        );
        if (layout.Version < 3 && Since3(layout) is { Length: > 0 } newer)
        {
            errors.Add("/version", $"{newer}: that is of version 3; say so, or an older Idrum misreads the file.");
        }
        errors.If(
            layout.Operations.Count > Layout.MostOperations,
            "/operations",
            $"{layout.Operations.Count} operations; a layout has {Layout.MostOperations} at most."
        );
        Unique(errors, "id", "/facts", layout.Facts.Select(f => f.Id));
        Unique(errors, "id", "/schools", layout.Schools.Select(s => s.Id));
        Unique(errors, "id", "/parts", layout.Parts.Select(p => p.Id.Value));
        Unique(errors, "id", "/operations", layout.Operations.Select(o => o.Id.Value));
        Unique(errors, "id", "/ways", layout.Ways.Select(w => w.Id));
        var ofOperations = layout.Operations.Select((o, i) => (o, At: $"/operations/{i}")).ToList();
        Unique(
            errors,
            "id",
            ofOperations.SelectMany(x => x.o.Fasteners.Select((f, k) => ($"{x.At}/fasteners/{k}/id", f.Id)))
        );
        Unique(errors, "id", ofOperations.SelectMany(x => x.o.Plugs.Select((p, k) => ($"{x.At}/plugs/{k}/id", p.Id))));
        Unique(errors, "id", ofOperations.SelectMany(x => x.o.Notes.Select((n, k) => ($"{x.At}/notes/{k}/id", n.Id))));
        Unique(
            errors,
            "id",
            ofOperations.SelectMany(x =>
                x.o.Refit.SelectMany((s, k) => s.Checks.Select((c, m) => ($"{x.At}/refit/{k}/checks/{m}/id", c.Id)))
            )
        );
        foreach (var (operation, at) in ofOperations)
        {
            Unique(errors, "id", at + "/refit", operation.Refit.Select(s => s.Id));
        }
        foreach (var (school, i) in layout.Schools.Select((s, i) => (s, i)))
        {
            Unique(errors, "option", $"/schools/{i}/options", school.Options.Select(o => o.Id));
        }
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        var tools = layout
            .Operations.SelectMany(o => o.Tools.Concat(o.Refit.SelectMany(s => s.Tools)))
            .SelectMany(t => t.Any)
            .Distinct()
            .Count();
        errors.If(
            tools > Layout.MostTools,
            "/operations/*/tools",
            $"{tools} different tools; {Layout.MostTools} at most."
        );
        errors.If(
            layout.Operations.Sum(o => o.Steps.Count) > Layout.MostSteps,
            "/operations/*/refit",
            $"More than {Layout.MostSteps} refit steps."
        );
        LayoutReferences.Check(layout, errors);
        LayoutConditions.Check(layout, words, errors);
        LayoutWords.Check(layout, words, errors);
        CheckWays(layout, errors);
        LayoutSolids.Check(layout, errors);
        if (errors.All.Count == 0)
        {
            LayoutSteps.Check(layout, words, errors);
        }
        return errors.All;
    }

    private static void Unique(FieldErrors errors, string what, string list, IEnumerable<string> ids) =>
        Unique(errors, what, ids.Select((id, i) => ($"{list}/{i}/id", id)));

    /// <summary>Each id stands once; the second is told at its own place.</summary>
    private static void Unique(FieldErrors errors, string what, IEnumerable<(string Pointer, string Id)> ids)
    {
        foreach (var doubled in ids.GroupBy(i => i.Id).Where(g => g.Count() > 1))
        {
            foreach (var (pointer, id) in doubled.Skip(1))
            {
                errors.Add(
                    pointer,
                    $"The {what} '{id}' stands {doubled.Count()} times, first at {doubled.First().Pointer}; {(what == "id" ? "an id must be unique" : "each must be another")}."
                );
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
                errors.If(
                    layout.Ways[k].Options.ToHashSet().SetEquals(options),
                    $"/ways/{i}/options",
                    $"The same options as '{layout.Ways[k].Id}'."
                );
            }
        }
    }
}
