using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>One tap that says several things: all of them or none, once however often it is sent.</summary>
public class AtOnceTests(TestHost host) : IClassFixture<TestHost>
{
    [Fact]
    public async Task A_job_is_opened_with_its_complaint_and_what_cannot_be_a_complaint_opens_none()
    {
        var job = Guid.NewGuid();
        (string, string)[] Form(string number, params string[] findings) =>
            [
                ("kind", "opened"),
                ("id", job.ToString()),
                ("jobId", job.ToString()),
                ("number", number),
                ("machine.layoutId", "ostrel-ot50"),
                ("machine.place", "Flat 7"),
                ("machine.units", "mm"),
                ("machine.energy", "electric"),
                ("machine.connection", "plug"),
                ("words", "Since the holidays."),
                .. findings.Select(f => ("findings", f)),
            ];
        var refused = await host.PostFormAsync("/jobs/new?machine=ostrel-ot50", Form("J-AT-1", "purple"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        // Nothing typed is lost.
        Assert.Contains("Since the holidays.", await refused.Content.ReadAsStringAsync());
        Assert.Null(host.Store.Find(job));
        for (var again = 0; again < 2; again++)
        {
            var answer = await host.PostFormAsync("/jobs/new?machine=ostrel-ot50", Form("J-AT-1", "squeal", "thump"));
            Assert.Equal("/jobs/J-AT-1/find", answer.Headers.Location?.ToString());
        }
        var stored = host.Store.Find(job)!;
        Assert.Equal(["squeal", "thump"], stored.State.Complaints.Order());
        Assert.Equal("Since the holidays.", stored.State.Words);
        Assert.Equal(2, stored.Version);
        // Without one it is asked next.
        var other = Guid.NewGuid();
        var bare = await host.PostFormAsync(
            "/jobs/new?machine=ostrel-ot50",
            ("kind", "opened"),
            ("id", other.ToString()),
            ("jobId", other.ToString()),
            ("number", "J-AT-2"),
            ("machine.layoutId", "ostrel-ot50"),
            ("machine.place", "Flat 8"),
            ("machine.units", "mm"),
            ("machine.energy", "electric"),
            ("machine.connection", "plug"),
            ("words", " ")
        );
        Assert.Equal("/jobs/J-AT-2/complaint", bare.Headers.Location?.ToString());
    }

    [Fact]
    public async Task Both_rollers_and_all_that_one_run_tells_are_said_once_each()
    {
        var job = await StrippedAsync("J-AT-3", "roller-left", "roller-right");
        Assert.Equal(
            "/jobs/J-AT-3/fit",
            (await host.Client.GetAsync("/jobs/J-AT-3/floor")).Headers.Location?.ToString()
        );
        Assert.Contains("Open far enough.", await host.Client.GetStringAsync("/jobs/J-AT-3/fit"));
        var id = Guid.NewGuid().ToString();
        for (var again = 0; again < 2; again++)
        {
            var answer = await host.PostFormAsync(
                "/jobs/J-AT-3/fit",
                ("kind", "part-fitted"),
                ("id", id),
                ("partId", "roller-left"),
                ("twins", "roller-right"),
                // What is no twin is not taken with it.
                ("twins", "belt"),
                ("action", "all-replaced"),
                ("source", PartSource.Had),
                ("seats", "yes"),
                ("school", ""),
                ("note", "")
            );
            Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        }
        var now = host.Store.Find(job)!;
        Assert.Equal<PartId>(["roller-left", "roller-right"], now.State.Fitted.Keys.Order());
        Assert.Equal(2, now.Log.OfType<PartFitted>().Count());
        Assert.Equal(2, now.Log.OfType<StepRefitted>().Count());
        var machine = host.Get<Core.Shop.ShopKeeper>().Now.MachineOf(now.State);
        while (JobPlan.WayBack(now.State, machine) is [var move, ..])
        {
            now = await DoAsync(job, StepForward.In(now.State, move));
        }
        // What is owed is shown before it is proved.
        Assert.Equal(
            "/jobs/J-AT-3/rebuild",
            (await host.Client.GetAsync("/jobs/J-AT-3/floor")).Headers.Location?.ToString()
        );
        await DoAsync(job, new OwedSettled([.. Owed.Open(now.State, machine).Select(o => o.Id)], OwedOutcome.Done, ""));
        Assert.Equal(
            "/jobs/J-AT-3/prove",
            (await host.Client.GetAsync("/jobs/J-AT-3/floor")).Headers.Location?.ToString()
        );
        await DoAsync(job, new ProofRecorded("hand-turn", ProofOutcome.Right, null, ""));
        Assert.DoesNotContain("all-right", await host.Client.GetStringAsync("/jobs/J-AT-3/prove"));
        await DoAsync(job, new ProofRecorded("power-on", ProofOutcome.Right, null, ""));
        Assert.Contains("All 4 right", await host.Client.GetStringAsync("/jobs/J-AT-3/prove"));
        Assert.DoesNotContain("all-right", await host.Client.GetStringAsync("/jobs/J-AT-3/prove?proof=door"));
        var run = Guid.NewGuid().ToString();
        for (var again = 0; again < 2; again++)
        {
            var answer = await host.PostFormAsync(
                "/jobs/J-AT-3/prove",
                ("kind", "proof-recorded"),
                ("id", run),
                ("proofId", "run"),
                ("together", "run"),
                ("together", "listen"),
                ("together", "air"),
                ("outcome", "all-right"),
                ("value", "6,5"),
                ("note", "")
            );
            Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        }
        var proofs = host.Store.Find(job)!.State.Proofs;
        // The figure is the air's, and what the page did not show is not said.
        Assert.Equal(["air", "hand-turn", "listen", "power-on", "run"], proofs.Keys.Order());
        Assert.Equal((6.5, (double?)null), (proofs["air"].Value, proofs["run"].Value));
        Assert.Equal(5, host.Store.Find(job)!.Log.OfType<ProofRecorded>().Count());
        // One tap said it, one tap takes it back, whichever of them it names; another brings all of it again.
        foreach (var named in new[] { host.Store.Find(job)!.History.LastAct!.Id, Guid.Parse(run) })
        {
            Assert.Contains(", and 2 more said with it", await host.Client.GetStringAsync("/jobs/J-AT-3/prove"));
            await TwiceAsync("undone", named);
            Assert.Equal(["hand-turn", "power-on"], host.Store.Find(job)!.State.Proofs.Keys.Order());
            Assert.Contains(", and 2 more said with it", await host.Client.GetStringAsync("/jobs/J-AT-3/prove"));
            await TwiceAsync("restored", host.Store.Find(job)!.History.LastTakenBack!.Id);
            Assert.Equal(
                ["air", "hand-turn", "listen", "power-on", "run"],
                host.Store.Find(job)!.State.Proofs.Keys.Order()
            );
        }
        // What was said by itself before goes by itself.
        await TwiceAsync("undone", Guid.Parse(run));
        var alone = host.Store.Find(job)!.History.LastAct!;
        Assert.Equal("power-on", ((ProofRecorded)alone).ProofId);
        await TwiceAsync("undone", alone.Id);
        Assert.Equal(["hand-turn"], host.Store.Find(job)!.State.Proofs.Keys);
    }

    private async Task TwiceAsync(string kind, Guid act)
    {
        var id = Guid.NewGuid().ToString();
        for (var again = 0; again < 2; again++)
        {
            var answer = await host.PostFormAsync(
                "/jobs/J-AT-3/prove",
                ("kind", kind),
                ("id", id),
                ("eventId", act.ToString())
            );
            Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        }
    }

    private async Task<StoredJob> DoAsync(Guid id, JobEvent e) =>
        (await host.Store.AppendAsync(id, e with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow })).Job!;

    private async Task<Guid> StrippedAsync(string number, params PartId[] parts)
    {
        var id = Guid.NewGuid();
        await DoAsync(id, new JobOpened(number, new() { LayoutId = "ostrel-ot50", Place = "Cellar" }));
        var job = await DoAsync(id, new TargetsChosen(parts, "", new Dictionary<string, OperationId>(), "x"));
        var machine = host.Get<Core.Shop.ShopKeeper>().Now.MachineOf(job.State);
        job = await DoAsync(id, new SafetySigned([.. JobSafety.Of(job.State, machine).Select(i => i.Id)], "A. Hand"));
        while (JobPlan.Of(job.State, machine) is { Removal: [var next, ..] })
        {
            job = await DoAsync(id, StepForward.Out(job.State, machine.Layout, next));
        }
        return id;
    }
}
