using System.Net;
using System.Text.RegularExpressions;
using Idrum.Web.Hosting;

namespace Idrum.Web.Tests;

/// <summary>The guide: every page is there, every link and picture leads somewhere, every command is one.</summary>
public sealed class GuideTests(TestHost host) : IClassFixture<TestHost>
{
    private static IEnumerable<string> Files =>
        Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, "guide"), "*.md");

    [Fact]
    public async Task Every_page_link_and_picture_leads_somewhere()
    {
        var (seen, open) = (new HashSet<string>(), new Queue<string>(["/guide"]));
        while (open.TryDequeue(out var address))
        {
            if (!seen.Add(address))
            {
                continue;
            }
            var answer = await host.Client.GetAsync(address);
            Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{address}: {answer.StatusCode}");
            if (answer.Content.Headers.ContentType?.MediaType != "text/html")
            {
                continue;
            }
            var page = await answer.Content.ReadAsStringAsync();
            foreach (Match link in Regex.Matches(page, "(?:href|src)=\"(/guide[^\"#]*)\""))
            {
                open.Enqueue(link.Groups[1].Value);
            }
        }
        Assert.Equal(
            Files.Select(Path.GetFileNameWithoutExtension).Where(n => n != "index").Order(),
            seen.Where(s => s.StartsWith("/guide/", StringComparison.Ordinal) && !s.Contains("pictures"))
                .Select(s => s[7..])
                .Order()
        );
        Assert.Contains(seen, s => s.EndsWith(".png", StringComparison.Ordinal));
        foreach (var none in new[] { "/guide/no-such", "/guide/..%2fidrum", "/guide/pictures/..%2f..%2fidrum.png" })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync(none)).StatusCode);
        }
    }

    [Fact]
    public void Every_command_is_one_that_Idrum_understands()
    {
        var commands = Files
            .SelectMany(f => Regex.Matches(File.ReadAllText(f), "```sh\n(.*?)```", RegexOptions.Singleline))
            .SelectMany(m => m.Groups[1].Value.Split('\n', StringSplitOptions.RemoveEmptyEntries))
            .ToList();
        Assert.True(commands.Count >= 6);
        foreach (var command in commands)
        {
            Assert.StartsWith("idrum ", command);
            IdrumOptions.Parse(command.Split(' ')[1..]);
        }
    }
}
