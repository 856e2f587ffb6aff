using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Content;

/// <summary>A layout file that could not be used.</summary>
/// <param name="File">Its name.</param>
/// <param name="Errors">What is wrong.</param>
/// <param name="Text">What it holds.</param>
public sealed record SetAside(string File, IReadOnlyList<FieldError> Errors, string Text = "");

/// <summary>Reads a set of layout files that may extend one another: parents before variants, each once.</summary>
/// <param name="intake">The rules.</param>
/// <param name="files">File name → text.</param>
/// <param name="orders">Whether the orders of each are checked.</param>
/// <param name="elsewhere">Finds a parent that is not among the files, or a writing of one that is no longer the
/// present one.</param>
public sealed class LayoutFiles(
    LayoutIntake intake,
    IReadOnlyDictionary<string, string> files,
    Func<LayoutParent, ParentAnswer> elsewhere,
    bool orders = true
)
{
    private readonly Dictionary<string, (Layout? Layout, IReadOnlyList<FieldError> Errors)> read = [];
    private readonly List<string> inWork = [];

    /// <summary>Reads all.</summary>
    /// <returns>The sound layouts in the order of their file names, and the files set aside.</returns>
    public (IReadOnlyList<Layout> Layouts, IReadOnlyList<SetAside> Bad) Read()
    {
        var (layouts, bad) = (new List<Layout>(), new List<SetAside>());
        foreach (var name in files.Keys.Order(StringComparer.Ordinal))
        {
            var (layout, errors) = One(name);
            if (layout is { Id: var id } && layouts.Any(l => l.Id == id))
            {
                (layout, errors) = (null, [new("/id", $"Another file has the id '{id}' already.")]);
            }
            if (layout is null)
            {
                bad.Add(new(name, errors, files[name]));
            }
            else
            {
                layouts.Add(layout);
            }
        }
        return (layouts, bad);
    }

    private (Layout? Layout, IReadOnlyList<FieldError> Errors) One(string name)
    {
        if (read.TryGetValue(name, out var known))
        {
            return known;
        }
        inWork.Add(name);
        try
        {
            return read[name] = intake.Read(files[name], Parent, orders);
        }
        catch (JsonException e)
        {
            return read[name] = (null, [JsonText.Fault(e, "Not JSON: ")]);
        }
        finally
        {
            inWork.RemoveAt(inWork.Count - 1);
        }
    }

    private ParentAnswer Parent(LayoutParent parent)
    {
        if (files.Keys.FirstOrDefault(f => IdOf(files[f]) == parent.Id) is not { } name)
        {
            return elsewhere(parent);
        }
        if (inWork.Contains(name))
        {
            var circle = inWork.Skip(inWork.IndexOf(name)).Append(name).Select(f => $"'{IdOf(files[f])}'");
            return new(null, $"The parents run in a circle: {string.Join(" → ", circle)}.");
        }
        var (layout, _) = One(name);
        if (layout is null)
        {
            return elsewhere(parent) is { Layout: not null } kept
                ? kept
                : new(null, $"The parent '{parent.Id}' is not sound itself.");
        }
        return parent.Hash.Length == 0 || parent.Hash == Variants.HashOf(layout) ? new(layout)
            : elsewhere(parent) is { Layout: not null } old ? old
            : new(
                null,
                $"The parent '{parent.Id}' is no longer the one this variant was made from. Compare them, then pin its hash {Variants.HashOf(layout)}."
            );
    }

    private static string? IdOf(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32 });
            return
                document.RootElement.ValueKind == JsonValueKind.Object
                && document.RootElement.TryGetProperty("id", out var id)
                && id.ValueKind == JsonValueKind.String
                ? id.GetString()
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
