using System.IO.Compression;
using Idrum.Core.Jobs;
using Idrum.Storage;
using Idrum.Web.Api;
using Idrum.Web.Forms;
using Idrum.Web.Jobs;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.ResponseCompression;
using Serilog;
using Serilog.Events;

namespace Idrum.Web.Hosting;

/// <summary>Puts the application together.</summary>
public static class IdrumHost
{
    /// <summary>Largest body of any request: a whole job with photos.</summary>
    public const long MaxBody = 80L << 20;

    /// <summary>Builds the application; the caller runs it.</summary>
    public static async Task<WebApplication> BuildAsync(IdrumOptions options, int port)
    {
        Directory.CreateDirectory(options.DataFolder);
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions
        {
            ApplicationName = typeof(IdrumHost).Assembly.GetName().Name,
            ContentRootPath = AppContext.BaseDirectory,
            WebRootPath = Path.Combine(AppContext.BaseDirectory, "wwwroot"),
            EnvironmentName = Environments.Production,
        });
        builder.Services.AddSerilog(new LoggerConfiguration().MinimumLevel.Is(LogEventLevel.Warning)
            // The keys lie in the shop's own data folder; that they are not encrypted there is known.
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", LogEventLevel.Error)
            .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture).CreateLogger());
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.Listen(System.Net.IPAddress.Loopback, port);
            k.Limits.MaxRequestBodySize = MaxBody;
            k.AddServerHeader = false;
        });
        await AddServicesAsync(builder.Services, options);
        var app = builder.Build();
        Use(app);
        if (options.Demo)
        {
            await DemoShop.FillAsync(app.Services.GetRequiredService<JobStore>(), app.Services.GetRequiredService<ShopKnowledge>(), options.ContentFolder, TimeProvider.System.GetUtcNow());
        }
        return app;
    }

    private static async Task AddServicesAsync(IServiceCollection services, IdrumOptions options)
    {
        var (shop, reader) = await ContentFolder.Read(options.ContentFolder).ReadAsync();
        services.AddSingleton(shop);
        services.AddSingleton(reader);
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton(Database.Open(Path.Combine(options.DataFolder, "idrum.db")));
        services.AddSingleton<JobStore>();
        services.AddSingleton<JobDesk>();
        services.AddDataProtection().SetApplicationName("idrum").PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys")));
        services.AddAntiforgery(o => o.HeaderName = "X-Antiforgery");
        services.AddSingleton<FormTokens>();
        services.AddSingleton<PageMemory>();
        services.Configure<FormOptions>(f => f.MultipartBodyLengthLimit = MaxBody);
        services.Configure<RouteOptions>(o => o.LowercaseUrls = true);
        services.AddSingleton<IHttpResponseStreamWriterFactory, WholePageWriter>();
        services.AddRazorPages();
        services.AddProblemDetails();
        services.AddOpenApi("v1", OpenApiText.Describe);
        services.ConfigureHttpJsonOptions(o => ApiJson.Configure(o.SerializerOptions));
        services.AddResponseCompression(c =>
        {
            c.EnableForHttps = true;
            c.Providers.Add<BrotliCompressionProvider>();
            c.Providers.Add<GzipCompressionProvider>();
            c.MimeTypes = ResponseCompressionDefaults.MimeTypes.Concat(["image/svg+xml", "application/problem+json"]);
        });
        services.Configure<BrotliCompressionProviderOptions>(b => b.Level = CompressionLevel.Fastest);
    }

    private static void Use(WebApplication app)
    {
        app.UseSecurityHeaders();
        app.UseExceptionHandler(a => a.Run(ErrorAnswer.WriteAsync));
        app.UseStatusCodePages(c => ErrorAnswer.WriteAsync(c.HttpContext));
        app.UseResponseCompression();
        if (File.Exists(Path.Combine(AppContext.BaseDirectory, "Idrum.Web.staticwebassets.endpoints.json")))
        {
            app.MapStaticAssets();
        }
        else
        {
            // Hosted by the benchmark or the tests, which do not bring the manifest of compressed files.
            app.UseStaticFiles();
        }
        app.MapRazorPages();
        app.MapOpenApi("/openapi/{documentName}.json");
        app.MapIdrumApi();
        app.MapGet("/jobs/{number}/photos/{photoId}", (string number, string photoId, JobStore store, HttpContext context) =>
        {
            context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
            return store.Find(number) is { } job && store.FindPhoto(job.JobId, photoId) is { } jpeg ? Results.Bytes(jpeg, "image/jpeg") : Results.NotFound();
        }).ExcludeFromDescription();
    }
}
