using System.Text.RegularExpressions;

namespace Idrum.Web.Tests;

/// <summary>What the documents say is shown by a test is shown by a test that is there.</summary>
public sealed partial class DocsTests
{
    private static readonly string Root = Up(AppContext.BaseDirectory);

    private static string Up(string folder) =>
        File.Exists(Path.Combine(folder, "Idrum.slnx")) ? folder : Up(Path.GetDirectoryName(folder)!);

    private static readonly Lazy<HashSet<string>> Tests = new(() =>
        [
            .. Directory
                .GetFiles(Path.Combine(Root, "tests"), "*.cs", SearchOption.AllDirectories)
                .Where(f => !f.Contains("/obj/") && !f.Contains("/bin/"))
                .SelectMany(f => Declared().Matches(File.ReadAllText(f)).Select(m => m.Groups[1].Value)),
        ]
    );

    [Theory]
    [InlineData("docs/security.md")]
    [InlineData("docs/asvs.md")]
    [InlineData("docs/architecture.md")]
    public void A_test_that_is_named_is_there(string document)
    {
        var named = Named()
            .Matches(File.ReadAllText(Path.Combine(Root, document)))
            .Select(m => m.Groups[1].Value.Split('.')[^1])
            .Distinct()
            .ToList();
        Assert.True(named.Count > 3, string.Join(' ', named));
        var missing = named.Where(n =>
            n.EndsWith('…')
                ? !Tests.Value.Any(t => t.StartsWith(n.TrimEnd('…'), StringComparison.Ordinal))
                : !Tests.Value.Contains(n)
        );
        Assert.Equal("", string.Join(' ', missing));
        foreach (
            var spec in Spec().Matches(File.ReadAllText(Path.Combine(Root, document))).Select(m => m.Groups[1].Value)
        )
        {
            Assert.True(File.Exists(Path.Combine(Root, "tests/browser", spec + ".mjs")), spec);
        }
    }

    [Fact]
    public void Each_line_of_the_standard_stands_once_in_its_order_with_an_answer_and_a_reason()
    {
        var lines = File.ReadAllLines(Path.Combine(Root, "docs/asvs.md"))
            .Where(l => Regex.IsMatch(l, @"^\| \d"))
            .Select(l => l.Trim('|', ' ').Split(" | "))
            .ToList();
        Assert.All(lines, l => Assert.Equal(5, l.Length));
        Assert.All(lines, l => Assert.Contains(l[3], (string[])["met", "partly", "not met", "n/a"]));
        Assert.All(lines, l => Assert.True(l[4].Length > 3, l[0]));
        var numbers = lines
            .SelectMany(l => Number().Matches(l[0]).Select(m => m.Value))
            .Select(n => n.Split('.').Select(int.Parse).ToArray())
            .Select(n => n[0] * 10_000 + n[1] * 100 + n[2])
            .ToList();
        Assert.Equal(numbers.Distinct().Order(), numbers);
        Assert.Equal(Enumerable.Range(1, 17), numbers.Select(n => n / 10_000).Distinct());
    }

    [GeneratedRegex(@"(?:class|Task|void) ([A-Z][A-Za-z0-9_]+)")]
    private static partial Regex Declared();

    [GeneratedRegex("`((?:[A-Z][A-Za-z0-9]*Tests\\.)?[A-Z][a-z0-9]*_[A-Za-z0-9_]+…?|[A-Z][A-Za-z0-9]*Tests)`")]
    private static partial Regex Named();

    [GeneratedRegex("`([a-z-]+\\.spec)`")]
    private static partial Regex Spec();

    [GeneratedRegex(@"\d+\.\d+\.\d+")]
    private static partial Regex Number();
}
