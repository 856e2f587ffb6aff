using System.Text.Json;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>The texts of the content files.</summary>
/// <param name="LayoutSchema">layout.schema.json.</param>
/// <param name="Layouts">File name → text.</param>
/// <param name="Faults">faults.json.</param>
/// <param name="Findings">findings.json.</param>
/// <param name="Handbook">handbook.json.</param>
public sealed record ShopContent(string LayoutSchema, IReadOnlyDictionary<string, string> Layouts, string Faults, string Findings, string Handbook)
{
    /// <summary>Reads and checks everything.</summary>
    /// <exception cref="InvalidDataException">A file is not sound; the message names the file and the place.</exception>
    public async Task<(ShopKnowledge Shop, LayoutReader Reader)> ReadAsync()
    {
        var reader = await LayoutReader.FromSchemaAsync(LayoutSchema);
        var layouts = new List<Layout>();
        foreach (var (name, text) in Layouts.OrderBy(l => l.Key, StringComparer.Ordinal))
        {
            var (layout, errors) = reader.Read(text);
            Require(name, errors);
            layouts.Add(layout!);
        }
        var faults = Read<FaultFile>("faults.json", Faults);
        var catalog = new DiagnosisCatalog(faults.Faults, Read<FindingFile>("findings.json", Findings).Findings, faults.Costs);
        Require("findings.json", catalog.Check());
        return (new(layouts, catalog, Read<Handbook>("handbook.json", Handbook)), reader);
    }

    private static T Read<T>(string name, string text)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(text, IdrumJson.Options) ?? throw new InvalidDataException($"{name} is empty.");
        }
        catch (JsonException e)
        {
            throw new InvalidDataException($"{name}: {e.Message}", e);
        }
    }

    private static void Require(string name, IReadOnlyList<FieldError> errors)
    {
        if (errors.Count > 0)
        {
            throw new InvalidDataException($"{name}: {string.Join(" | ", errors.Select(e => $"{e.Pointer} {e.Message}"))}");
        }
    }

    private sealed record FaultFile(CostBasis Costs, IReadOnlyList<Fault> Faults);

    private sealed record FindingFile(IReadOnlyList<Finding> Findings);
}
