using System.Collections.Frozen;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.Json.Serialization;

namespace Idrum.Core.Jobs.Log;

/// <summary>What an act of a kind does to a job that a device shows without a link, and how it counts at the machine.
/// Each kind says it of itself; the device only applies it, so that a new kind needs no line of script.</summary>
public sealed record ActEffect
{
    /// <summary>Changes of the places of the job, in order; none where it keeps the place.</summary>
    public IReadOnlyList<PlaceChange> Does { get; init; } = [];

    /// <summary>What follows it can be told by the shop alone.</summary>
    public bool NeedsShop { get; init; }

    /// <summary>takes-back or brings-again: it concerns the act that its field <c>eventId</c> names. Empty else.</summary>
    public string Turns { get; init; } = "";

    /// <summary>How it is shown where it was made while it waits to be sent; fields in braces. Empty: not at
    /// all.</summary>
    public string Kept { get; init; } = "";

    /// <summary>Whether something begins with it that is waited for.</summary>
    public bool Begins { get; init; }

    /// <summary>Whether it is done beside the step in work: the time of the step runs on.</summary>
    [JsonIgnore]
    public bool Beside { get; init; }

    /// <summary>Whether the floor offers to take it back.</summary>
    [JsonIgnore]
    public bool FloorTakesBack { get; init; }

    /// <summary>It keeps the place.</summary>
    internal static ActEffect Stays { get; } = new();

    /// <summary>Only the shop can tell what follows.</summary>
    internal static ActEffect Unforeseen { get; } = new() { NeedsShop = true };

    private static readonly FrozenDictionary<Type, string> Kinds = typeof(JobEvent)
        .GetCustomAttributes<JsonDerivedTypeAttribute>()
        .ToFrozenDictionary(a => a.DerivedType, a => (string)a.TypeDiscriminator!);

    /// <summary>The effects of all kinds, by the kind's name in JSON.</summary>
    public static FrozenDictionary<string, ActEffect> All { get; } =
        Kinds.ToFrozenDictionary(
            k => k.Value,
            // What a kind says of itself rests on none of its fields.
            k => ((JobEvent)RuntimeHelpers.GetUninitializedObject(k.Key)).Effect
        );

    /// <summary>The name of an act's kind in JSON.</summary>
    public static string KindOf(JobEvent e) => Kinds[e.GetType()];
}

/// <summary>One change of the places of a job: the verb and what it needs. The device knows these verbs and no kind of
/// act. Values of <c>by</c>, <c>part</c> and the like name fields of the act.</summary>
/// <param name="Do">
/// stage: goes to <c>To</c>, or where the field <c>By["stage"]</c> leads by <c>Words</c>. take: the step that fits
/// <c>By</c> leaves the list <c>From</c>; with <c>Through</c> all before it of the same part too. count: counted screws
/// against what was expected, on the <c>Way</c>. trays: trays named. settle: an odd count is explained. add: one more of
/// a group. shift: a group holds more or fewer than the layout says. choose: a plain choice at a step. window: glue opens
/// its window, named <c>Label</c>. cure: glue was joined. again: steps of the kinds <c>Kinds</c> of the part come once
/// more. start, stop: a timer.
/// </param>
public sealed record PlaceChange(string Do)
{
    /// <summary>Where it goes.</summary>
    public string? To { get; init; }

    /// <summary>List it leaves: out, fit, back.</summary>
    public string? From { get; init; }

    /// <summary>What of a step → field of the act it must equal.</summary>
    public IReadOnlyDictionary<string, string>? By { get; init; }

    /// <summary>Value of the field → what it means.</summary>
    public IReadOnlyDictionary<string, string>? Words { get; init; }

    /// <summary>Whether what stands before it goes with it.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Through { get; init; }

    /// <summary>Changes instead where there is no such step but the part's glue is known.</summary>
    public IReadOnlyList<PlaceChange>? OrElse { get; init; }

    /// <summary>out or in.</summary>
    public string? Way { get; init; }

    /// <summary>What the clock of a window is called.</summary>
    public string? Label { get; init; }

    /// <summary>Kinds of act whose steps come again.</summary>
    public IReadOnlyList<string>? Kinds { get; init; }

    /// <summary>1 or −1.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Sign { get; init; }

    /// <summary>Once for each value of this field, which stands several times in the act: the fields of <c>By</c> have their
    /// value of the same place each. What is not there then is passed over.</summary>
    public string? Each { get; init; }

    /// <summary>Only where each field has one of these values.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>>? When { get; init; }

    /// <summary>What a repairer does at Fit with one part: the station is Fit, and its step and those before it are
    /// behind.</summary>
    internal static IReadOnlyList<PlaceChange> AtFit(params PlaceChange[] then) =>
        [
            new("stage") { To = "fit" },
            new("take")
            {
                From = "fit",
                By = Fields(("part", "partId")),
                Through = true,
            },
            .. then,
        ];

    internal static IReadOnlyDictionary<string, string> Fields(params (string Of, string Field)[] fields) =>
        fields.ToDictionary(f => f.Of, f => f.Field);

    internal static IReadOnlyDictionary<string, IReadOnlyList<string>> Where(
        params (string Field, string[] Values)[] fields
    ) => fields.ToDictionary(f => f.Field, f => (IReadOnlyList<string>)f.Values);
}
