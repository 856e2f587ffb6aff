using System.Collections;
using System.Reflection;
using System.Text.Json;
using Idrum.Core.Basics;

namespace Idrum.Core.Jobs.Log;

/// <summary>What holds for the fields of any event: nothing null where something must be, and every text and list
/// bounded.</summary>
public static class EventShape
{
    /// <summary>Most entries of a list or map.</summary>
    public const int MostEntries = 100;

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<PropertyInfo, bool> Nullable = new();

    private static readonly HashSet<string> Kinds =
    [
        .. typeof(JobEvent)
            .GetCustomAttributes<System.Text.Json.Serialization.JsonDerivedTypeAttribute>()
            .Select(a => (string)a.TypeDiscriminator!),
    ];

    /// <summary>Whether an act calls itself something this Idrum knows.</summary>
    internal static bool Knows(string kind) => Kinds.Contains(kind);

    /// <summary>Errors by field, in camel case.</summary>
    public static IReadOnlyList<FieldError> Check(JobEvent e)
    {
        var errors = new FieldErrors();
        Check(e, "", errors);
        return errors.All;
    }

    private static void Check(object record, string prefix, FieldErrors errors)
    {
        foreach (var property in record.GetType().GetProperties().Where(p => p.CanWrite))
        {
            var field =
                prefix
                + (
                    property.GetCustomAttribute<System.Text.Json.Serialization.JsonPropertyNameAttribute>()?.Name
                    ?? JsonNamingPolicy.CamelCase.ConvertName(property.Name)
                );
            switch (property.GetValue(record))
            {
                case null:
                    // Numbers and what is only said of the sending may be left out.
                    errors.If(!MayBeNull(property), field, "This field is missing.");
                    break;
                case string text:
                    Long(text, field, errors);
                    break;
                case IId id:
                    Long(id.Value, field, errors);
                    break;
                case IDictionary map:
                    Map(map, field, errors);
                    break;
                case IEnumerable list:
                    List(list, field, errors);
                    break;
                case MachineCard card:
                    Check(card, field + ".", errors);
                    break;
            }
        }
    }

    private static void Long(string text, string field, FieldErrors errors) =>
        errors.If(
            text.Length > FieldErrors.LongText,
            field,
            $"Too long: {text.Length} characters, {FieldErrors.LongText} at most."
        );

    private static bool MayBeNull(PropertyInfo property) =>
        property.PropertyType.IsValueType
        || Nullable.GetOrAdd(property, static p =>
            new NullabilityInfoContext().Create(p).WriteState == NullabilityState.Nullable
        );

    private static void List(IEnumerable list, string field, FieldErrors errors)
    {
        var n = 0;
        foreach (var entry in list)
        {
            var text = Text(entry);
            if (text is null or { Length: > FieldErrors.ShortText } || ++n > MostEntries)
            {
                errors.Add(
                    field,
                    text is null ? "Holds an empty entry."
                        : n > MostEntries ? $"More than {MostEntries} entries."
                        : "An entry is too long."
                );
                return;
            }
        }
    }

    /// <summary>Text of an entry; null where there is none, empty where it is no text.</summary>
    private static string? Text(object? entry) =>
        entry switch
        {
            null => null,
            string text => text,
            IId id => id.Value,
            _ => "",
        };

    private static void Map(IDictionary map, string field, FieldErrors errors)
    {
        var n = 0;
        foreach (DictionaryEntry entry in map)
        {
            var (key, value) = (Text(entry.Key)!, Text(entry.Value));
            if (
                value is null
                || key.Length > FieldErrors.ShortText
                || value.Length > FieldErrors.ShortText
                || ++n > MostEntries
            )
            {
                errors.Add(
                    field,
                    value is null ? "Holds an empty entry."
                        : n > MostEntries ? $"More than {MostEntries} entries."
                        : "An entry is too long."
                );
                return;
            }
        }
    }
}
