namespace Idrum.Core.Jobs.Log;

/// <summary>Why a machine came back, by what the trade knows of call-backs.</summary>
public static class CallBackCause
{
    /// <summary>All causes: id and words.</summary>
    public static IReadOnlyList<(string Id, string Words)> All { get; } =
    [
        ("twin", "The twin of what was changed"),
        ("cause-left", "The cause was left"),
        ("own-closing", "My own closing: a fold, a plug, a latch, a screw"),
        ("wrong-part", "A wrong part"),
        ("declined", "Work that was declined"),
        ("another", "Another fault"),
    ];

    /// <summary>Words of a cause; empty where there is none such.</summary>
    public static string Words(string? id) => All.FirstOrDefault(c => c.Id == id).Words ?? "";
}
