using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Storage;
using Idrum.Web.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Tests;

/// <summary>"Replaced" says where the new one is from, and the van's stock follows.</summary>
public class SourceTests(TestHost host) : IClassFixture<TestHost>
{
    private async Task<StoredJob> StrippedAsync(string part)
    {
        var id = Guid.NewGuid();
        async Task<StoredJob> DoAsync(JobEvent e) =>
            (await host.Store.AppendAsync(id, e with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow })).Job!;
        await DoAsync(new JobOpened(host.Store.NextNumber(), new() { LayoutId = "quenby-qd62", Place = "Cellar" }));
        var job = await DoAsync(new TargetsChosen([part], "", new Dictionary<string, OperationId>(), "x"));
        var machine = host.Get<Core.Shop.ShopKeeper>().Now.MachineOf(job.State);
        job = await DoAsync(new SafetySigned([.. JobSafety.Of(job.State, machine).Select(i => i.Id)], "A. Hand"));
        while (JobPlan.Of(job.State, machine) is { Removal: [var next, ..] })
        {
            job = await DoAsync(StepForward.Out(job.State, machine.Layout, next));
        }
        return job;
    }

    private async Task<HttpResponseMessage> FitAsync(StoredJob job, string part, string source, Guid id) =>
        await host.Client.PostAsync(
            $"/jobs/{job.State.Number}/fit",
            new FormUrlEncodedContent([
                new("kind", "part-fitted"),
                new("id", id.ToString()),
                new("partId", part),
                new("action", "replaced"),
                new("source", source),
                new("school", ""),
                new("note", ""),
                new("next", $"/jobs/{job.State.Number}/fit"),
                new("__RequestVerificationToken", await host.TokenAsync("/shop")),
            ])
        );

    [Fact]
    public async Task Out_of_the_van_it_is_taken_and_fitted_at_once_and_an_empty_van_says_so_at_the_field()
    {
        var vans = host.Get<VanDesk>();
        const string part = "front-roller-left";
        Assert.Empty(
            vans.Keep([
                .. vans.Places()
                    .Select(
                        (p, i) => p with { Holds = new Dictionary<string, int> { ["QD62-ROLLER"] = i == 0 ? 1 : 0 } }
                    ),
            ])
        );
        var (first, second) = (await StrippedAsync(part), await StrippedAsync(part));
        var page = await host.Client.GetStringAsync($"/jobs/{first.State.Number}/fit");
        Assert.Matches("value=\"van\"[^>]*checked", page);
        // The phone that takes the job along knows it too.
        Assert.Matches(
            "value=\"van\"[^>]*checked",
            await host.Client.GetStringAsync($"/jobs/{first.State.Number}/package")
        );
        var id = Guid.NewGuid();
        for (var again = 0; again < 2; again++)
        {
            Assert.Equal(HttpStatusCode.SeeOther, (await FitAsync(first, part, PartSource.Van, id)).StatusCode);
        }
        // Sent twice it is one act, under the id the device gave it: that is what it takes back.
        var fitted = Assert.Single(host.Store.Find(first.JobId)!.Log.OfType<PartFitted>());
        Assert.Equal(id, fitted.Id);
        Assert.Single(host.Store.Find(first.JobId)!.Log.OfType<PartsBought>());
        var now = host.Store.Find(first.JobId)!.State;
        Assert.Equal(PartSource.Van, now.Fitted[part].Source);
        Assert.Equal(1, now.Lines.Values.Single().Came);
        Assert.Equal(0, vans.Together()["QD62-ROLLER"]);
        // The van is empty now: said at the field, nothing stored, and what was picked stays picked.
        var version = host.Store.Find(second.JobId)!.Version;
        var refused = await FitAsync(second, part, PartSource.Van, Guid.NewGuid());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var said = WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync());
        Assert.Contains("the van holds none", said, StringComparison.Ordinal);
        Assert.Matches("value=\"van\"[^>]*checked", said);
        Assert.Equal(version, host.Store.Find(second.JobId)!.Version);
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (await FitAsync(second, part, PartSource.Customer, Guid.NewGuid())).StatusCode
        );
        Assert.Contains(
            "replaced, the customer's own",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync($"/jobs/{second.State.Number}/report")),
            StringComparison.Ordinal
        );
    }
}
