using Idrum.Web.Work;

namespace Idrum.Web.Api;

/// <summary>The computation without pages, under <c>/api/v1</c>.</summary>
public static class IdrumApi
{
    public static void MapIdrumApi(this WebApplication app)
    {
        var api = app.MapGroup("/api/v1").RequireAuthorization(Devices.Rights.Work);
        api.MapLayouts();
        api.MapIdentify();
        api.MapTeardown();
        api.MapSchedule();
        api.MapDiagnosis();
        api.MapListening();
        api.MapDrive();
        api.MapGauging();
        api.MapGet("/work", (WorkGate gate) => new WorkAnswer(gate.Present, Math.Max(0, gate.Present - 1)))
            .WithSummary("How many plans and advices are in work or wait");
        api.MapJobs();
    }
}

/// <summary>What stands at the gate where plans and advice are worked out.</summary>
/// <param name="Present">In work or waiting.</param>
/// <param name="Ahead">The same without the one that asks.</param>
public sealed record WorkAnswer(int Present, int Ahead);
