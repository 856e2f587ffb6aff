using System.Reflection;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests;

/// <summary>What an id names is part of its type.</summary>
public class IdTests
{
    private static readonly Dictionary<string, Type> Named = new(StringComparer.OrdinalIgnoreCase)
    {
        ["OperationId"] = typeof(Id<Operation>),
        ["OperationIds"] = typeof(Id<Operation>),
        ["PartId"] = typeof(Id<Part>),
        ["PartIds"] = typeof(Id<Part>),
        ["FaultId"] = typeof(Id<Fault>),
        ["FaultIds"] = typeof(Id<Fault>),
        ["TakesOff"] = typeof(Id<Part>),
        ["Targets"] = typeof(Id<Part>),
        ["WaysIn"] = typeof(Id<Operation>),
    };

    private static bool Holds(Type type, Type of) =>
        type == of || type.IsGenericType && type.GetGenericArguments().Any(a => Holds(a, of));

    [Fact]
    public void Whatever_is_called_an_id_of_an_operation_a_part_or_a_fault_is_of_that_type()
    {
        const BindingFlags All =
            BindingFlags.Public
            | BindingFlags.NonPublic
            | BindingFlags.Instance
            | BindingFlags.Static
            | BindingFlags.DeclaredOnly;
        var types = typeof(Layout).Assembly.GetTypes();
        var members = types
            .SelectMany(t => t.GetProperties(All).Select(p => (Where: t.Name, p.Name, Of: p.PropertyType)))
            .Concat(
                types.SelectMany(t =>
                    t.GetMethods(All)
                        .Cast<MethodBase>()
                        .Concat(t.GetConstructors(All))
                        .SelectMany(m =>
                            m.GetParameters()
                                .Select(p => (Where: $"{t.Name}.{m.Name}", Name: p.Name ?? "", Of: p.ParameterType))
                        )
                )
            )
            .Where(m => Named.ContainsKey(m.Name))
            .ToList();
        Assert.True(members.Count > 150, $"{members.Count}");
        Assert.Empty(
            members
                .Where(m => !Holds(m.Of.IsByRef ? m.Of.GetElementType()! : m.Of, Named[m.Name]))
                .Select(m => $"{m.Where}: {m.Name} is {m.Of}")
                .Distinct()
        );
    }

    [Fact]
    public void Nothing_makes_an_id_of_one_kind_of_one_of_another()
    {
        // The compiler takes one conversion at most, and these are all there are.
        var from = typeof(PartId)
            .GetMethods()
            .Where(m => m.Name is "op_Implicit" or "op_Explicit")
            .Select(m => (m.GetParameters()[0].ParameterType, m.ReturnType))
            .ToList();
        Assert.Equal(2, from.Count);
        Assert.Contains((typeof(string), typeof(PartId)), from);
        Assert.Contains((typeof(PartId), typeof(string)), from);
    }

    [Fact]
    public void Text_becomes_an_id_and_an_id_text_and_nothing_stays_nothing()
    {
        PartId belt = "belt";
        string text = belt;
        Assert.Equal("belt", text);
        Assert.True(belt == "belt" && "belt" == belt && belt != "felt" && belt == new PartId("be" + "lt"));
        Assert.Equal(belt.GetHashCode(), new PartId(string.Concat("be", "lt")).GetHashCode());
        PartId? none = (string?)null;
        Assert.Null(none);
        Assert.Null((string?)none);
        Assert.True(none == (string?)null && belt != (string?)null);
        Assert.True(new PartId("").IsNone);
        // Letter by letter: a capital before all small ones, a hyphen before them too.
        Assert.Equal<PartId>(["Z", "a-b", "ab"], new PartId[] { "ab", "Z", "a-b" }.Order());
    }

    [Theory]
    [InlineData("""{"a":"belt","of":{"front-off":["belt","idler"]}}""")]
    [InlineData("""{"a":null,"of":{}}""")]
    public void As_json_it_is_the_text_as_a_value_and_as_a_key(string json)
    {
        var read = JsonSerializer.Deserialize<Said>(json, IdrumJson.Options)!;
        Assert.Equal(json, JsonSerializer.Serialize(read, IdrumJson.Options));
    }

    [Theory]
    [InlineData("""{"a":7,"of":{}}""")]
    [InlineData("""{"a":["belt"],"of":{}}""")]
    [InlineData("""{"a":{"value":"belt"},"of":{}}""")]
    public void What_is_no_text_is_no_id(string json) =>
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<Said>(json, IdrumJson.Options));

    private sealed record Said(PartId? A, IReadOnlyDictionary<OperationId, IReadOnlyList<PartId>> Of);
}
