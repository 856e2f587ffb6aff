using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Jobs;

/// <summary>One reading through the house: taken, judged, believed by Find, gone when taken back, told from the reading
/// after the repair, and remembered by the next job on the tag.</summary>
public class GaugedSetTests
{
    private static readonly Idrum.Core.Shop.MachineKnowledge Machine = TestShop.Machine("marlune-ml45");
    private static readonly DateTimeOffset Noon = new(2026, 11, 1, 12, 0, 0, TimeSpan.Zero);

    private static GaugeRead Read(
        string protocol,
        string part,
        string position,
        double value,
        double afterMinutes = 0
    ) => new(protocol, part, position, value) { Id = Guid.NewGuid(), At = Noon.AddMinutes(afterMinutes) };

    private static JobState Of(params JobEvent[] acts) => JobHistory.Of(acts).State;

    private static double Probability(JobState state, string fault, string complaint) =>
        Machine
            .Diagnostician.Diagnose(
                QuestionOfJob.Of(state, Machine, new Dictionary<string, string> { [complaint] = "yes" }),
                CancellationToken.None
            )
            .Causes.Where(c => c.Fault.Id == fault)
            .Sum(c => c.Probability);

    private static readonly string[] Rollers =
    [
        "front-roller-left",
        "front-roller-right",
        "rear-roller-left",
        "rear-roller-right",
    ];

    [Fact]
    public void A_flat_that_is_read_is_believed_and_sound_rollers_speak_against_one()
    {
        var none = Probability(JobState.Empty, "roller-flat", "thump");
        var flat = Of(Read("roller", Rollers[0], "largest", 71.9), Read("roller", Rollers[0], "smallest", 70.9));
        Assert.True(Probability(flat, "roller-flat", "thump") > Math.Min(0.95, 1.5 * none));
        var sound = Of([
            .. Rollers.SelectMany(
                (r, i) =>
                    new[]
                    {
                        Read("roller", r, "largest", i < 2 ? 71.9 : 75.9),
                        Read("roller", r, "smallest", i < 2 ? 71.8 : 75.8),
                    }
            ),
        ]);
        Assert.True(Probability(sound, "roller-flat", "thump") < 0.5 * none);
        // Of several the one that speaks for wear is heard.
        var one = Of([
            .. sound.Gauged.Where(g => g.PartId != Rollers[2]),
            Read("roller", Rollers[2], "largest", 75.9),
            Read("roller", Rollers[2], "smallest", 74.8),
        ]);
        Assert.True(Probability(one, "roller-flat", "thump") > none);
    }

    [Fact]
    public void An_answer_to_the_same_check_wins_and_a_reading_taken_back_says_nothing()
    {
        var (a, b) = (Read("roller", Rollers[0], "largest", 71.9), Read("roller", Rollers[0], "smallest", 70.9));
        var state = Of(a, b);
        var known = new Dictionary<string, string> { ["thump"] = "yes", ["roller-tread"] = "round" };
        double With(JobState s) =>
            Machine
                .Diagnostician.Diagnose(QuestionOfJob.Of(s, Machine, known), CancellationToken.None)
                .Causes.Single(c => c.Fault.Id == "roller-flat")
                .Probability;
        Assert.Equal(With(JobState.Empty), With(state), 9);
        var back = Of(a, b, new Undone(b.Id) { Id = Guid.NewGuid(), At = Noon });
        var set = Assert.Single(GaugedSet.Of(back, Machine));
        Assert.Null(set.Result);
        Assert.Contains("One more", set.Wants, StringComparison.Ordinal);
        Assert.Empty(GaugedSet.Evidence(back, Machine));
    }

    [Fact]
    public void What_is_read_after_the_repair_is_its_proof_and_no_evidence_of_before()
    {
        var fitted = new PartFitted("front-felt", FittedAs.Replaced, "", [], "")
        {
            Id = Guid.NewGuid(),
            At = Noon.AddMinutes(30),
        };
        var state = Of(
            Read("front-felt", "front-felt", "load", 0.8),
            fitted,
            Read("front-felt", "front-felt", "load", 5.9, 60)
        );
        var sets = GaugedSet.Of(state, Machine);
        Assert.Equal([false, true], sets.Select(s => s.After));
        Assert.Equal([GaugeVerdict.Replace, GaugeVerdict.Good], sets.Select(s => s.Result!.Verdict));
        var (before, after) = Assert.Single(GaugedSet.Again(sets));
        Assert.Equal((0.8, 5.9), (before.Result!.Quantity.Value, after!.Result!.Quantity.Value));
        var evidence = Assert.Single(GaugedSet.Evidence(state, Machine));
        Assert.NotEqual("thick", evidence.Likelihoods.MaxBy(l => l.Value).Key);
    }

