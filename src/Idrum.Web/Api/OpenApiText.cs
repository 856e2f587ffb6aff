using Microsoft.AspNetCore.OpenApi;

namespace Idrum.Web.Api;

/// <summary>Title and description of the OpenAPI document.</summary>
public static class OpenApiText
{
    public static void Describe(OpenApiOptions options) =>
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info.Title = "Idrum";
                document.Info.Version = "v1";
                document.Info.Description =
                    "Layouts, teardown plans, diagnosis and jobs. Lengths in mm, times in minutes. Errors are RFC 9457 problem details whose 'errors' names the field.";
                document.Servers = [];
                return Task.CompletedTask;
            }
        );
}
