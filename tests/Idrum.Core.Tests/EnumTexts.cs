using System.Reflection;
using System.Reflection.Emit;

namespace Idrum.Core.Tests;

/// <summary>Where compiled code puts a value of a set into a text by itself, so that its name in the code is read instead of its
/// word: an interpolation of it, a value added to a text or asked for its name, or handed on as an object.</summary>
public static class EnumTexts
{
    private static readonly Dictionary<int, OpCode> Codes = typeof(OpCodes)
        .GetFields(BindingFlags.Public | BindingFlags.Static)
        .Select(f => (OpCode)f.GetValue(null)!)
        .ToDictionary(c => (int)(ushort)c.Value);

    /// <summary>Method and set, for each such place.</summary>
    /// <param name="assembly">What was compiled.</param>
    public static IReadOnlyList<string> Of(Assembly assembly)
    {
        var found = new List<string>();
        foreach (var type in assembly.GetTypes())
        {
            const BindingFlags all =
                BindingFlags.Public
                | BindingFlags.NonPublic
                | BindingFlags.Static
                | BindingFlags.Instance
                | BindingFlags.DeclaredOnly;
            foreach (var method in type.GetMethods(all).Cast<MethodBase>().Concat(type.GetConstructors(all)))
            {
                // A record writes its fields for whoever debugs.
                if (method.Name is "PrintMembers" or "ToString" || method.GetMethodBody() is not { } body)
                {
                    continue;
                }
                var before = (Code: OpCodes.Nop, Token: 0);
                foreach (var at in Tokens(body.GetILAsByteArray()!))
                {
                    if (Set(method, before, at) is { } set)
                    {
                        found.Add($"{type.FullName}.{method.Name}: {set.Name}");
                    }
                    before = at;
                }
            }
        }
        return [.. found.Distinct()];
    }

    /// <summary>The set whose value goes into a text here; null where none does.</summary>
    private static Type? Set(MethodBase method, (OpCode Code, int Token) before, (OpCode Code, int Token) at)
    {
        var (code, token) = at;
        Type[] types = method.DeclaringType is { IsGenericType: true } owner ? owner.GetGenericArguments() : [];
        Type[] methods = method is MethodInfo { IsGenericMethod: true } generic ? generic.GetGenericArguments() : [];
        var value =
            code == OpCodes.Box ? method.Module.ResolveType(token, types, methods)
            : code == OpCodes.Call
            && method.Module.ResolveMethod(token, types, methods)
                is MethodInfo { Name: "AppendFormatted", IsGenericMethod: true } call
                ? call.GetGenericArguments()[0]
            : before.Code == OpCodes.Constrained
            && code == OpCodes.Callvirt
            && method.Module.ResolveMethod(token, types, methods)?.Name == "ToString"
                ? method.Module.ResolveType(before.Token, types, methods)
            : null;
        value = value is null ? null : Nullable.GetUnderlyingType(value) ?? value;
        return value is { IsEnum: true } && value.Namespace?.StartsWith("Idrum", StringComparison.Ordinal) == true
            ? value
            : null;
    }

    private static IEnumerable<(OpCode Code, int Token)> Tokens(byte[] il)
    {
        for (var i = 0; i < il.Length; )
        {
            var code = Codes[il[i] == 0xFE ? 0xFE00 | il[i + 1] : il[i]];
            i += code.Size;
            switch (code.OperandType)
            {
                case OperandType.InlineType or OperandType.InlineMethod:
                    yield return (code, BitConverter.ToInt32(il, i));
                    i += 4;
                    break;
                case OperandType.InlineSwitch:
                    i += 4 + 4 * BitConverter.ToInt32(il, i);
                    break;
                default:
                    i += code.OperandType switch
                    {
                        OperandType.InlineNone => 0,
                        OperandType.ShortInlineBrTarget or OperandType.ShortInlineI or OperandType.ShortInlineVar => 1,
                        OperandType.InlineVar => 2,
                        OperandType.InlineI8 or OperandType.InlineR => 8,
                        _ => 4,
                    };
                    break;
            }
        }
    }
}
