using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>"Can't tell" is always an answer: what was asked and cannot be told is not asked again, and there is always
/// something to do next.</summary>
public class UntoldTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Whoever_can_tell_nothing_is_never_asked_the_same_again_and_comes_to_an_end(string layoutId)
    {
        var diagnostician = TestShop.Machine(layoutId).Diagnostician;
        var catalog = diagnostician.Model.Catalog;
        var complaints = diagnostician.Model.Findings.Where(f => f.Group == FindingGroup.Complaint).Select(f => f.Id);
        foreach (var complaint in TestSize.Every(3, complaints.Append("burning")))
        {
            var untold = new HashSet<string>();
            var told = new Dictionary<string, string> { [complaint] = "yes" };
            DiagnosisRequest Known() => new(told, [], ComplaintsTold: true) { Untold = [.. untold] };
            var result = diagnostician.Diagnose(Known());
            while (result.Advice.Kind == AdviceKind.Check)
            {
                Assert.DoesNotContain(result.Checks, c => untold.Contains(c.Finding.Id));
                Assert.True(
                    untold.Add(result.Advice.Id),
                    $"{layoutId}, {complaint}: {result.Advice.Id} is asked again"
                );
                Assert.True(untold.Count < 40, $"{layoutId}, {complaint}: no end of asking");
                result = diagnostician.Diagnose(Known());
            }
            // Nothing that runs it was offered while nobody could smell, look or turn.
            Assert.True(
                complaint != "burning" || untold.All(c => !catalog.FindFinding(c)!.Runs),
                string.Join(' ', untold)
            );
            Assert.Contains(result.Advice.Kind, Enum.GetValues<AdviceKind>().Except([AdviceKind.Check]));
        }
    }

    [Fact]
    public void What_cannot_be_told_says_nothing()
    {
        var diagnostician = TestShop.Machine("ostrel-ot50").Diagnostician;
        var told = new Dictionary<string, string> { ["squeal"] = "yes" };
        var before = diagnostician.Diagnose(new(told, [], ComplaintsTold: true));
        var after = diagnostician.Diagnose(new(told, [], ComplaintsTold: true) { Untold = [before.Advice.Id] });
        Assert.Equal(
            before.Causes.Select(c => (c.Fault.Id, c.Probability)),
            after.Causes.Select(c => (c.Fault.Id, c.Probability))
        );
        Assert.NotEqual(before.Advice.Id, after.Advice.Id);
    }
}
