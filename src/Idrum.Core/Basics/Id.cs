using System.Diagnostics.CodeAnalysis;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Basics;

/// <summary>An id, whatever it names.</summary>
internal interface IId
{
    /// <summary>As files write it; empty where none is meant.</summary>
    string Value { get; }
}

/// <summary>What one <typeparamref name="T"/> is called in files and in the log. Text becomes an id and an id text by
/// itself, but an id of one kind never one of another: where an operation is meant, no part can be given. No
/// <c>struct</c>, so that what a search did not find is null, and the compiler asks for it.</summary>
/// <typeparam name="T">What it names.</typeparam>
/// <param name="Value">As files write it; empty where none is meant.</param>
/// <remarks>Compared letter by letter, never by a language. As JSON it is the text.</remarks>
[JsonConverter(typeof(IdConverter))]
public sealed record Id<T>(string Value) : IId, IComparable<Id<T>>
{
    // Ids are keys of dictionaries before all else; worked out at its first use, 0 until then.
    private int hash;

    /// <summary>Whether none is meant.</summary>
    public bool IsNone => Value.Length == 0;

    /// <summary>The id a text writes.</summary>
    [return: NotNullIfNotNull(nameof(value))]
    public static implicit operator Id<T>?(string? value) => value is null ? null : new(value);

    /// <summary>As files write it.</summary>
    [return: NotNullIfNotNull(nameof(id))]
    public static implicit operator string?(Id<T>? id) => id?.Value;

    /// <summary>The id a text writes.</summary>
    public static bool operator ==(Id<T>? a, string? b) => a?.Value == b;

    /// <summary>Not the id a text writes.</summary>
    public static bool operator !=(Id<T>? a, string? b) => a?.Value != b;

    /// <summary>The id a text writes.</summary>
    public static bool operator ==(string? a, Id<T>? b) => a == b?.Value;

    /// <summary>Not the id a text writes.</summary>
    public static bool operator !=(string? a, Id<T>? b) => a != b?.Value;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <(Id<T> a, Id<T> b) => a.CompareTo(b) < 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >(Id<T> a, Id<T> b) => a.CompareTo(b) > 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <=(Id<T> a, Id<T> b) => a.CompareTo(b) <= 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >=(Id<T> a, Id<T> b) => a.CompareTo(b) >= 0;

    /// <inheritdoc />
    public int CompareTo(Id<T>? other) => string.CompareOrdinal(Value, other?.Value);

    /// <inheritdoc />
    public bool Equals(Id<T>? other) =>
        ReferenceEquals(this, other) || other is not null && string.Equals(Value, other.Value);

    /// <inheritdoc />
    public override int GetHashCode() => hash != 0 ? hash : hash = Value.GetHashCode(StringComparison.Ordinal);

    /// <inheritdoc />
    public override string ToString() => Value;
}

/// <summary>Reads and writes ids of every kind as the texts they are.</summary>
internal sealed class IdConverter : JsonConverterFactory
{
    public override bool CanConvert(Type typeToConvert) => typeof(IId).IsAssignableFrom(typeToConvert);

    public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
        (JsonConverter)Activator.CreateInstance(typeof(Of<>).MakeGenericType(typeToConvert.GetGenericArguments()[0]))!;

    private sealed class Of<T>()
        : WrittenConverter<Id<T>>(text => new(text), id => id.Value, "An id is written as a text.");
}
