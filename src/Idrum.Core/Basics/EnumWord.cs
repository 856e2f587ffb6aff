using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Basics;

/// <summary>The words that files, addresses and pages write for the values of an <c>enum</c>.</summary>
/// <remarks>A value never goes into a text by itself: that would be its name in the code.</remarks>
public static class EnumWord
{
    /// <summary>The word of a value, as its JSON has it: <c>NothingFound</c> is <c>nothing-found</c>.</summary>
    /// <typeparam name="T">The set it is of.</typeparam>
    /// <param name="value">One of its values.</param>
    /// <exception cref="KeyNotFoundException">It is none of them.</exception>
    public static string Word<T>(this T value)
        where T : struct, Enum => Of<T>.Words[value];

    /// <summary>The value that a word names; null where it names none of this set. Letter by letter.</summary>
    /// <typeparam name="T">The set.</typeparam>
    /// <param name="word">What was written; may be null.</param>
    public static T? Read<T>(string? word)
        where T : struct, Enum => word is not null && Of<T>.Values.TryGetValue(word, out var value) ? value : null;

    /// <summary>All words of a set, in its order.</summary>
    /// <param name="set">The type of its values.</param>
    public static IReadOnlyList<string> All(Type set) =>
        [.. Enum.GetNames(set).Select(JsonNamingPolicy.KebabCaseLower.ConvertName)];

    private static class Of<T>
        where T : struct, Enum
    {
        internal static readonly Dictionary<T, string> Words = Enum.GetValues<T>()
            .ToDictionary(v => v, v => JsonNamingPolicy.KebabCaseLower.ConvertName(v.ToString()));

        internal static readonly Dictionary<string, T> Values = Words.ToDictionary(
            w => w.Value,
            w => w.Key,
            StringComparer.Ordinal
        );
    }

    /// <summary>Reads and writes them in JSON, as values and as keys.</summary>
    internal sealed class Converter : JsonConverterFactory
    {
        public override bool CanConvert(Type typeToConvert) => typeToConvert.IsEnum;

        public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
            (JsonConverter)Activator.CreateInstance(typeof(For<>).MakeGenericType(typeToConvert))!;

        private sealed class For<T>() : WrittenConverter<T>(Parse<T>, v => v.Word(), $"One of {Named<T>()}, as a text.")
            where T : struct, Enum;

        private static T Parse<T>(string text)
            where T : struct, Enum =>
            Read<T>(text) ?? throw new JsonException($"'{FieldErrors.Short(text)}' is none of {Named<T>()}.");

        private static string Named<T>()
            where T : struct, Enum => string.Join(", ", All(typeof(T)));
    }
}
