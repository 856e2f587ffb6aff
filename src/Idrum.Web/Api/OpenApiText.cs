using System.Globalization;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Web.Devices;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Idrum.Web.Api;

/// <summary>What the OpenAPI document says beside what the calls themselves say: title, who may call, every status that the
/// door or the reading of a body gives.</summary>
public static class OpenApiText
{
    private const string Device = "device",
        Bearer = "bearer",
        Problems = "application/problem+json";

    /// <summary>Statuses that any call may answer with, and why.</summary>
    private static readonly (string Status, string Why, Func<HttpMethod, string, bool> Where)[] Always =
    [
        ("400", "What was sent is not understood.", (m, _) => m == HttpMethod.Post),
        ("401", "From the shop's network: this device is not paired.", (_, _) => true),
        ("403", "This device may not do that.", (_, _) => true),
        ("404", "There is no such job, machine or page.", (_, path) => path.Contains('{', StringComparison.Ordinal)),
        ("413", "More than is taken.", (m, _) => m == HttpMethod.Post),
        ("415", "Not of a kind that is taken.", (m, _) => m == HttpMethod.Post),
        ("422", "Understood and not accepted; 'errors' names the field.", (m, _) => m == HttpMethod.Post),
        ("429", "Too many requests of a device that is not paired.", (_, _) => true),
        ("503", "Much is in work; Retry-After says when to ask again.", (m, _) => m == HttpMethod.Post),
        ("507", "The shop's computer has no room.", (m, path) =>
            m == HttpMethod.Post && path.Contains("/jobs", StringComparison.Ordinal)
        ),
    ];

    public static void Describe(OpenApiOptions options)
    {
        // An id is the text it writes, wherever it stands.
        options.CreateSchemaReferenceId = info =>
            IsId(info.Type) ? null : OpenApiOptions.CreateDefaultSchemaReferenceId(info);
        options.AddSchemaTransformer(
            (schema, context, _) =>
            {
                var info = context.JsonTypeInfo;
                if (IsId(info.Type))
                {
                    schema.Type = context.JsonPropertyInfo is { IsGetNullable: true }
                        ? JsonSchemaType.String | JsonSchemaType.Null
                        : JsonSchemaType.String;
                    // What a field is for, not what an id is at all.
                    schema.Description =
                        schema.Description?.StartsWith("What one", StringComparison.Ordinal) == true
                            ? null
                            : schema.Description;
                }
                if ((Nullable.GetUnderlyingType(info.Type) ?? info.Type) is { IsEnum: true } set)
                {
                    schema.Type =
                        set == info.Type ? JsonSchemaType.String : JsonSchemaType.String | JsonSchemaType.Null;
                    schema.Enum = [.. EnumWord.All(set).Select(w => (JsonNode)w)];
                }
                if (
                    info.Kind == System.Text.Json.Serialization.Metadata.JsonTypeInfoKind.Dictionary
                    && IsId(info.ElementType)
                )
                {
                    schema.AdditionalProperties ??= new OpenApiSchema { Type = JsonSchemaType.String };
                }
                if (info.Kind == System.Text.Json.Serialization.Metadata.JsonTypeInfoKind.Enumerable)
                {
                    schema.Items ??= ItemOf(info.ElementType);
                }
                return Task.CompletedTask;
            }
        );
        options.AddDocumentTransformer(
            (document, _, _) =>
            {
                document.Info.Title = "Idrum";
                document.Info.Version = "v1";
                document.Info.Description =
                    "Layouts, teardown plans, diagnosis and jobs. Lengths in mm, times in minutes. Errors are RFC 9457 problem details whose 'errors' names the field.";
                document.Info.License = new() { Name = "The shop's own", Url = new("/licences.txt", UriKind.Relative) };
                document.Servers = [new() { Url = "/", Description = "Where this document was fetched" }];
                document.Tags = null;
                document.Components ??= new();
                document.Components.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>
                {
                    [Device] = new OpenApiSecurityScheme
                    {
                        Type = SecuritySchemeType.ApiKey,
                        In = ParameterLocation.Cookie,
                        Name = DeviceAuthentication.Cookie,
                        Description = "A paired device. On the shop's own computer (loopback) nothing is asked for.",
                    },
                    [Bearer] = new OpenApiSecurityScheme
                    {
                        Type = SecuritySchemeType.Http,
                        Scheme = "bearer",
                        Description = "The same token as a header, for programs.",
                    },
                };
                document.Security =
                [
                    new() { [new OpenApiSecuritySchemeReference(Device, document)] = [] },
                    new() { [new OpenApiSecuritySchemeReference(Bearer, document)] = [] },
                    [],
                ];
                foreach (var (path, item) in document.Paths)
                {
                    foreach (var (method, operation) in item.Operations ?? [])
                    {
                        operation.Tags = null;
                        operation.OperationId ??= NameOf(method, path);
                        operation.Responses ??= [];
                        foreach (var (status, why, _) in Always.Where(a => a.Where(method, path)))
                        {
                            operation.Responses.TryAdd(
                                status,
                                new OpenApiResponse
                                {
                                    Description = why,
                                    Content = new Dictionary<string, OpenApiMediaType>
                                    {
                                        [Problems] = new OpenApiMediaType
                                        {
                                            Schema = new OpenApiSchemaReference("ProblemDetails", document),
                                        },
                                    },
                                }
                            );
                        }
                    }
                }
                return Task.CompletedTask;
            }
        );
    }

    private static bool IsId(Type? type) =>
        type is { IsGenericType: true } && type.GetGenericTypeDefinition() == typeof(Id<>);

    /// <summary>What stands in a list whose entries have a writing of their own.</summary>
    private static OpenApiSchema ItemOf(Type? type) =>
        IsId(type) ? new() { Type = JsonSchemaType.String }
        : type == typeof(StepRef) ? new() { Type = JsonSchemaType.String, Description = "operation/step" }
        : type == typeof(ToolUse)
            ? new()
            {
                AnyOf =
                [
                    new OpenApiSchema { Type = JsonSchemaType.String, Description = "Tool id" },
                    new OpenApiSchema
                    {
                        Type = JsonSchemaType.Object,
                        Description = "any: tool ids that would do; when",
                    },
                ],
            }
        : new();

    /// <summary>A call by its method and path: <c>postTeardown</c>, <c>getJobsNumberExport</c>.</summary>
    private static string NameOf(HttpMethod method, string path) =>
        method.Method.ToLowerInvariant()
        + string.Concat(
            path.Split(['/', '{', '}', '-'], StringSplitOptions.RemoveEmptyEntries)
                .Where(p => p is not ("api" or "v1"))
                .Select(p => char.ToUpper(p[0], CultureInfo.InvariantCulture) + p[1..])
        );
}
