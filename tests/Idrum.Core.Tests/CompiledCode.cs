using System.Reflection;
using System.Reflection.Emit;

namespace Idrum.Core.Tests;

/// <summary>Compiled code, read instruction by instruction: for rules that no compiler knows.</summary>
public static class CompiledCode
{
    private static readonly Dictionary<int, OpCode> Codes = typeof(OpCodes)
        .GetFields(BindingFlags.Public | BindingFlags.Static)
        .Select(f => (OpCode)f.GetValue(null)!)
        .ToDictionary(c => (int)(ushort)c.Value);

    /// <summary>All methods and constructors with a body; not what a record writes, compares and copies by itself.</summary>
    /// <param name="assembly">What was compiled.</param>
    public static IEnumerable<(Type Type, MethodBase Method)> Methods(Assembly assembly)
    {
        const BindingFlags all =
            BindingFlags.Public
            | BindingFlags.NonPublic
            | BindingFlags.Static
            | BindingFlags.Instance
            | BindingFlags.DeclaredOnly;
        return assembly
            .GetTypes()
            .SelectMany(t =>
                t.GetMethods(all).Cast<MethodBase>().Concat(t.GetConstructors(all)).Select(m => (Type: t, Method: m))
            )
            .Where(m =>
                m.Method.Name is not ("PrintMembers" or "ToString" or "Equals" or "GetHashCode" or "<Clone>$")
                && m.Method.GetMethodBody() is not null
            );
    }

    /// <summary>Instructions that name a type or a method, in order.</summary>
    public static IEnumerable<(OpCode Code, int Token)> Tokens(MethodBase method) =>
        Tokens(method.GetMethodBody()!.GetILAsByteArray()!);

    /// <summary>The type that stands at an instruction.</summary>
    public static Type TypeAt(MethodBase method, int token) =>
        method.Module.ResolveType(token, Arguments(method).Types, Arguments(method).Methods);

    /// <summary>The method that stands at an instruction.</summary>
    public static MethodBase? MethodAt(MethodBase method, int token) =>
        method.Module.ResolveMethod(token, Arguments(method).Types, Arguments(method).Methods);

    private static (Type[] Types, Type[] Methods) Arguments(MethodBase method) =>
        (
            method.DeclaringType is { IsGenericType: true } owner ? owner.GetGenericArguments() : [],
            method is MethodInfo { IsGenericMethod: true } generic ? generic.GetGenericArguments() : []
        );

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
