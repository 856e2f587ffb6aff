namespace Idrum.Core.Tests;

/// <summary>How much a simulation draws: few when tests are run at every change, many with <c>./idrum test long</c>. What is
/// asserted holds for both; bounds follow the sample.</summary>
internal static class TestSize
{
    /// <summary>Whether the long way was asked for (<c>IDRUM_LONG=1</c>).</summary>
    public static bool Long { get; } = Environment.GetEnvironmentVariable("IDRUM_LONG") == "1";

    /// <summary>The size of this run.</summary>
    public static int Of(int few, int many) => Long ? many : few;

    /// <summary>All of them in a long run, every <paramref name="nth"/> otherwise.</summary>
    public static IEnumerable<T> Every<T>(int nth, IEnumerable<T> all) =>
        Long ? all : all.Where((_, i) => i % nth == 0);
}
