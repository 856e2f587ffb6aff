using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record JobAnswer(Guid JobId, int Version, JobState State);

public sealed record EventAnswer(string Outcome, int Version);

public static class JobCalls
{
    public static void MapJobs(this RouteGroupBuilder api)
    {
        api.MapGet("/jobs", (JobStore store) => store.List()).WithSummary("All jobs, open ones first");
        api.MapGet("/jobs/{number}", (string number, JobStore store) =>
                store.Find(number) is { } job
                    ? Results.Json(new JobAnswer(job.JobId, job.Version, job.State), IdrumJson.Options)
                    : NotFound()
            )
            .Produces<JobAnswer>()
            .ProducesProblem(404)
            .WithSummary("State of one job");
        api.MapGet("/jobs/{number}/export", (string number, JobStore store, ShopSnapshot shop) =>
                store.Find(number) is { } job
                    ? Results.Text(JobExport.Json(job, store, shop), "application/json")
                    : NotFound()
            )
            .Produces<JobArchive>()
            .ProducesProblem(404)
            .WithSummary("Whole log of one job with the files its acts carry");
        api.MapPost("/jobs", ImportAsync)
            .Accepts<JobArchive>("application/json")
            .Produces<JobAnswer>(201)
            .ProducesValidationProblem(422)
            .WithSummary("Import a whole job; importing it again changes nothing");
        api.MapPost("/jobs/{jobId:guid}/events", AppendAsync)
            .Accepts<JobEvent>("application/json", "multipart/form-data")
            .Produces<EventAnswer>()
            .Produces<EventAnswer>(201)
            .ProducesValidationProblem(422)
            .ProducesProblem(409)
            .WithSummary(
                "Add one event; sending it again changes nothing. One that carries a file comes as a form: field 'act' (the event as JSON) and the file"
            );
    }

    private static async Task<IResult> ImportAsync(
        HttpRequest request,
        JobStore store,
        ShopSnapshot shop,
        LayoutIntake intake,
        AttachmentDesk files,
        CancellationToken caller
    )
    {
        var (text, wrong) = await ApiBody.TextAsync(request);
        if (wrong is not null)
        {
            return wrong;
        }
        var (archive, history, errors) = await JobExport.ReadAsync(text, shop, intake, files, caller);
        if (archive is null)
        {
            return ApiBody.Problem(errors);
        }
        if (
            await store.ImportAsync(archive, history!, Who(request.HttpContext), request.HttpContext.Caller().Device) is
            { Count: > 0 } refused
        )
        {
            return ApiBody.Problem(refused, 409);
        }
        var job = store.Find(archive.JobId)!;
        return Results.Json(new JobAnswer(job.JobId, job.Version, job.State), IdrumJson.Options, statusCode: 201);
    }

    private static async Task<IResult> AppendAsync(
        Guid jobId,
        HttpRequest request,
        JobStore store,
        TimeProvider clock,
        AttachmentDesk files,
        SoundDesk sounds
    )
    {
        var (e, sent, wrong) = await ReadAsync(request);
        if (e is null)
        {
            return wrong!;
        }
        Attachment? file = null;
        if (sent is not null)
        {
            if (e is not ICarriesAttachment act)
            {
                return ApiBody.Problem(sent.Name, "This act carries no file.");
            }
            (file, var named, var error) = await files.TakeAsync(act, sent, request.HttpContext.RequestAborted);
            if (named is null)
            {
                return ApiBody.Problem(sent.Name, error);
            }
            (e, file) = store.Find(jobId) is { } job
                ? await sounds.HearAsync(named, file, job, request.HttpContext.RequestAborted)
                : (named, file);
        }
        var now = clock.GetUtcNow();
        var result = await store.AppendAsync(
            jobId,
            request.HttpContext.By(e) with
            {
                At = e.At == default ? now : e.At,
                Arrived = null,
            },
            file
        );
        return result.Outcome switch
        {
            AppendOutcome.Added => Results.Json(new EventAnswer("added", result.Job!.Version), statusCode: 201),
            AppendOutcome.Repeated => Results.Ok(new EventAnswer("repeated", result.Job!.Version)),
            AppendOutcome.IdTaken => ApiBody.Problem("id", "Another event has this id.", 409),
            AppendOutcome.NoJob => NotFound(),
            _ => ApiBody.Problem(result.Errors),
        };
    }

    /// <summary>An act as JSON, or as a form with the file it carries.</summary>
    private static async Task<(JobEvent? Act, IFormFile? File, IResult? Wrong)> ReadAsync(HttpRequest request)
    {
        if (request.GetTypedHeaders().ContentType?.MediaType != "multipart/form-data")
        {
            var (plain, wrong) = await ApiBody.ReadAsync<JobEvent>(request);
            return (plain, null, wrong);
        }
        try
        {
            var form = await request.ReadFormAsync(request.HttpContext.RequestAborted);
            var (act, wrong) = ApiBody.Read<JobEvent>(form["act"].ToString());
            return form.Files.Count > 1
                ? (null, null, ApiBody.Problem(form.Files[1].Name, "One file comes with an act.", 400))
                : (act, form.Files.Count == 1 ? form.Files[0] : null, wrong);
        }
        catch (Exception fault) when (fault is InvalidDataException or IOException and not BadHttpRequestException)
        {
            return (null, null, ApiBody.Problem("", "This form cannot be read.", 400));
        }
    }

    private static string? Who(HttpContext context) =>
        context.Caller().Person is { Length: > 0 } person ? person : null;

    private static IResult NotFound() => ApiBody.Problem("number", "There is no such job.", 404);
}
