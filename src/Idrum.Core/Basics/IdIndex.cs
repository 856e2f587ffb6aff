using System.Runtime.CompilerServices;

namespace Idrum.Core.Basics;

/// <summary>Finds entries of a list by id. The index hangs on the list itself, so that a record copied with another
/// list
/// never looks into the old one.</summary>
/// <typeparam name="T">Kind of entry.</typeparam>
internal static class IdIndex<T>
    where T : class
{
    private static readonly ConditionalWeakTable<IReadOnlyList<T>, Dictionary<string, T>> Known = [];

    /// <summary>The entry of that id, or null; of two alike the first.</summary>
    internal static T? Find(IReadOnlyList<T> list, string id, Func<T, string> idOf) =>
        Known.GetValue(list, l => l.DistinctBy(idOf).ToDictionary(idOf)).GetValueOrDefault(id);
}
