using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Core.Machines;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

/// <summary>The machine in space: what its page hands to the canvas, read back from the page as the canvas reads
/// it.</summary>
public sealed partial class TourTests(TestHost host) : IClassFixture<TestHost>
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    [GeneratedRegex("""<script type="application/json" data-scene>(.*?)</script>""", RegexOptions.Singleline)]
    private static partial Regex Handed();

    private async Task<TourScene> SceneOf(string id, string query = "")
    {
        var html = await host.Client.GetStringAsync(new Uri($"/machines/{id}/tour{query}", UriKind.Relative));
        return JsonSerializer.Deserialize<TourScene>(Handed().Match(html).Groups[1].Value, JsonSerializerOptions.Web)!;
    }

    private static IEnumerable<double[]> Points(TourSolid solid)
    {
        foreach (var p in solid.Faces.SelectMany(f => f.Corners.Concat(f.Openings.SelectMany(o => o))))
        {
            yield return p;
        }
        foreach (var p in solid.Line)
        {
            yield return p;
        }
        if (solid.Round is { } r)
        {
            var along = "xyz".IndexOf(r.Axis, StringComparison.Ordinal);
            foreach (var (far, side) in new[] { (0.0, -1), (r.LengthMm, 1) })
            {
                yield return
                [
                    .. Enumerable.Range(0, 3).Select(k => r.At[k] + (k == along ? far : side * r.DiameterMm / 2)),
                ];
            }
        }
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public async Task Each_part_stands_where_its_file_says_and_what_is_round_is_within_it(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var scene = await SceneOf(id);
        Assert.Equal(layout.Solids.Select(s => s.Part).Distinct().Order(), scene.Parts.Select(p => p.Id).Order());
        foreach (var part in scene.Parts)
        {
            var own = layout
                .Solids.Where(s => s.Part == part.Id && s.Shape != SolidShape.Path)
                .Select(s => s.Bounds())
                .ToList();
            var points = part.Solids.Where(s => s.Line.Count == 0).SelectMany(Points).ToList();
            Assert.Equal(own.Count, part.Solids.Count(s => s.Line.Count == 0));
            for (var k = 0; k < 3 && own.Count > 0; k++)
            {
                Assert.Equal(own.Min(b => b.Low[k]), points.Min(p => p[k]), 0.06);
                Assert.Equal(own.Max(b => b.High[k]), points.Max(p => p[k]), 0.06);
            }
        }
        // The belt goes once round the drum, tight as well as slack.
        foreach (var belt in scene.Parts.Where(p => p.Kind == PartKinds.Belt).SelectMany(p => p.Solids))
        {
            var drum = layout.Drive.Drum;
            Assert.All(belt.Slack, p =>
                Assert.True(double.Hypot(p[0] - drum.X, p[1] - drum.Y) > drum.DiameterMm / 2 - 1)
            );
            Assert.True(belt.Line.Max(p => p[1]) > drum.Y + drum.DiameterMm / 2);
            Assert.True(belt.Slack.Min(p => p[1]) < drum.Y - drum.DiameterMm / 2 - 20);
        }
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public async Task What_swings_ends_where_its_arrow_points_and_what_leaves_goes_the_arrows_way(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var scene = await SceneOf(id);
        Assert.NotEmpty(scene.Steps);
        foreach (var step in scene.Steps)
        {
            var motion = layout.Operations.Single(o => o.Id == step.Id).Motion;
            if (motion is null)
            {
                Assert.Empty(step.Path);
                continue;
            }
            var (from, to) = (motion.Path[0], motion.Path[^1]);
            foreach (var swing in step.Swings)
            {
                var (a, b) = swing.Axis switch
                {
                    0 => (1, 2),
                    1 => (2, 0),
                    _ => (0, 1),
                };
                double Angle(IReadOnlyList<double> p) => Math.Atan2(p[b] - swing.About[b], p[a] - swing.About[a]);
                var turned = Math.IEEERemainder(Angle(to) - Angle(from) - swing.Radians, 2 * Math.PI);
                Assert.Equal(0, turned, 6);
                Assert.True(Math.Abs(swing.Radians) is > 0.05 and < Math.PI, $"{step.Id} swings {swing.Radians}");
            }
            if (step.Path.Count > 0)
            {
                var way = Enumerable.Range(0, 3).Select(k => to[k] - from[k]).ToArray();
                var drawn = step.Path[^1];
                var cosine =
                    way.Zip(drawn, (x, y) => x * y).Sum()
                    / (Math.Sqrt(way.Sum(x => x * x)) * Math.Sqrt(drawn.Sum(x => x * x)));
                Assert.True(cosine > 0.9999, step.Id);
                Assert.True(step.Apart * Math.Sqrt(drawn.Sum(x => x * x)) > 500, step.Id);
            }
        }
        // At the end every part that wears has come off, hangs loose, or could be looked at where it is.
        var open = scene.Steps.SelectMany(s => s.Off.Concat(s.Frees).Concat(s.Swings.Select(w => w.Part))).ToHashSet();
        Assert.All(layout.Parts.Where(p => p.Wears), p =>
            Assert.True(open.Contains(p.Id) || open.Contains(p.On), p.Id)
        );
    }

    [Fact]
    public async Task A_part_is_shown_with_what_stands_before_it_and_nonsense_is_said()
    {
        var whole = await SceneOf("quenby-qd62");
        var belt = await SceneOf("quenby-qd62", "?part=belt");
        Assert.True(belt.Steps.Count < whole.Steps.Count);
        Assert.Equal(
            TestShop
                .Machine("quenby-qd62")
                .Planner.Plan(new(["belt"], [], new Dictionary<string, OperationId>()))!
                .Removal.Select(o => o.Id),
            belt.Steps.Select(s => s.Id)
        );
        var html = await host.Client.GetStringAsync(
            new Uri("/machines/quenby-qd62/tour?part=%3Cb%3E&at=99999&eye=inside", UriKind.Relative)
        );
        Assert.Contains("There is no part “&lt;b&gt;”", html, StringComparison.Ordinal);
        Assert.Contains($"{whole.Steps.Count} of {whole.Steps.Count}:", html, StringComparison.Ordinal);
        using var none = await host.Client.GetAsync(new Uri("/machines/none/tour", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public async Task What_cuts_out_is_told_apart_from_what_regulates_and_is_never_bridged(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var html = WebUtility.HtmlDecode(
            await host.Client.GetStringAsync(new Uri($"/machines/{id}/tour", UriKind.Relative))
        );
        bool Has(string kind) => layout.Parts.Any(p => p.Kind == kind);
        Assert.Equal(Has("belt-switch"), html.Contains("without a belt nothing runs", StringComparison.Ordinal));
        Assert.Equal(Has("sensor"), html.Contains("the control ends the drying by", StringComparison.Ordinal));
        Assert.Contains("never bridged", html, StringComparison.Ordinal);
        Assert.Contains("licensed", html, StringComparison.Ordinal);
    }
}
