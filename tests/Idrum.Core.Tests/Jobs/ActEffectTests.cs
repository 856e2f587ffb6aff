using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What acts do on a device without a link is said by each kind of itself; the script knows verbs and no
/// kinds.</summary>
public partial class ActEffectTests
{
    private static readonly string Script = File.ReadAllText(
        Path.Combine(AppContext.BaseDirectory, "scripts", "standing.js")
    );

    [GeneratedRegex(@"^  (\w+)\([^)]*\) \{$", RegexOptions.Multiline)]
    private static partial Regex Verb();

    private static IEnumerable<PlaceChange> Flat(IEnumerable<PlaceChange> changes) =>
        changes.SelectMany(c => Flat(c.OrElse ?? []).Prepend(c));

    private static void Within(IEnumerable<string> words, HashSet<string> known) =>
        Assert.All(words, word => Assert.Contains(word, known));

    public static TheoryData<string> AllKinds => [.. ActEffect.All.Keys.Order(StringComparer.Ordinal)];

    /// <summary>What the form of Fit says besides the act, for a device whose link goes with that tap.</summary>
    private static readonly string[] SaidBesides =
    [
        "seats",
        "seatOperation",
        "seatStep",
        "twins",
        "twinSeatOperation",
        "twinSeatStep",
    ];

    /// <summary>Each kind, put through what the device would do with it: every verb is one it has, every field one the
    /// act has, every list and kind one there is.</summary>
    [Theory]
    [MemberData(nameof(AllKinds))]
    public void Every_kind_says_its_effect_in_words_the_device_has(string kind)
    {
        var (effect, type) = (ActEffect.All[kind], Types[kind]);
        var fields = type.GetProperties().Select(p => JsonNamingPolicy.CamelCase.ConvertName(p.Name)).ToHashSet();
        var verbs = Verb().Matches(Script).Select(m => m.Groups[1].Value).ToHashSet();
        Within(["stage", "take", "count", "start"], verbs);
        Assert.False(effect.NeedsShop && effect.Does.Count > 0, "What needs the shop changes nothing here.");
        Assert.False(effect.Turns.Length > 0 && !fields.Contains("eventId"));
        Assert.All(Regex.Matches(effect.Kept, @"\{(\w+)\}"), m => Assert.Contains(m.Groups[1].Value, fields));
        Assert.All(Flat(effect.Does), change =>
        {
            Assert.Contains(change.Do, verbs);
            var said = change.Each is null ? fields : [.. fields, .. SaidBesides];
            Within((change.By ?? new Dictionary<string, string>()).Values, said);
            Within((change.When ?? new Dictionary<string, IReadOnlyList<string>>()).Keys, said);
            Within(change.Each is { } each ? [each] : [], said);
            Within(change.Kinds ?? [], [.. ActEffect.All.Keys]);
            Assert.True(change.From is null or "out" or "fit" or "back");
            Assert.True(change.To is null or "out" or "fit" or "back" or "end");
            string[] wants = change.Do switch
            {
                "count" => ["counts"],
                "trays" => ["trays"],
                "settle" => ["fastenerId", "way"],
                "add" => ["fastenerId"],
                "shift" => ["fastenerId", "count"],
                // The minutes of a window stand in the form, worked out for warmth and tube.
                "window" or "cure" or "again" => ["partId"],
                "start" => ["timerId", "label", "minutes"],
                "stop" => ["timerId"],
                _ => [],
            };
            Within(wants, fields);
        });
    }

    [Fact]
    public void The_script_that_applies_them_names_no_kind_of_act()
    {
        Assert.All(ActEffect.All.Keys, kind => Assert.DoesNotMatch($"[\"'`]{Regex.Escape(kind)}[\"'`]", Script));
    }

    [Fact]
    public void What_leaves_the_step_in_work_running_is_said_by_the_kind_and_so_is_what_the_floor_takes_back()
    {
        Assert.True(ActEffect.All["photo-added"].Beside && ActEffect.All["photo-added"].FloorTakesBack);
        Assert.False(ActEffect.All["part-fitted"].Beside || ActEffect.All["safety-signed"].FloorTakesBack);
        Assert.Equal(
            "glue-coated,timer-started",
            string.Join(',', ActEffect.All.Where(e => e.Value.Begins).Select(e => e.Key).Order())
        );
    }

    private static readonly Dictionary<string, Type> Types = typeof(JobEvent)
        .GetCustomAttributes(typeof(System.Text.Json.Serialization.JsonDerivedTypeAttribute), false)
        .Cast<System.Text.Json.Serialization.JsonDerivedTypeAttribute>()
        .ToDictionary(a => (string)a.TypeDiscriminator!, a => a.DerivedType);
}
