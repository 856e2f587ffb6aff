using System.Collections;
using System.Text.Json;

namespace Idrum.Core.Jobs;

/// <summary>What a JSON reader lets through although no rule could read it: fields and list entries that are null.</summary>
public static class EventShape
{
    /// <summary>Name of a field that is null or holds a null, in camel case; empty where all is there.</summary>
    public static string MissingField(JobEvent e) => Missing(e);

    private static string Missing(object record)
    {
        foreach (var property in record.GetType().GetProperties())
        {
            var value = property.GetValue(record);
            var missing = value switch
            {
                null => !property.PropertyType.IsValueType,
                IReadOnlyDictionary<string, string> map => map.Values.Any(v => v is null),
                string => false,
                IEnumerable list => list.Cast<object?>().Any(v => v is null),
                MachineCard card => Missing(card).Length > 0,
                _ => false,
            };
            if (missing)
            {
                return JsonNamingPolicy.CamelCase.ConvertName(property.Name);
            }
        }
        return "";
    }
}
