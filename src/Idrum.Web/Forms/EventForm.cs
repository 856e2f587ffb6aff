using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;

namespace Idrum.Web.Forms;

/// <summary>Reads a posted form as an event. Field names are those of the event's JSON: <c>outcome</c>,
/// <c>machine.place</c>,
/// <c>counts[deck]</c>; a repeated field is a list.</summary>
public static class EventForm
{
    private static readonly Dictionary<string, Type> Kinds = typeof(JobEvent)
        .GetCustomAttributes<System.Text.Json.Serialization.JsonDerivedTypeAttribute>()
        .ToDictionary(a => (string)a.TypeDiscriminator!, a => a.DerivedType);

    /// <summary>Reads the form.</summary>
    /// <returns>The event without id and time, or the errors by field.</returns>
    public static (JobEvent? Event, IReadOnlyList<FieldError> Errors) Read(IFormCollection form)
    {
        if (!Kinds.TryGetValue(form["kind"].ToString(), out var type))
        {
            return (null, [new("kind", "This act is not known.")]);
        }
        var errors = new List<FieldError>();
        var json = new JsonObject { ["kind"] = form["kind"].ToString() };
        Fill(json, type, "", form, errors);
        if (errors.Count > 0)
        {
            return (null, errors);
        }
        try
        {
            var read = json.Deserialize<JobEvent>(IdrumJson.Options)!;
            return EventShape.Check(read) is { Count: > 0 } misshapen ? (null, misshapen) : (read, []);
        }
        catch (JsonException e)
        {
            return (null, [new((e.Path ?? "").TrimStart('$', '.'), "This value is not understood.")]);
        }
        catch (InvalidOperationException)
        {
            // Half a character, which no JSON can hold.
            return (null, [new("", "This text holds signs that cannot be stored.")]);
        }
    }

    private static void Fill(JsonObject json, Type type, string prefix, IFormCollection form, List<FieldError> errors)
    {
        foreach (
            var property in type.GetProperties()
                .Where(p =>
                    p.CanWrite
                    && p.DeclaringType != typeof(JobEvent)
                    && p.PropertyType != typeof(CarryOver)
                    && !p.IsDefined(typeof(SaidByShopAttribute))
                )
        )
        {
            var name = property.GetCustomAttribute<System.Text.Json.Serialization.JsonPropertyNameAttribute>()?.Name
                ?? JsonNamingPolicy.CamelCase.ConvertName(property.Name);
            var field = prefix + name;
            if (property.PropertyType == typeof(MachineCard))
            {
                var card = new JsonObject();
                Fill(card, typeof(MachineCard), field + ".", form, errors);
                json[name] = card;
            }
            else if (Value(property.PropertyType, field, form, errors) is { } value)
            {
                json[name] = value;
            }
            else if (Nullable.GetUnderlyingType(property.PropertyType) is not null)
            {
                json[name] = null;
            }
        }
    }

    private static JsonNode? Value(Type type, string field, IFormCollection form, List<FieldError> errors)
    {
        var of = type.IsGenericType ? type.GetGenericArguments() : [];
        if (of is [var entry] && IsText(entry) && type.GetGenericTypeDefinition() == typeof(IReadOnlyList<>))
        {
            return new JsonArray([.. form[field].Where(v => !string.IsNullOrEmpty(v)).Select(v => (JsonNode?)v)]);
        }
        if (of is [_, var told] && (IsText(told) || told == typeof(int)))
        {
            var map = new JsonObject();
            foreach (
                var key in form.Keys.Where(k =>
                    k.StartsWith(field + "[", StringComparison.Ordinal)
                    && k.EndsWith(']')
                    && k.Length > field.Length + 2
                )
            )
            {
                var text = form[key].ToString();
                if (IsText(told))
                {
                    if (text.Length > 0)
                    {
                        map[key[(field.Length + 1)..^1]] = text;
                    }
                }
                else if (Number(text, field, errors, true) is { } n)
                {
                    map[key[(field.Length + 1)..^1]] = (int)n;
                }
            }
            return map;
        }
        var plain = Nullable.GetUnderlyingType(type) ?? type;
        var value = form[field].ToString().Trim();
        if (plain == typeof(int) || plain == typeof(double))
        {
            return Nullable.GetUnderlyingType(type) is not null && value.Length == 0 ? null
                : Number(value, field, errors, plain == typeof(int)) is not { } n ? null
                : plain == typeof(int) ? (int)n
                : n;
        }
        return plain == typeof(bool) ? value == "true" : value;
    }

    private static bool IsText(Type type) =>
        type == typeof(string) || type.IsGenericType && type.GetGenericTypeDefinition() == typeof(Id<>);

    private static double? Number(string text, string field, List<FieldError> errors, bool whole)
    {
        if (TypedNumber.Read(text) is { } n && (!whole || n == Math.Floor(n) && Math.Abs(n) < 1e6))
        {
            return n;
        }
        errors.Add(new(field, whole ? "A whole number is needed here." : "A number is needed here."));
        return null;
    }
}
