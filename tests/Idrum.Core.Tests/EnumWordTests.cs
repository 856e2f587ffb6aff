using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;

namespace Idrum.Core.Tests;

/// <summary>What code knows as values, files write as words.</summary>
public class EnumWordTests
{
    [Fact]
    public void Every_value_is_written_as_its_word_and_read_back_and_no_two_share_one()
    {
        var sets = typeof(Fault).Assembly.GetTypes().Where(t => t is { IsEnum: true, IsPublic: true }).ToList();
        Assert.True(sets.Count > 20);
        foreach (var set in sets)
        {
            var words = Enum.GetValues(set)
                .Cast<object>()
                .Select(v =>
                {
                    var text = JsonSerializer.Serialize(v, set, IdrumJson.Options);
                    Assert.Equal(v, JsonSerializer.Deserialize(text, set, IdrumJson.Options));
                    Assert.Matches("^\"[a-z]+(-[a-z]+)*\"$", text);
                    return text;
                })
                .ToList();
            Assert.Equal(words.Count, words.Distinct().Count());
        }
    }

    [Theory]
    [InlineData("Replace")]
    [InlineData("replace, clean")]
    [InlineData("0")]
    [InlineData("")]
    public void Another_word_is_none_of_them_and_the_message_names_those_there_are(string word)
    {
        Assert.Null(EnumWord.Read<FaultAction>(word));
        var wrong = Assert.Throws<JsonException>(() =>
            JsonSerializer.Deserialize<Dictionary<string, FaultAction>>(
                $$"""{"action":"{{word}}"}""",
                IdrumJson.Options
            )
        );
        Assert.Equal($"'{word}' is none of replace, clean, adjust, refer.", wrong.Message);
        Assert.Equal("$.action", wrong.Path);
    }

    [Fact]
    public void They_are_keys_too_and_no_number()
    {
        var keyed = new Dictionary<GaugeVerdict, int> { [GaugeVerdict.Watch] = 3 };
        var text = JsonSerializer.Serialize(keyed, IdrumJson.Options);
        Assert.Equal("""{"watch":3}""", text);
        Assert.Equal(keyed, JsonSerializer.Deserialize<Dictionary<GaugeVerdict, int>>(text, IdrumJson.Options));
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<GaugeVerdict>("1", IdrumJson.Options));
        Assert.Equal(AdviceKind.NothingFound, EnumWord.Read<AdviceKind>("nothing-found"));
        Assert.Equal("nothing-found", AdviceKind.NothingFound.Word());
    }

    [Fact]
    public void A_file_with_a_word_that_is_none_is_refused_with_its_place()
    {
        var faults = TestShop.Content.Faults;
        var at = faults.IndexOf("\"action\": \"clean\"", StringComparison.Ordinal);
        Assert.True(at > 0);
        var wrong = Assert.Throws<InvalidDataException>(() =>
            (
                TestShop.Content with
                {
                    Faults = faults.Replace("\"action\": \"clean\"", "\"action\": \"mend\"", StringComparison.Ordinal),
                }
            ).Read()
        );
        Assert.Contains("faults.json, $.faults[", wrong.Message, StringComparison.Ordinal);
        Assert.Contains("'mend' is none of replace, clean, adjust, refer.", wrong.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void No_value_goes_into_a_text_of_the_core_by_itself()
    {
        var found = EnumTexts.Of(typeof(Fault).Assembly);
        Assert.True(found.Count == 0, string.Join("\n", found));
    }
}
