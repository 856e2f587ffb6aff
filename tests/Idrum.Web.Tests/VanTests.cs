using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Supply;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.Extensions.DependencyInjection;

namespace Idrum.Web.Tests;

/// <summary>A shop of two vans: what is taken is out of the one that is there, what lacks is told of each, and nothing is
/// counted twice or lost between them.</summary>
public sealed class VanTests : IAsyncLifetime
{
    private const string Roller = "QD62-ROLLER";
    private const string Idler = "QD62-IDLER";
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private VanDesk Vans => host.Get<VanDesk>();

    private int Holds(string van, string article) => Vans.Find(van)!.Holds.GetValueOrDefault(article);

    private DateOnly Today => host.Shop.Terms.DayOf(DateTimeOffset.UtcNow);

    private void Booked(string job, string person, int day = 0) =>
        host.Get<WeekStore>()
            .Keep([
                new Booking
                {
                    Id = Guid.NewGuid(),
                    Uid = Guid.NewGuid().ToString(),
                    Day = Today.AddDays(day),
                    Place = "Dairy Hinterau",
                    JobNumber = job,
                    Person = person,
                },
            ]);

    private Task<HttpResponseMessage> BuyAsync(string job, string article, string source, int count = 1) =>
        host.PostFormAsync(
            $"/jobs/{job}/parts",
            ("kind", "article-bought"),
            ("articleId", article),
            ("quantity", count.ToString(System.Globalization.CultureInfo.InvariantCulture)),
            ("source", source)
        );

