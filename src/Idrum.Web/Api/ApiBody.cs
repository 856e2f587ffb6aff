using System.Text.Json;
using Idrum.Core.Basics;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Api;

/// <summary>Bodies in, problems out.</summary>
public static class ApiBody
{
    /// <summary>A problem that names fields.</summary>
    public static IResult Problem(IEnumerable<FieldError> errors, int status = 422, string title = "Not accepted") =>
        Results.ValidationProblem(
            errors.GroupBy(e => e.Pointer).ToDictionary(g => g.Key, g => g.Select(e => e.Message).ToArray()),
            statusCode: status,
            title: title
        );

    public static IResult Problem(string field, string message, int status = 422) =>
        Problem([new(field, message)], status);

    /// <summary>Reads the body as JSON of a type, or answers what is wrong with it.</summary>
    public static async Task<(T? Value, IResult? Wrong)> ReadAsync<T>(HttpRequest request)
        where T : class
    {
        var (text, wrong) = await TextAsync(request);
        return wrong is not null ? (null, wrong) : Read<T>(text);
    }

    /// <summary>Reads a text as JSON of a type, or answers what is wrong with it.</summary>
    public static (T? Value, IResult? Wrong) Read<T>(string text)
        where T : class
    {
        try
        {
            if (JsonText.Faults(text) is [var fault, ..])
            {
                return (null, Problem(fault.Pointer.TrimStart('/'), fault.Message, 400));
            }
            if (JsonFields.Unknown(text, typeof(T), IdrumJson.Reading) is { Count: > 0 } unknown)
            {
                return (null, Problem(unknown.Select(e => e with { Pointer = e.Pointer.TrimStart('/') })));
            }
            return JsonSerializer.Deserialize<T>(text, IdrumJson.Reading) is { } value
                ? (value, null)
                : (null, Problem("", "The body is empty.", 400));
        }
        catch (JsonException e)
        {
            var wrongAt = JsonText.Fault(e, "Not understood: ");
            return (null, Problem(wrongAt.Pointer.TrimStart('/'), wrongAt.Message, 400));
        }
        catch (NotSupportedException)
        {
            return (null, Problem("kind", "This kind of event is not known.", 400));
        }
    }

    /// <summary>Reads the body as text; only JSON is taken, which also keeps plain forms of other sites out.</summary>
    public static async Task<(string Text, IResult? Wrong)> TextAsync(HttpRequest request)
    {
        if (!request.HasJsonContentType())
        {
            return ("", Results.Problem(statusCode: 415, title: "Wrong kind", detail: "Send application/json."));
        }
        using var reader = new StreamReader(request.Body, new System.Text.UTF8Encoding(false, true));
        try
        {
            return (await reader.ReadToEndAsync(request.HttpContext.RequestAborted), null);
        }
        catch (System.Text.DecoderFallbackException)
        {
            return ("", Problem("", "The body is not UTF-8.", 400));
        }
        catch (IOException e) when (e is not BadHttpRequestException)
        {
            // A body that breaks off or is cut into what are no pieces: the sender's, as with a form.
            return ("", Problem("", "The body could not be read.", 400));
        }
    }
}
