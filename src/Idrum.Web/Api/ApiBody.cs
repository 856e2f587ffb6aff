using System.Text.Json;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Api;

/// <summary>Bodies in, problems out.</summary>
public static class ApiBody
{
    /// <summary>A problem that names fields.</summary>
    public static IResult Problem(IEnumerable<FieldError> errors, int status = 422, string title = "Not accepted") =>
        Results.ValidationProblem(errors.GroupBy(e => e.Pointer).ToDictionary(g => g.Key, g => g.Select(e => e.Message).ToArray()), statusCode: status, title: title);

    public static IResult Problem(string field, string message, int status = 422) => Problem([new(field, message)], status);

    /// <summary>Reads the body as JSON of a type, or answers what is wrong with it.</summary>
    public static async Task<(T? Value, IResult? Wrong)> ReadAsync<T>(HttpRequest request) where T : class
    {
        var (text, wrong) = await TextAsync(request);
        if (wrong is not null)
        {
            return (null, wrong);
        }
        try
        {
            return JsonSerializer.Deserialize<T>(text, IdrumJson.Options) is { } value ? (value, null) : (null, Problem("", "The body is empty.", 400));
        }
        catch (JsonException e)
        {
            return (null, Problem((e.Path ?? "").TrimStart('$', '.'), e.Message.Split(" Path:")[0], 400));
        }
        catch (NotSupportedException e)
        {
            return (null, Problem("kind", e.Message.Split(" Path:")[0], 400));
        }
    }

    /// <summary>Reads the body as text; only JSON is taken, which also keeps plain forms of other sites out.</summary>
    public static async Task<(string Text, IResult? Wrong)> TextAsync(HttpRequest request)
    {
        if (!request.HasJsonContentType())
        {
            return ("", Results.Problem(statusCode: 415, title: "Wrong kind", detail: "Send application/json."));
        }
        using var reader = new StreamReader(request.Body);
        return (await reader.ReadToEndAsync(), null);
    }
}
