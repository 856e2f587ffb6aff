using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Tests.Jobs;

namespace Idrum.Core.Tests;

public class ContentTests
{
    [Fact]
    public void The_catalog_is_sound_and_large_enough()
    {
        Assert.Empty(TestShop.Shop.Catalog.Check(TestShop.Shop.Words));
        Assert.True(TestShop.Shop.Catalog.Faults.Count >= 35);
        Assert.True(TestShop.Shop.Catalog.Findings.Count >= 80);
        Assert.All(TestShop.Shop.Catalog.Faults, f => Assert.NotEmpty(f.Because));
    }

    [Fact]
    public void A_catalog_with_a_dangling_fault_or_a_probability_over_one_is_refused()
    {
        var catalog = TestShop.Shop.Catalog;
        var finding = catalog.Findings[0] with
        {
            Causes = [new("because", new Dictionary<FaultId, IReadOnlyList<double>> { ["ghost"] = [0.5] })],
        };
        Assert.NotEmpty((catalog with { Findings = [finding] }).Check(TestShop.Shop.Words));
        Assert.NotEmpty(
            (catalog with { Findings = [catalog.Findings[0] with { Leak = [1.5] }] }).Check(TestShop.Shop.Words)
        );
    }

    [Fact]
    public void Every_tool_hazard_and_fact_named_in_a_layout_is_known()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            Assert.All(
                layout
                    .Operations.SelectMany(o => o.Tools.Concat(o.Steps.SelectMany(s => s.Tools)))
                    .SelectMany(t => t.Any),
                t => Assert.NotEqual(t, TestShop.Shop.Words.ToolName(t))
            );
            Assert.All(layout.Operations.SelectMany(o => o.Hazards), h =>
                Assert.NotNull(TestShop.Shop.Words.FindHazard(h))
            );
        }
    }

    [Fact]
    public void Every_fact_has_a_small_drawing_and_its_paths_hold_nothing_else()
    {
        Assert.All(TestShop.Shop.Words.Facts, f => Assert.True(f.Draw?.Sound, f.Id));
        Assert.False(new FactDrawing([], ["M0 0 \" onload=\"x"]).Sound);
        Assert.False(new FactDrawing(["M0 0 L1 1"], []).Sound);
    }

    [Fact]
    public void Every_step_is_said_in_a_sentence_that_fits_two_lines_of_a_phone()
    {
        foreach (var operation in TestShop.Shop.Layouts.SelectMany(l => l.Operations))
        {
            Assert.InRange(operation.Do.Length, 5, 60);
            Assert.All(operation.Steps, s => Assert.InRange(s.Do.Length, 5, 62));
        }
    }

    [Fact]
    public void Every_field_of_the_layouts_schema_is_described()
    {
        var missing = new List<string>();
        void Look(JsonNode? node, string path)
        {
            if (node is JsonObject o)
            {
                if (o["properties"] is JsonObject fields && !path.StartsWith("/else", StringComparison.Ordinal))
                {
                    missing.AddRange(
                        fields
                            .Where(f => f.Value is JsonObject v && ((string?)v["description"])?.Length is null or < 4)
                            .Select(f => $"{path}/{f.Key}")
                    );
                }
                foreach (var (name, value) in o)
                {
                    Look(value, $"{path}/{name}");
                }
            }
            else if (node is JsonArray a)
            {
                foreach (var (value, i) in a.Select((v, i) => (v, i)))
                {
                    Look(value, $"{path}/{i}");
                }
            }
        }
        Look(JsonNode.Parse(TestShop.Content.LayoutSchema), "");
        Assert.Empty(missing);
    }

    [Fact]
    public void Every_wear_part_has_a_procedure_and_every_fault_a_part_or_a_reason_to_hand_over()
    {
        Assert.All(TestShop.Shop.Layouts.SelectMany(l => l.Parts).Where(p => p.Wears), p =>
            Assert.NotNull(TestShop.Shop.Handbook.For(p.Kind))
        );
        Assert.All(TestShop.Shop.Catalog.Faults, f =>
            Assert.True(f.Kinds.Count > 0 || f.Action == FaultAction.Refer, f.Id)
        );
    }

    [Fact]
    public void Every_wear_part_and_every_removed_part_is_drawn()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var drawn = layout.Solids.Select(s => s.Part).ToHashSet();
            Assert.All(layout.Parts.Where(p => p.Wears), p => Assert.Contains(p.Id, drawn));
            Assert.All(layout.Operations.SelectMany(o => o.TakesOff), p => Assert.Contains(p, drawn));
        }
    }

    [Fact]
    public void The_demo_has_jobs_in_every_station_a_call_back_a_timer_and_a_part_on_order()
    {
        var scripts = JsonSerializer.Deserialize<List<JobScript>>(
            File.ReadAllText(Path.Combine(TestShop.Root, "demo/shop.json")),
            IdrumJson.Options
        )!;
        var states = scripts
            .Select(s =>
                Logs.Fold(JobWalk.Events(s, TestShop.Shop, DateTimeOffset.UnixEpoch.AddYears(50), new Random(1)))
            )
            .ToList();
        Assert.True(states.Count >= 8);
        Assert.Superset(
            new HashSet<Station>
            {
                Station.Complaint,
                Station.Find,
                Station.Strip,
                Station.Fit,
                Station.Rebuild,
                Station.Prove,
                Station.Close,
            },
            states.Select(s => s.Station).ToHashSet()
        );
        Assert.Contains(states, s => s.Machine.CallBackOf.Length > 0);
        Assert.Contains(states, s => s.Timers.Any(t => !t.Stopped));
        Assert.Contains(states, s => s.Orders.Count > 0);
        Assert.Contains(states, s => s.Closed is { Reason: "" } && s.Proofs.Count == 6 && s.Removals.Count > 10);
    }

    [Fact]
    public void Kinds_of_part_the_code_speaks_of_are_the_vocabularys()
    {
        var spoken = typeof(PartKinds).GetFields().Select(f => (string)f.GetRawConstantValue()!).ToList();
        Assert.NotEmpty(spoken);
        Assert.All(spoken, k => Assert.NotNull(TestShop.Shop.Words.FindKind(k)));
    }
}
