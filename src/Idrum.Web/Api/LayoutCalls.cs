using System.Text.Json;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Web.Api;

public sealed record LayoutLine(string Id, string Title, string Arrangement, string Summary, int Parts, int Operations);

public sealed record ValidationAnswer(bool Valid, IReadOnlyList<FieldError> Errors);

public static class LayoutCalls
{
    public static void MapLayouts(this RouteGroupBuilder api)
    {
        api.MapGet("/layouts", (ShopKnowledge shop) => shop.Layouts.Select(l => new LayoutLine(l.Id, l.Title, l.Arrangement, l.Summary, l.Parts.Count, l.Operations.Count)))
            .WithSummary("All layouts of the shop");
        api.MapGet("/layouts/{id}", (string id, ShopKnowledge shop) => shop.FindLayout(id) is { } layout
                ? Results.Json(layout, IdrumJson.Options)
                : ApiBody.Problem("id", "The shop has no such layout.", 404))
            .Produces<Layout>().ProducesProblem(404).WithSummary("One layout file");
        api.MapPost("/layouts/validate", async (HttpRequest request, LayoutReader reader) =>
            {
                var (text, wrong) = await ApiBody.TextAsync(request);
                if (wrong is not null)
                {
                    return wrong;
                }
                try
                {
                    var (_, errors) = reader.Read(text);
                    return Results.Ok(new ValidationAnswer(errors.Count == 0, errors));
                }
                catch (JsonException e)
                {
                    return ApiBody.Problem("", "This is not JSON: " + e.Message, 400);
                }
            })
            .Accepts<Layout>("application/json").Produces<ValidationAnswer>().ProducesValidationProblem(400).WithSummary("Check a layout file");
    }
}
