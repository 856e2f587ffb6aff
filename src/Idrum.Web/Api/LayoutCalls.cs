using System.Globalization;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Machines;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record LayoutLine(string Id, string Title, string Arrangement, string Summary, int Parts, int Operations);

public sealed record RateAnswer(PartId? PartId, Mechanism Mechanism, string Name, double Hz, double? PerDrumTurn);

public sealed record RatesAnswer(
    double DrumRpm,
    double MotorRpm,
    int MainsHz,
    double Creep,
    IReadOnlyList<RateAnswer> Sources
);

public sealed record ValidationAnswer(bool Valid, IReadOnlyList<LineError> Errors);

public static class LayoutCalls
{
    public static void MapLayouts(this RouteGroupBuilder api)
    {
        api.MapGet("/layouts", (ShopSnapshot shop) =>
                shop.Layouts.Select(l => new LayoutLine(
                    l.Id,
                    l.Title,
                    l.Arrangement,
                    l.Summary,
                    l.Parts.Count,
                    l.Operations.Count
                ))
            )
            .WithSummary("All layouts of the shop");
        api.MapGet("/layouts/schema", (IdrumOptions options) =>
                Results.File(
                    Path.Combine(options.ContentFolder, "schema", "layout.schema.json"),
                    "application/schema+json"
                )
            )
            .WithSummary("The JSON Schema of layout files; an editor finds it where a file names it as its $schema");
        api.MapGet("/layouts/{id}", (string id, string? minutes, ShopSnapshot shop) =>
                shop.FindLayout(id) is { } layout
                    ? Results.Text(
                        Variants.FileOf(minutes == "learned" && shop.Times is { } times ? times.Apply(layout) : layout),
                        "application/json"
                    )
                    : ApiBody.Problem("id", "The shop has no such layout.", 404)
            )
            .Produces<Layout>()
            .ProducesProblem(404)
            .WithSummary("One layout file; with minutes=learned its times are those of the shop's own jobs");
        api.MapGet("/layouts/{id}/rates", Rates)
            .Produces<RatesAnswer>()
            .ProducesProblem(400)
            .ProducesProblem(404)
            .WithSummary(
                "How often each part of the drive comes round; drumRpm where the drum was counted, mainsHz other than the shop's mains"
            );
        api.MapPost(
                "/layouts/validate",
                async (
                    HttpRequest request,
                    LayoutIntake intake,
                    ShopSnapshot shop,
                    WorkGate gate,
                    CancellationToken caller
                ) =>
                {
                    var (text, wrong) = await ApiBody.TextAsync(request);
                    if (wrong is not null)
                    {
                        return wrong;
                    }
                    try
                    {
                        var (_, errors) = await gate.RunAsync(stop => intake.Read(text, shop.ParentOf, stop), caller);
                        return Results.Ok(
                            new ValidationAnswer(
                                errors.Count == 0,
                                [
                                    .. errors.Select(e => new LineError(
                                        JsonLines.LineOf(text, e.Pointer),
                                        e.Pointer,
                                        e.Message
                                    )),
                                ]
                            )
                        );
                    }
                    catch (JsonException e)
                    {
                        return ApiBody.Problem("", JsonText.Fault(e, "This is not JSON: ").Message, 400);
                    }
                }
            )
            .Accepts<Layout>("application/json")
            .Produces<ValidationAnswer>()
            .ProducesValidationProblem(400)
            .WithSummary("Check a layout file");
    }

    private static IResult Rates(string id, string? drumRpm, string? mainsHz, ShopSnapshot shop)
    {
        if (shop.FindLayout(id) is not { } layout)
        {
            return ApiBody.Problem("id", "The shop has no such layout.", 404);
        }
        double? counted = null;
        if (drumRpm is { Length: > 0 })
        {
            counted = TypedNumber.Read(drumRpm);
            if (counted is not (>= 1 and <= 200))
            {
                return ApiBody.Problem("drumRpm", "Turns of the drum a minute: 1 to 200.", 400);
            }
        }
        if ((mainsHz ?? shop.Terms.MainsHertz.ToString(CultureInfo.InvariantCulture)) is not ("50" or "60"))
        {
            return ApiBody.Problem("mainsHz", "The mains have 50 or 60 Hz.", 400);
        }
        var mains =
            mainsHz is null ? shop.Terms.MainsHertz
            : mainsHz == "60" ? 60
            : 50;
        var rates = DriveRates.Of(layout, mains, counted);
        return Results.Ok(
            new RatesAnswer(
                rates.DrumRpm,
                rates.MotorRpm,
                mains,
                rates.Creep,
                [
                    .. rates.Lines.Select(l => new RateAnswer(
                        l.Part.IsNone ? null : l.Part,
                        l.Mechanism,
                        l.Name,
                        l.PerSecond,
                        l.PerDrumTurn
                    )),
                ]
            )
        );
    }
}
