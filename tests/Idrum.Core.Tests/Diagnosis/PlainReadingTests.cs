using Idrum.Core.Diagnosis;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>What a reading leaves no doubt of is gone by as if it had been answered: the trade does not care whether a dead outlet was said
/// or read.</summary>
public sealed class PlainReadingTests
{
    public static TheoryData<string> Layouts() => [.. TestShop.Shop.Layouts.Select(l => l.Id)];

    private static DiagnosisRequest Dead(
        IReadOnlyDictionary<string, string> also,
        params (string Finding, string[] Outcomes, double Against)[] read
    ) =>
        new(new Dictionary<string, string>(also) { ["nothing-runs"] = "yes" }, [], ComplaintsTold: true)
        {
            Graded =
            [
                .. read.Select(r => new GradedFinding(
                    r.Finding,
                    r.Outcomes.Select((o, i) => (o, i)).ToDictionary(x => x.o, x => x.i == 0 ? 1 : 1 / r.Against),
                    EvidenceSource.Reading
                )),
            ],
        };

    [Theory]
    [MemberData(nameof(Layouts))]
    public void A_dead_outlet_that_was_measured_is_handed_over_and_nothing_is_opened(string id)
    {
        var machine = TestShop.Shop.For(TestShop.Shop.FindLayout(id)!);
        if (machine.Diagnostician.Model.IndexOfFinding("supply") < 0)
        {
            return;
        }
        var said = machine.Diagnostician.NextAct(Dead(new Dictionary<string, string> { ["supply"] = "dead" })).Advice;
        var read = machine
            .Diagnostician.NextAct(Dead(new Dictionary<string, string>(), ("supply", ["dead", "good"], 50)))
            .Advice;
        Assert.Equal((AdviceKind.Refer, "no-supply"), (read.Kind, read.Id));
        Assert.Equal((said.Kind, said.Id), (read.Kind, read.Id));
        // A reading that leaves doubt settles nothing.
        var doubt = machine
            .Diagnostician.NextAct(Dead(new Dictionary<string, string>(), ("supply", ["dead", "good"], 3)))
            .Advice;
        Assert.NotEqual(AdviceKind.Refer, doubt.Kind);
        // What was answered goes before what was read.
        var good = machine
            .Diagnostician.NextAct(
                Dead(new Dictionary<string, string> { ["supply"] = "good" }, ("supply", ["dead", "good"], 50))
            )
            .Advice;
        Assert.NotEqual("no-supply", good.Id);
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void What_is_advised_by_a_plain_reading_is_what_is_advised_by_the_same_answer(string id)
    {
        var machine = TestShop.Shop.For(TestShop.Shop.FindLayout(id)!);
        var model = machine.Diagnostician.Model;
        var book = TestShop.Shop.Handbook.Gauging;
        var (asked, alike) = (0, 0);
        string[] complaints =
        [
            .. new[] { "squeal", "thump", "drum-stands", "hums" }.Where(c => model.IndexOfFinding(c) >= 0),
        ];
        // Every machine, and by turns every complaint; each of them on each machine in a long run.
        var turn = TestShop.Shop.Layouts.TakeWhile(l => l.Id != id).Count();
        foreach (var complaint in TestSize.Long ? complaints : [complaints[turn % complaints.Length]])
        {
            foreach (
                var finding in book
                    .Protocols.Where(p => p.On(machine.Layout))
                    .Select(p =>
                        model.Catalog.FindFinding(
                            p.FindingOf(p.PartsOf(machine.Layout) is [var part, ..] ? part : null)
                        )
                    )
                    .OfType<Finding>()
                    .Where(f => model.IndexOfFinding(f.Id) >= 0)
                    .Distinct()
            )
            {
                foreach (var outcome in finding.Outcomes)
                {
                    var told = new Dictionary<string, string> { [complaint] = "yes" };
                    var answer = machine
                        .Diagnostician.NextAct(
                            new(
                                new Dictionary<string, string>(told) { [finding.Id] = outcome.Id },
                                [],
                                ComplaintsTold: true
                            )
                        )
                        .Advice;
                    var reading = machine
                        .Diagnostician.NextAct(
                            new(told, [], ComplaintsTold: true)
                            {
                                Graded =
                                [
                                    new(
                                        finding.Id,
                                        finding.Outcomes.ToDictionary(o => o.Id, o => o == outcome ? 1 : 0.001),
                                        EvidenceSource.Reading
                                    ),
                                ],
                            }
                        )
                        .Advice;
                    asked++;
                    alike += (answer.Kind, answer.Id) == (reading.Kind, reading.Id) ? 1 : 0;
                }
            }
        }
        // One in a thousand is left to the other outcomes: advice at the edge may turn.
        Assert.True(asked > 8, $"{asked}");
        Assert.True(alike >= 0.9 * asked, $"{alike} of {asked} alike");
    }
}
