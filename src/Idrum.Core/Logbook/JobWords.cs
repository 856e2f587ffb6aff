using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Logbook;

/// <summary>By what a job is found in the logbook.</summary>
/// <param name="Body">Words: what was said, who and where, the machine, causes, parts, notes.</param>
/// <param name="Facts">What it is narrowed down by: <see cref="Fault"/>, <see cref="Part"/> (a kind), <see cref="Person"/>.</param>
public sealed record JobWords(string Body, IReadOnlyList<(string What, string Value)> Facts)
{
    /// <summary>A cause decided on.</summary>
    public const string Fault = "fault";

    /// <summary>Kind of a part changed.</summary>
    public const string Part = "part";

    /// <summary>Who did something in it.</summary>
    public const string Person = "person";

    private const int MostLetters = 20_000;

    /// <summary>Of a job.</summary>
    /// <param name="history">Its log.</param>
    /// <param name="layout">Its layout; null where the shop has none.</param>
    /// <param name="shop">Names of causes and findings.</param>
    public static JobWords Of(JobHistory history, Layout? layout, ShopSnapshot shop)
    {
        var s = history.State;
        var people = history.Log.Select(e => e.By).OfType<string>().Where(p => p.Length > 0).Distinct().ToList();
        var faults = s.Found.Where(f => !f.FaultId.IsNone).Select(f => f.FaultId).Distinct().ToList();
        var changed = s
            .Fitted.Values.Where(f => f.Action == FittedAs.Replaced)
            .Select(f => layout?.FindPart(f.PartId))
            .OfType<Part>()
            .ToList();
        var body = string.Join(
            '\n',
            new[]
            {
                s.Number,
                s.Machine.Place,
                s.Machine.Address,
                s.Machine.Telephone,
                s.Machine.Tag,
                s.Machine.LayoutId,
                layout?.Title,
                s.Words,
            }
                .Concat(s.Complaints.Select(c => shop.Catalog.FindFinding(c)?.Name))
                .Concat(faults.Select(f => shop.Catalog.FindFault(f)?.Name))
                .Concat(changed.Select(p => p.Name))
                .Concat(people)
                .Concat(s.Notes.Select(n => n.Text))
                .Concat(s.Problems.Select(p => p.Text))
                .Append(s.Closed?.Summary)
                .Where(t => !string.IsNullOrWhiteSpace(t))
                .Distinct()
        );
        return new(
            body.Length > MostLetters ? body[..MostLetters] : body,
            [
                .. faults.Select(f => (Fault, f)),
                .. changed.Select(p => p.Kind).Distinct().Select(k => (Part, k)),
                .. people.Select(p => (Person, p)),
            ]
        );
    }
}
