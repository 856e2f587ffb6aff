namespace Idrum.Web.Api;

/// <summary>The computation without pages, under <c>/api/v1</c>.</summary>
public static class IdrumApi
{
    public static void MapIdrumApi(this WebApplication app)
    {
        var api = app.MapGroup("/api/v1");
        api.MapLayouts();
        api.MapTeardown();
        api.MapDiagnosis();
        api.MapJobs();
    }
}
