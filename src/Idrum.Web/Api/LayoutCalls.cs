using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Machines;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record LayoutLine(string Id, string Title, string Arrangement, string Summary, int Parts, int Operations);

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
}
