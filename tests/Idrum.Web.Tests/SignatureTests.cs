using System.Net;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Money;
using SkiaSharp;

namespace Idrum.Web.Tests;

/// <summary>An estimate signed on the glass: the signature is a file of the act, an empty one is none, and a later estimate
/// makes it void where everybody sees it.</summary>
public sealed class SignatureTests : IAsyncLifetime
{
    private const string Number = "J-0149";
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    [Fact]
    public async Task A_signature_is_kept_with_its_act_and_void_under_a_later_estimate()
    {
        var estimate = await GiveAsync(100);
        Assert.Equal(HttpStatusCode.Created, (await SignAsync(estimate, "B. Tenant", Written())).StatusCode);
        var state = host.Store.Find(Number)!.State;
        Assert.Equal("B. Tenant", state.Approval!.Name);
        var signed = Assert.Single(state.Signatures);
        var page = await host.Client.GetStringAsync($"/jobs/{Number}/estimate");
        Assert.Contains($"/jobs/{Number}/files/{signed.SignatureId}", page);
        Assert.DoesNotContain("Void:", page);
        var picture = await host.Client.GetAsync($"/jobs/{Number}/files/{signed.SignatureId}");
        Assert.Equal("image/jpeg", picture.Content.Headers.ContentType!.MediaType);
        // Signed once, it is agreed to.
        Assert.Contains("agreed to already", await SaidAsync(await SignAsync(estimate, "B. Tenant", Written())));

        await GiveAsync(140);
        Assert.Null(host.Store.Find(Number)!.State.Approval);
        var after = await host.Client.GetStringAsync($"/jobs/{Number}/estimate");
        Assert.Contains("Void:", after);
        Assert.DoesNotContain($"files/{signed.SignatureId}", after);
        // The old sheet cannot be signed any more.
        Assert.Contains("newer estimate", await SaidAsync(await SignAsync(estimate, "B. Tenant", Written())));
    }

    [Fact]
    public async Task An_empty_signature_one_without_a_name_and_what_is_no_picture_are_refused()
    {
        var estimate = await GiveAsync(100);
        Assert.Contains("Nothing is written", await SaidAsync(await SignAsync(estimate, "B. Tenant", Sheet())));
        Assert.Contains("Fill this in", await SaidAsync(await SignAsync(estimate, " ", Written())));
        Assert.Contains("not a picture", await SaidAsync(await SignAsync(estimate, "B. Tenant", [1, 2, 3])));
        Assert.Empty(host.Store.Find(Number)!.State.Signatures);
    }

    [Fact]
    public async Task The_signature_goes_with_the_customers_data_and_the_chain_holds()
    {
        var estimate = await GiveAsync(100);
        await SignAsync(estimate, "B. Tenant", Written());
        var signed = host.Store.Find(Number)!.State.Signatures[0];
        var gone = signed.WithoutCustomer();
        Assert.DoesNotContain("Tenant", JsonSerializer.Serialize(gone, IdrumJson.Options));
        Assert.Equal(signed.Id, gone.Id);
    }

    [Theory]
    [InlineData("+43 (0)660 12 34 56", true)]
    [InlineData("0660/1234567", true)]
    [InlineData("call me", false)]
    [InlineData("12", false)]
    [InlineData("0660 1234567\n", false)]
    public async Task A_telephone_number_is_digits(string telephone, bool taken)
    {
        var answer = await host.PostJsonAsync(
            $"/api/v1/jobs/{Guid.NewGuid()}/events",
            new JobOpened(
                "T-1",
                new MachineCard
                {
                    LayoutId = "ostrel-ot50",
                    Place = "Cellar",
                    Telephone = telephone,
                    Address = "Lane 3",
                }
            )
            {
                Id = Guid.NewGuid(),
                At = DateTimeOffset.UtcNow,
            }
        );
        Assert.Equal(taken, answer.IsSuccessStatusCode);
        if (!taken)
        {
            Assert.Contains("machine.telephone", await answer.Content.ReadAsStringAsync());
        }
        else
        {
            var page = await host.Client.GetStringAsync("/jobs/T-1/complaint");
            Assert.Contains("href=\"tel:", page);
            Assert.Contains("Lane 3", page);
            // A call-back knows them; whoever is taken out is gone from both.
            Assert.Contains("Lane 3", await host.Client.GetStringAsync("/jobs/new?callback=T-1"));
            var removed = new JobOpened("T-1", host.Store.Find("T-1")!.State.Machine).WithoutCustomer();
            var text = JsonSerializer.Serialize(removed, IdrumJson.Options);
            Assert.DoesNotContain("Lane", text);
            Assert.DoesNotContain("660", text);
        }
    }

    private async Task<string> GiveAsync(double each)
    {
        var sum = new Sum("EUR", [new("labour", "Work", 1, "h", each)], 20);
        var given = new EstimateGiven(sum, sum.Total, sum.Total, "")
        {
            Id = Guid.NewGuid(),
            At = DateTimeOffset.UtcNow,
        };
        var answer = await host.PostJsonAsync($"/api/v1/jobs/{host.Store.Find(Number)!.JobId}/events", (JobEvent)given);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return given.Id.ToString("N");
    }

    private async Task<HttpResponseMessage> SignAsync(string estimate, string name, byte[] png)
    {
        JobEvent act = new EstimateSigned(estimate, name, "") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        using var form = new MultipartFormDataContent
        {
            { new StringContent(JsonSerializer.Serialize(act, IdrumJson.Options)), "act" },
            { new ByteArrayContent(png), "file", "signature.png" },
        };
        return await host.Client.PostAsync($"/api/v1/jobs/{host.Store.Find(Number)!.JobId}/events", form);
    }

    private static async Task<string> SaidAsync(HttpResponseMessage answer)
    {
        Assert.InRange((int)answer.StatusCode, 400, 499);
        return await answer.Content.ReadAsStringAsync();
    }

    private static byte[] Written() => Sheet((sheet, ink) => sheet.DrawLine(100, 200, 700, 80, ink));

    private static byte[] Sheet(Action<SKCanvas, SKPaint>? write = null)
    {
        using var surface = SKSurface.Create(new SKImageInfo(900, 300));
        surface.Canvas.Clear(SKColors.White);
        using var ink = new SKPaint
        {
            Color = SKColors.Black,
            StrokeWidth = 5,
            IsStroke = true,
        };
        write?.Invoke(surface.Canvas, ink);
        using var image = surface.Snapshot();
        using var png = image.Encode(SKEncodedImageFormat.Png, 100);
        return png.ToArray();
    }
}
