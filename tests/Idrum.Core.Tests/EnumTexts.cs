using System.Reflection;
using System.Reflection.Emit;

namespace Idrum.Core.Tests;

/// <summary>Where compiled code puts a value of a set into a text by itself, so that its name in the code is read instead of its
/// word: an interpolation of it, a value added to a text or asked for its name, or handed on as an object.</summary>
public static class EnumTexts
{
    /// <summary>Method and set, for each such place.</summary>
    /// <param name="assembly">What was compiled.</param>
    public static IReadOnlyList<string> Of(Assembly assembly)
    {
        var found = new List<string>();
        foreach (var (type, method) in CompiledCode.Methods(assembly))
        {
            var before = (Code: OpCodes.Nop, Token: 0);
            foreach (var at in CompiledCode.Tokens(method))
            {
                if (Set(method, before, at) is { } set)
                {
                    found.Add($"{type.FullName}.{method.Name}: {set.Name}");
                }
                before = at;
            }
        }
        return [.. found.Distinct()];
    }

    /// <summary>The set whose value goes into a text here; null where none does.</summary>
    private static Type? Set(MethodBase method, (OpCode Code, int Token) before, (OpCode Code, int Token) at)
    {
        var (code, token) = at;
        var value =
            code == OpCodes.Box ? CompiledCode.TypeAt(method, token)
            : code == OpCodes.Call
            && CompiledCode.MethodAt(method, token)
                is MethodInfo { Name: "AppendFormatted", IsGenericMethod: true } call
                ? call.GetGenericArguments()[0]
            : before.Code == OpCodes.Constrained
            && code == OpCodes.Callvirt
            && CompiledCode.MethodAt(method, token)?.Name == "ToString"
                ? CompiledCode.TypeAt(method, before.Token)
            : null;
        value = value is null ? null : Nullable.GetUnderlyingType(value) ?? value;
        return value is { IsEnum: true } && value.Namespace?.StartsWith("Idrum", StringComparison.Ordinal) == true
            ? value
            : null;
    }
}