    [Fact]
    public async Task What_a_job_takes_is_out_of_the_van_of_whoever_goes_there_and_comes_back_into_it()
    {
        Assert.Equal((1, 1), (Holds("van-1", Idler), Holds("van-2", Idler)));
        Booked("J-0153", "R. Ebnet");
        var page = await host.Client.GetStringAsync("/jobs/J-0153/parts");
        Assert.Contains("Van 2 holds all of it", page);
        Assert.Equal(HttpStatusCode.SeeOther, (await BuyAsync("J-0153", Idler, "van")).StatusCode);
        Assert.Equal((1, 0), (Holds("van-1", Idler), Holds("van-2", Idler)));
        var line = Assert.Single(host.Store.Find("J-0153")!.State.Lines.Values);
        Assert.Equal("van-2", line.From!.Id);
        Assert.Contains("from Van 2", await host.Client.GetStringAsync("/jobs/J-0153/parts"));
        Assert.Contains(host.Store.Find("J-0153")!.History.Effective, e =>
            e.Words(host.Shop.MachineOf(host.Store.Find("J-0153")!.State)).StartsWith("Taken from Van 2: 1 × ")
        );
        // This van is empty, the other is not: it says so, and takes nothing out of it.
        var none = await BuyAsync("J-0153", Idler, "van");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, none.StatusCode);
        var words = await none.Content.ReadAsStringAsync();
        Assert.Contains("Van 2 holds none of it.", words);
        Assert.Equal(1, Holds("van-1", Idler));
        // It is renamed, and known by its id: what comes back is back in it, also after a restart.
        Assert.Empty(Vans.Keep([.. Vans.Places().Select(p => p.Id == "van-2" ? p with { Name = "The blue one" } : p)]));
        await host.RestartAsync();
        Assert.Equal((1, 0), (Holds("van-1", Idler), Holds("van-2", Idler)));
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (
                await host.PostFormAsync(
                    "/jobs/J-0153/parts",
                    ("kind", "parts-returned"),
                    ("id", Guid.NewGuid().ToString()),
                    ("lineId", line.LineId),
                    ("quantity", "1")
                )
            ).StatusCode
        );
        Assert.Equal((1, 1), (Holds("van-1", Idler), Holds("van-2", Idler)));
    }

    [Fact]
    public void Who_does_it_goes_before_who_was_to_go_there_and_nobody_named_is_the_first_van()
    {
        Assert.Equal("van-1", Vans.Of("J-0153", "").Id);
        Booked("J-0153", "R. Ebnet");
        Assert.Equal("van-2", Vans.Of("J-0153", "").Id);
        Assert.Equal("van-1", Vans.Of("J-0153", "m. tannhof ").Id);
        // Who sits in the office drives none: the appointment says who goes.
        Assert.Equal("van-2", Vans.Of("J-0153", "T. Office").Id);
        // A later appointment of somebody else counts, one that was called off does not.
        Booked("J-0153", "M. Tannhof", 3);
        Assert.Equal("van-1", Vans.Of("J-0153", "").Id);
        var week = host.Get<WeekStore>();
        week.Keep([week.OfJob("J-0153").Single(b => b.Person == "M. Tannhof") with { State = BookingState.Off }]);
        Assert.Equal("van-2", Vans.Of("J-0153", "").Id);
    }

    [Fact]
    public async Task Settings_of_one_van_are_read_and_its_lines_are_still_taken_off()
    {
        var settings = host.Get<SettingStore>();
        Assert.Equal(HttpStatusCode.SeeOther, (await BuyAsync("J-0153", Idler, "van")).StatusCode);
        var old = System.Text.Json.Nodes.JsonNode.Parse(settings.Get("shop-terms"))!.AsObject();
        old.Remove("places");
        old["van"] = new System.Text.Json.Nodes.JsonObject { [Idler] = 2, [Roller] = 5 };
        settings.Set("shop-terms", old.ToJsonString());
        await host.RestartAsync();
        var only = Assert.Single(Vans.Places());
        Assert.Equal(("the van", 1, 5), (only.Name, only.Holds[Idler], only.Holds[Roller]));
        Assert.Contains("From the van", await host.Client.GetStringAsync("/jobs/J-0153/parts"));
        // One van: its page is counted at once, and nothing speaks of several.
        var stock = await host.Client.GetStringAsync("/stock");
        Assert.Contains("Keep what was counted", stock);
        Assert.DoesNotContain("All together", stock);
    }

    private static Loading Wants(params (string Article, int Count)[] things) =>
        new([.. things.Select(t => new ToLoad(t.Article, t.Count, 0, t.Article))], "");

    [Fact]
    public async Task Each_van_lacks_what_its_own_appointments_want_and_the_other_gives_what_it_can_spare()
    {
        Assert.Empty(
            Vans.Keep([
                .. Vans.Places()
                    .Select(p =>
                        p with
                        {
                            Holds = new Dictionary<string, int> { [Roller] = p.Id == "van-1" ? 5 : 1, [Idler] = 1 },
                        }
                    ),
            ])
        );
        Booking Of(string person) =>
            new()
            {
                Id = Guid.NewGuid(),
                Day = Today,
                Person = person,
            };
        Booking[] bookings = [Of("M. Tannhof"), Of("R. Ebnet"), Of("r. ebnet"), Of(""), Of("M. Tannhof")];
        var loads = new Dictionary<Guid, Loading>
        {
            [bookings[0].Id] = Wants((Roller, 2), (Idler, 1)),
            [bookings[1].Id] = Wants((Roller, 2)),
            [bookings[2].Id] = Wants((Roller, 3), (Idler, 1)),
            [bookings[3].Id] = Wants((Idler, 1), (Roller, 1)),
            // The last is not worked out yet.
        };
        using var scope = host.Get<IServiceScopeFactory>().CreateScope();
        var lacks = scope.ServiceProvider.GetRequiredService<WeekDesk>().Lacking(bookings, loads);
        // Van 1 has what it wants. Van 2 wants five rollers and has one; van 1 can spare three of its five.
        var second = lacks[0];
        Assert.Equal(("van-2", 1), (second.Van!.Id, second.Items.Count));
        Assert.Equal((Roller, 5, 1), (second.Items[0].ArticleId, second.Items[0].Count, second.Items[0].Here));
        Assert.Equal(("van-1", 3), (second.Items[0].Elsewhere[0].Place.Id, second.Items[0].Elsewhere[0].Count));
        // Whoever goes without a name finds nothing that is not promised to the vans' own appointments.
        var nobody = lacks[1];
        Assert.Null(nobody.Van);
        Assert.Equal([Idler, Roller], nobody.Items.Select(i => i.ArticleId).Order());
        Assert.All(nobody.Items, i => Assert.Equal((1, 0, 0), (i.Count, i.Here, i.Elsewhere.Count)));
        Assert.Equal(2, lacks.Count);
        // Moved over, it lacks one less each, and nothing more can be moved than is there.
        Task<HttpResponseMessage> MoveAsync(int count, string from = "van-1", string to = "van-2") =>
            MovedAsync(Roller, from, to, count);
        Assert.Equal(HttpStatusCode.SeeOther, (await MoveAsync(3)).StatusCode);
        Assert.Equal((2, 4), (Holds("van-1", Roller), Holds("van-2", Roller)));
        Assert.Contains("Van 1 holds 2 of it", await (await MoveAsync(3)).Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await MoveAsync(0)).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await MoveAsync(1, "van-1", "van-1")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await MoveAsync(1, "van-1", "van-9")).StatusCode);
        Assert.Equal((2, 4), (Holds("van-1", Roller), Holds("van-2", Roller)));
    }

    private async Task<HttpResponseMessage> MovedAsync(string article, string from, string to, int count) =>
        await host.Client.PostAsync(
            "/stock?handler=Moved",
            new FormUrlEncodedContent([
                new("number", article),
                new("from", from),
                new("to", to),
                new("count", count.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                new("next", "/week"),
                new("__RequestVerificationToken", await host.TokenAsync("/stock")),
            ])
        );

    [Fact]
    public async Task What_was_moved_or_opened_is_no_count_and_an_act_that_comes_in_late_is_still_taken_off()
    {
        var before = DateTimeOffset.UtcNow;
        await Task.Delay(20);
        Assert.Equal(HttpStatusCode.SeeOther, (await MovedAsync(Idler, "van-1", "van-2", 1)).StatusCode);
        Assert.Equal((0, 2), (Holds("van-1", Idler), Holds("van-2", Idler)));
        // A phone without a link took one before that, and tells it now.
        var job = host.Store.Find("J-0153")!;
        var article = host
            .Shop.Supplier.For(host.Shop.FindLayout(job.State.Machine.LayoutId)!, "")
            .First(a => a.Id == Idler);
        var late = await host.Store.AppendAsync(
            job.JobId,
            new PartsBought(Idler, "Idler", article.Covers, 1, 1, "van", 0, 21)
            {
                Id = Guid.NewGuid(),
                At = before,
                From = new("van-2", "Van 2"),
            }
        );
        Assert.Equal(AppendOutcome.Added, late.Outcome);
        Assert.Equal((0, 1), (Holds("van-1", Idler), Holds("van-2", Idler)));
        // Another van is counted meanwhile: of this one that says nothing.
        Assert.Empty(
            Vans.Keep([
                .. Vans.Places()
                    .Select(p => p.Id == "van-1" ? p with { Holds = new Dictionary<string, int> { [Idler] = 4 } } : p),
            ])
        );
        foreach (var van in new[] { "van-2", "van-1" })
        {
            late = await host.Store.AppendAsync(
                job.JobId,
                new PartsBought(Idler, "Idler", article.Covers, 1, 1, "van", 0, 21)
                {
                    Id = Guid.NewGuid(),
                    At = before,
                    From = new(van, van),
                }
            );
            Assert.Equal(AppendOutcome.Added, late.Outcome);
        }
        // Of the one that was counted since, it was out already.
        Assert.Equal((4, 0), (Holds("van-1", Idler), Holds("van-2", Idler)));
        // A van that still holds something does not go; emptied, it does.
        IReadOnlyList<StockPlace> First() => [.. Vans.Places().Where(p => p.Id == "van-1")];
        Assert.Contains("Van 2 still holds", Assert.Single(Vans.Keep(First())).Message);
        Assert.Empty(
            Vans.Keep([
                .. Vans.Places().Select(p => p.Id == "van-2" ? p with { Holds = new Dictionary<string, int>() } : p),
            ])
        );
        Assert.Empty(Vans.Keep(First()));
        Assert.Single(Vans.Places());
    }

    [Fact]
    public async Task One_van_is_counted_at_a_time_and_what_to_order_goes_by_all_together()
    {
        var all = await host.Client.GetStringAsync("/stock");
        Assert.Contains("Count Van 2", all);
        Assert.DoesNotContain("Keep what was counted", all);
        var others = Vans.Find("van-1")!.Holds;
        async Task<HttpResponseMessage> CountAsync(string address) =>
            await host.Client.PostAsync(
                address,
                new FormUrlEncodedContent([
                    new("n:" + Idler, "7"),
                    new("service", "90"),
                    new("__RequestVerificationToken", await host.TokenAsync("/stock")),
                ])
            );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await CountAsync("/stock")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await CountAsync("/stock?in=van-9")).StatusCode);
        Assert.Equal(HttpStatusCode.SeeOther, (await CountAsync("/stock?in=van-2")).StatusCode);
        Assert.Equal(7, Holds("van-2", Idler));
        Assert.Equal(others.OrderBy(o => o.Key), Vans.Find("van-1")!.Holds.OrderBy(o => o.Key));
        using var scope = host.Get<IServiceScopeFactory>().CreateScope();
        Assert.Equal(
            8,
            scope.ServiceProvider.GetRequiredService<StockDesk>().Lines().Single(l => l.Number == Idler).Here
        );
    }
}
