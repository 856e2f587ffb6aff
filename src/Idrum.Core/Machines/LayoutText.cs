using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>How a layout file is written: like every file of Idrum, but fields that say nothing (empty lists and texts,
/// what is not so)
/// are left out, as whoever writes one by hand leaves them out.</summary>
public static class LayoutText
{
    /// <summary>On one line.</summary>
    public static JsonSerializerOptions Options { get; } = Make(IdrumJson.Options);

    /// <summary>Indented for people.</summary>
    public static JsonSerializerOptions Indented { get; } = Make(IdrumJson.Indented);

    private static JsonSerializerOptions Make(JsonSerializerOptions like)
    {
        var options = new JsonSerializerOptions(like)
        {
            TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { LeaveOut } },
        };
        options.MakeReadOnly();
        return options;
    }

    private static void LeaveOut(JsonTypeInfo type)
    {
        // What is only worked out is not of the file.
        foreach (var derived in type.Properties.Where(p => p.Set is null && p.AssociatedParameter is null).ToList())
        {
            type.Properties.Remove(derived);
        }
        foreach (var property in type.Properties.Where(p => !p.IsRequired))
        {
            var empty = property.PropertyType.IsValueType ? Activator.CreateInstance(property.PropertyType) : null;
            property.ShouldSerialize = (owner, value) =>
                value switch
                {
                    null => false,
                    string s => s.Length > 0 && !Default(owner, property.Name, s),
                    IId id => id.Value.Length > 0,
                    System.Collections.ICollection c => c.Count > 0,
                    _ => !value.Equals(empty) && !(value is 1 && owner is Part),
                };
        }
    }

    /// <summary>Words that are meant where nothing is said.</summary>
    private static bool Default(object owner, string property, string value) =>
        (owner, property, value) switch
        {
            (Operation, "view", "door") => true,
            (Part, "soldAs", "single") => true,
            (Solid, "axis", "z") => true,
            _ => false,
        };
}
