using Idrum.Core.Basics;

namespace Idrum.Core.Tests;

public sealed class WordingTests
{
    [Theory]
    [InlineData("Front felt", "front felt")]
    [InlineData("A lamp", "a lamp")]
    [InlineData("QD-62's plug", "QD-62's plug")]
    [InlineData("LED strip", "LED strip")]
    [InlineData("V-groove wheel", "V-groove wheel")]
    [InlineData("H2 clip", "H2 clip")]
    [InlineData("X", "x")]
    [InlineData("", "")]
    public void A_name_is_set_into_a_sentence(string name, string inside) => Assert.Equal(inside, name.Inside());
}
