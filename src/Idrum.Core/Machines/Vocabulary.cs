using System.Text.RegularExpressions;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>A word of a vocabulary.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">Name in the trade's words.</param>
public record Term(string Id, string Name);

/// <summary>A kind of part.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">Name in the trade's words.</param>
/// <param name="Left">What may come of it where a bad one is left in; empty where nobody said.</param>
/// <param name="Does">What it does, in a sentence.</param>
/// <param name="Worn">How it wears and what that sounds and looks like.</param>
/// <param name="Guards">What it regulates or cuts out, in a sentence; empty where it does neither.</param>
public sealed record PartKind(
    string Id,
    string Name,
    string Left = "",
    string Does = "",
    string Worn = "",
    string Guards = ""
) : Term(Id, Name);

/// <summary>A hazard and its caution.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">The caution.</param>
/// <param name="Severity">caution or danger.</param>
public sealed record Hazard(string Id, string Text, string Severity);

/// <summary>Something that can be seen of or asked about a machine.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Question">The question.</param>
/// <param name="Where">Where to look.</param>
/// <param name="Values">Its possible answers.</param>
/// <param name="Wrong">Share of people who answer it wrongly.</param>
/// <param name="Draw">A small drawing of where to look; null where there is none.</param>
/// <param name="Seconds">Seconds of looking from outside, without tools; 0 where it is seen only with the machine
/// open.</param>
/// <param name="Behind">Whether whoever looks must go behind the machine, or have it pulled out.</param>
public sealed record FactTerm(
    string Id,
    string Question,
    string Where,
    IReadOnlyList<FactValue> Values,
    double Wrong = 0.05,
    FactDrawing? Draw = null,
    double Seconds = 0,
    bool Behind = false
)
{
    /// <summary>Name of a value; the id where there is none such.</summary>
    public string NameOf(string valueId) => Values.FirstOrDefault(v => v.Id == valueId)?.Name ?? valueId;
}

/// <summary>One value of a fact.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">What is seen, in the trade's words.</param>
/// <param name="Draw">A small drawing of it; null where there is none.</param>
public sealed record FactValue(string Id, string Name, FactDrawing? Draw = null);

/// <summary>A small drawing on a sheet of 72 × 54: thin lines, and in copper what to look for.</summary>
/// <param name="Lines">Paths of the machine.</param>
/// <param name="Mark">Paths of what to look for.</param>
public sealed partial record FactDrawing(IReadOnlyList<string> Lines, IReadOnlyList<string> Mark)
{
    /// <summary>Whether every path is made of moves, lines, curves and arcs with plain numbers, and nothing
    /// else.</summary>
    public bool Sound => Lines.Concat(Mark).All(p => Path().IsMatch(p)) && Mark.Count > 0;

    [GeneratedRegex(@"\AM[MLHVCQAZmlhvcqaz0-9 .-]+\z")]
    private static partial Regex Path();
}

/// <summary>Ids that several files share, each listed once: one file a kind in <c>content/vocabulary</c>.</summary>
/// <param name="PartKinds">Kinds of part.</param>
/// <param name="Tools">Tools.</param>
/// <param name="Hazards">Hazards.</param>
/// <param name="Facts">Facts.</param>
/// <param name="Regions">Regions of a machine.</param>
public sealed record Vocabulary(
    IReadOnlyList<PartKind> PartKinds,
    IReadOnlyList<Term> Tools,
    IReadOnlyList<Hazard> Hazards,
    IReadOnlyList<FactTerm> Facts,
    IReadOnlyList<Term> Regions
)
{
    /// <summary>Whether there is such a kind of part.</summary>
    public bool HasPartKind(string id) => PartKinds.Any(k => k.Id == id);

    /// <summary>What may come of it where a bad part of a kind is left in.</summary>
    /// <param name="kind">Id of the kind.</param>
    /// <returns>A sentence.</returns>
    public string RiskOf(string kind) =>
        FindKind(kind) is { Left.Length: > 0 } known ? known.Left : "What was found goes on, and may get worse.";

    /// <summary>The kind of part of that id, or null.</summary>
    public PartKind? FindKind(string id) => PartKinds.FirstOrDefault(k => k.Id == id);

    /// <summary>Whether there is such a tool.</summary>
    public bool HasTool(string id) => Tools.Any(t => t.Id == id);

    /// <summary>The hazard of that id, or null.</summary>
    public Hazard? FindHazard(string id) => Hazards.FirstOrDefault(h => h.Id == id);

    /// <summary>The fact of that id, or null.</summary>
    public FactTerm? FindFact(string id) => Facts.FirstOrDefault(f => f.Id == id);

    /// <summary>Name of a tool; the id where it is not listed.</summary>
    public string ToolName(string id) => Tools.FirstOrDefault(t => t.Id == id)?.Name ?? id;

    /// <summary>What is wrong with a condition of a file that is no layout: unknown facts and values.</summary>
    public IEnumerable<string> Faults(Condition? when)
    {
        foreach (var c in when?.Inside().Where(c => c.Fact is not null) ?? [])
        {
            if (FindFact(c.Fact!) is not { } fact)
            {
                yield return $"There is no fact '{c.Fact}'.";
            }
            else if (fact.Values.All(v => v.Id != c.Is))
            {
                yield return $"The fact '{c.Fact}' has no value '{c.Is}'.";
            }
        }
    }

    /// <summary>Doubled ids.</summary>
    public IReadOnlyList<FieldError> Check()
    {
        (string File, IEnumerable<string> Ids)[] lists =
        [
            ("part-kinds", PartKinds.Select(k => k.Id)),
            ("tools", Tools.Select(t => t.Id)),
            ("hazards", Hazards.Select(h => h.Id)),
            ("facts", Facts.Select(f => f.Id)),
            ("regions", Regions.Select(r => r.Id)),
        ];
        return
        [
            .. lists.SelectMany(l =>
                l.Ids.GroupBy(i => i)
                    .Where(g => g.Count() > 1)
                    .Select(g => new FieldError("/" + l.File, $"'{g.Key}' stands twice."))
            ),
        ];
    }
}