    [Fact]
    public void The_next_job_on_the_tag_knows_what_wore_but_not_of_a_part_that_was_changed()
    {
        var card = new MachineCard
        {
            LayoutId = "marlune-ml45",
            Tag = "T-9",
            UsesPerWeek = 10,
        };
        JobState Job(DateTimeOffset at, params JobEvent[] acts) =>
            Of([new JobOpened("J-1", card) { Id = Guid.NewGuid(), At = at }, .. acts]);
        var first = Job(Noon.AddDays(-700), Read("front-felt", "front-felt", "load", 4.8, -700 * 1440 + 5));
        var now = Job(Noon, Read("front-felt", "front-felt", "load", 2.8, 5));
        var set = Assert.Single(GaugedSet.Of(now, Machine, null, [first]));
        // A hundred weeks of ten loads of three quarters of an hour took two millimetres; eight tenths are left.
        Assert.InRange(set.Result!.HoursLeft!.Value.Hours, 290, 310);
        // At seven and a half hours a week some forty weeks; the customer is told, and not of what was renewed.
        Assert.InRange((set.Until(now)!.Value - Noon).TotalDays, 260, 295);
        Idrum.Core.Money.ShopTerms terms = new();
        var told = Assert.Single(CustomerWord.Of(now, Machine, terms, Noon, [first]).Watch);
        Assert.Contains("near its limit; likely until August 2027", told, StringComparison.Ordinal);
        var renewed = now with
        {
            Fitted = now.Fitted.Add(
                "front-felt",
                new("front-felt", FittedAs.Replaced, "", [], "") { Id = Guid.NewGuid(), At = Noon.AddHours(1) }
            ),
        };
        Assert.Empty(CustomerWord.Of(renewed, Machine, terms, Noon, [first]).Watch);
        var changed = Job(
            Noon.AddDays(-700),
            Read("front-felt", "front-felt", "load", 4.8, -700 * 1440 + 5),
            new PartFitted("front-felt", FittedAs.Replaced, "", [], "") { Id = Guid.NewGuid(), At = Noon.AddDays(-699) }
        );
        Assert.Null(Assert.Single(GaugedSet.Of(now, Machine, null, [changed])).Result!.HoursLeft);
    }

    [Fact]
    public void A_limit_of_ones_own_changes_the_verdict_and_is_taken_away_again()
    {
        var read = Read("front-felt", "front-felt", "load", 2.6);
        var limit = new GaugeLimitSet("front-felt", "front-felt", 3.2, "Launderette: until spring")
        {
            Id = Guid.NewGuid(),
            At = Noon,
        };
        Assert.NotEqual(GaugeVerdict.Replace, GaugedSet.Of(Of(read), Machine)[0].Result!.Verdict);
        Assert.Equal(GaugeVerdict.Replace, GaugedSet.Of(Of(read, limit), Machine)[0].Result!.Verdict);
        var off = new GaugeLimitSet("front-felt", "front-felt", null, "") { Id = Guid.NewGuid(), At = Noon };
        Assert.NotEqual(GaugeVerdict.Replace, GaugedSet.Of(Of(read, limit, off), Machine)[0].Result!.Verdict);
    }

    [Theory]
    [InlineData("roller", "front-roller-left", "largest", 3.0, "", "value")]
    [InlineData("roller", "front-roller-left", "underneath", 72.0, "", "position")]
    [InlineData("roller", "belt", "largest", 72.0, "", "partId")]
    [InlineData("roller", "front-roller-left", "largest", 72.0, "kg", "unit")]
    [InlineData("nothing", "", "", 1.0, "", "protocol")]
    public void A_reading_that_cannot_be_is_refused_at_its_field(
        string protocol,
        string part,
        string position,
        double value,
        string unit,
        string field
    )
    {
        var open = JobHistory.Of([
            new JobOpened("J-1", new() { LayoutId = "marlune-ml45" }) { Id = Guid.NewGuid(), At = Noon },
        ]);
        var errors = JobRules.Check(
            open,
            new GaugeRead(protocol, part, position, value, unit) { Id = Guid.NewGuid(), At = Noon },
            TestShop.Shop,
            null
        );
        Assert.Contains(field, errors.Select(e => e.Pointer));
    }

    [Fact]
    public void Simulated_tools_read_the_worn_part_as_worn_the_sound_one_as_sound_and_now_and_then_amiss()
    {
        var book = Machine.Handbook.Gauging;
        foreach (
            var (fault, protocol) in new[]
            {
                ("roller-flat", "roller"),
                ("front-felt-worn", "front-felt"),
                ("shaft-grooved", "shaft"),
            }
        )
        {
            var how = book.Find(protocol)!;
            for (var seed = 1; seed <= 12; seed++)
            {
                var tools = new SimulatedTools(Machine, [fault], seed);
                var verdicts = how.PartsOf(Machine.Layout)
                    .Select(part =>
                    {
                        var readings = how
                            .Positions.Where(p => p.Id != "square")
                            .SelectMany(p =>
                                Enumerable
                                    .Range(0, 3)
                                    .Select(n => new GaugeReading(
                                        tools.Read(how, part, p, 0, n, false)!.Value,
                                        "",
                                        p.Id
                                    ))
                            );
                        // What does not fit is asked about; whoever is asked takes it back.
                        List<GaugeReading> kept = [.. readings];
                        GaugeResult Ask() =>
                            Gauge.Of(how, Machine.Layout, part, kept, new(book, [Machine.Layout], 50)).Result!;
                        foreach (var odd in Ask().Outliers.Reverse())
                        {
                            kept.RemoveAt(odd);
                        }
                        return Ask().Verdict;
                    })
                    .ToList();
                Assert.True(
                    verdicts.Count(v => v == GaugeVerdict.Replace) == 1,
                    $"{fault} {seed}: {string.Join(", ", verdicts)}"
                );
            }
        }
        // The same machine reads the same; one reading in forty is a slip of the eye.
        var felt = book.Find("front-felt")!;
        var part_ = felt.PartsOf(Machine.Layout)[0];
        var reads = Enumerable
            .Range(0, 400)
            .Select(n => new SimulatedTools(Machine, [], 5).Read(felt, part_, felt.Positions[0], 0, n, false)!.Value)
            .ToList();
        Assert.Equal(reads[7], new SimulatedTools(Machine, [], 5).Read(felt, part_, felt.Positions[0], 0, 7, false));
        var middle = reads.Order().ElementAt(200);
        Assert.InRange(reads.Count(r => Math.Abs(r - middle) > 0.7), 3, 25);
    }
}
