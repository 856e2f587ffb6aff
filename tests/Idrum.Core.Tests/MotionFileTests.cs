using System.Text;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

public class MotionFileTests
{
    private static (MotionSeries? Series, string Problem) Read(string text) =>
        MotionFile.Read(Encoding.UTF8.GetBytes(text));

    [Fact]
    public void What_is_kept_is_read_and_written_the_same_again_as_json_and_as_a_table()
    {
        var series = NoiseBench.Shake(TestShop.Shop.Layouts[0], new() { Seconds = 10, Seed = 3 });
        var kept = MotionFile.Write(series);
        Assert.Equal(kept, MotionFile.Write(MotionFile.Read(kept).Series!));
        Assert.Equal(kept, MotionFile.Write(Read(MotionFile.Table(series)).Series!));
    }

    [Theory]
    [InlineData("0,1,2,3\n0.1,1,2,3")]
    [InlineData("t;x;y;z\r\n0;1,5;2;3\r\n0,1;1;2;3\r\n")]
    [InlineData("\uFEFFseconds\tx\ty\tz\n0\t1\t2\t3\n0,1\t1\t2\t3")]
    [InlineData("""{"seconds":[0,0.1],"x":[1,1],"y":[2,2],"z":[3,3],"device":"a phone"}""")]
    public void Tables_of_every_hand_are_taken(string text)
    {
        var (series, problem) = Read(text);
        Assert.Equal("", problem);
        Assert.Equal([0, 0.1], series!.Seconds);
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("a,b\n1,2", "four numbers")]
    [InlineData("0,1,2,3\n0.1,1,x,3", "'x' is no number")]
    [InlineData("0,1,2,3\n0.1,1,NaN,3", "no number")]
    [InlineData("0,1,two,3\n0.1,1,2,3", "neither a head")]
    [InlineData("1,1,2,3\n0,1,2,3", "rise")]
    [InlineData("0,1,2,3\n0.1,1,2,5000", "finite number in m/s²")]
    [InlineData("""{"seconds":[0,1],"x":[1],"y":[2,2],"z":[3,3]}""", "1 readings for 2 times")]
    [InlineData("""{"seconds":[0,1]}""", "lists seconds, x, y and z")]
    [InlineData("""{"seconds":"now"}""", "lists seconds, x, y and z")]
    [InlineData("{", "lists seconds, x, y and z")]
    public void What_is_none_says_why(string text, string words)
    {
        var (series, problem) = Read(text);
        Assert.Null(series);
        Assert.Contains(words, problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Random_bytes_and_endless_lines_never_break_the_reader()
    {
        var random = new Random(1);
        for (var i = 0; i < 2000; i++)
        {
            var bytes = new byte[random.Next(200)];
            random.NextBytes(bytes);
            if (i % 2 == 0)
            {
                for (var k = 0; k < bytes.Length; k++)
                {
                    bytes[k] = (byte)"0123456789.,;\n-e\t{}[]\"x"[bytes[k] % 23];
                }
            }
            Assert.True(MotionFile.Read(bytes) is { Series: not null } or { Problem.Length: > 0 });
        }
        Assert.Contains("At most", Read(string.Concat(Enumerable.Repeat("0,1,2,3\n", 20_000))).Problem);
    }
}
