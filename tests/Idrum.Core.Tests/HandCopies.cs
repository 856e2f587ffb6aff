using System.Reflection;
using System.Reflection.Emit;

namespace Idrum.Core.Tests;

/// <summary>Where compiled code makes a new value out of parts of another of the same type, and leaves something that the other
/// had at its default: a copy made by hand, which forgets what its type was given later.</summary>
public static class HandCopies
{
    /// <summary>Method, type and what is forgotten, for each such place.</summary>
    /// <param name="assembly">What was compiled.</param>
    public static IReadOnlyList<string> Of(Assembly assembly)
    {
        var found = new List<string>();
        foreach (var (type, method) in CompiledCode.Methods(assembly))
        {
            var (made, read, set) = (new HashSet<Type>(), new HashSet<(Type, string)>(), new HashSet<(Type, string)>());
            foreach (var (code, token) in CompiledCode.Tokens(method))
            {
                if (
                    (code != OpCodes.Newobj && code != OpCodes.Call && code != OpCodes.Callvirt)
                    || CompiledCode.MethodAt(method, token) is not { DeclaringType: { } of } called
                    || of.Namespace?.StartsWith("Idrum", StringComparison.Ordinal) != true
                )
                {
                    continue;
                }
                _ =
                    code == OpCodes.Newobj ? made.Add(of)
                    : called.Name.StartsWith("get_", StringComparison.Ordinal) ? read.Add((of, called.Name[4..]))
                    : called.Name.StartsWith("set_", StringComparison.Ordinal) && set.Add((of, called.Name[4..]));
            }
            foreach (var of in made)
            {
                var given = of.GetConstructors().SelectMany(c => c.GetParameters()).Select(p => p.Name).ToHashSet();
                var left = of.GetProperties()
                    .Where(p => p.SetMethod is { IsPublic: true } && !given.Contains(p.Name))
                    .Select(p => p.Name)
                    .Where(p => !set.Contains((of, p)))
                    .ToList();
                if (left.Count > 0 && given.Any(g => read.Contains((of, g!))))
                {
                    found.Add($"{type.FullName}.{method.Name}: {of.Name} without {string.Join(", ", left)}");
                }
            }
        }
        return found;
    }
}
