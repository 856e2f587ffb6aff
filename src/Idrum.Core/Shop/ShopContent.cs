using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Gauging;
using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Shop;

/// <summary>The texts of the content files.</summary>
/// <param name="LayoutSchema">layout.schema.json.</param>
/// <param name="Layouts">File name → text.</param>
/// <param name="Vocabulary">File name without ending → text.</param>
/// <param name="Faults">faults.json.</param>
/// <param name="Findings">findings.json.</param>
/// <param name="Handbook">handbook.json.</param>
public sealed record ShopContent(
    string LayoutSchema,
    IReadOnlyDictionary<string, string> Layouts,
    IReadOnlyDictionary<string, string> Vocabulary,
    string Faults,
    string Findings,
    string Handbook
)
{
    /// <summary>supplier.json; empty where there is none.</summary>
    public string Supplier { get; init; } = "";

    /// <summary>gauging.json; empty where there is none.</summary>
    public string Gauging { get; init; } = "";

    /// <summary>Reads and checks everything.</summary>
    /// <param name="clock">For the deadlines of plans.</param>
    /// <param name="orders">Whether the orders of the layouts are checked too. What ships is checked by the tests,
    /// machine by machine, and need not
    /// be at every start; what the shop adds is checked when it comes.</param>
    /// <exception cref="InvalidDataException">A file is not sound; the message names the file and the
    /// place.</exception>
    public (ShopSnapshot Shop, LayoutIntake Intake) Read(TimeProvider? clock = null, bool orders = true)
    {
        var words = new Vocabulary(
            Words<PartKind>("part-kinds"),
            Words<Term>("tools"),
            Words<Hazard>("hazards"),
            Words<FactTerm>("facts"),
            Words<Term>("regions")
        );
        Require("vocabulary", words.Check());
        var intake = new LayoutIntake(LayoutSchema, words, clock);
        var (layouts, bad) = new LayoutFiles(
            intake,
            Layouts,
            p => new(null, $"The parent '{p.Id}' is not here."),
            orders
        ).Read();
        foreach (var file in bad)
        {
            Require(file.File, file.Errors);
        }
        var faults = Read<FaultFile>("faults.json", Faults);
        var catalog = new DiagnosisCatalog(
            faults.Faults,
            Read<FindingFile>("findings.json", Findings).Findings,
            faults.Costs,
            faults.World
        )
        {
            Moves = faults.Moves,
        };
        Require("findings.json", catalog.Check(words));
        var handbook = Read<Handbook>("handbook.json", Handbook);
        Require("handbook.json", handbook.Check(words));
        if (Gauging.Length > 0)
        {
            handbook = handbook with { Gauging = Read<GaugingBook>("gauging.json", Gauging) };
            Require("gauging.json", handbook.Gauging.Check(words, id => catalog.FindFinding(id) is not null));
        }
        var supplier = Supplier.Length == 0 ? Supply.Supplier.None : Read<Supplier>("supplier.json", Supplier);
        Require("supplier.json", supplier.Check(id => layouts.FirstOrDefault(l => l.Id == id), words, handbook));
        return (new(layouts, catalog, handbook, words, clock) { Supplier = supplier }, intake);
    }

    private IReadOnlyList<T> Words<T>(string name) =>
        Read<IReadOnlyList<T>>(
            $"vocabulary/{name}.json",
            Vocabulary.TryGetValue(name, out var text)
                ? text
                : throw new InvalidDataException($"vocabulary/{name}.json is missing.")
        );

    private static T Read<T>(string name, string text)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(text, IdrumJson.Options)
                ?? throw new InvalidDataException($"{name} is empty.");
        }
        catch (JsonException e)
        {
            throw new InvalidDataException($"{name}, {e.Path}: {e.Message}", e);
        }
    }

    private static void Require(string name, IReadOnlyList<FieldError> errors)
    {
        if (errors.Count > 0)
        {
            throw new InvalidDataException(
                $"{name}: {string.Join(" | ", errors.Select(e => $"{e.Pointer} {e.Message}"))}"
            );
        }
    }

    private sealed record FaultFile(
        CostBasis Costs,
        WorldBasis World,
        IReadOnlyList<Fault> Faults,
        IReadOnlyList<FirstMoves> Moves
    );

    private sealed record FindingFile(IReadOnlyList<Finding> Findings);
}
