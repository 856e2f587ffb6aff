using System.IO.Compression;
using System.Net;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Api;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Drawing;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.ResponseCompression;

namespace Idrum.Web.Hosting;

/// <summary>Puts the application together.</summary>
public static class IdrumHost
{
    /// <summary>Largest body of any request: a whole job with photos.</summary>
    public const long MaxBody = 80L << 20;

    /// <summary>Largest backup brought in through the page.</summary>
    public const long MaxBackup = 2L << 30;

    /// <summary>Builds the application; the caller runs it.</summary>
    /// <param name="options">What the command line says.</param>
    /// <param name="port">Port on the loopback address; 0 takes any.</param>
    /// <param name="onError">Told of every error that is logged, or null.</param>
    public static async Task<WebApplication> BuildAsync(IdrumOptions options, int port, Action<string>? onError = null)
    {
        var held = FolderLock.Take(options.DataFolder);
        try
        {
            if (ShopRestore.Finish(options.DataFolder) is { Length: > 0 } finished)
            {
                Console.WriteLine(finished);
            }
            OwnFiles.Tidy(options.DataFolder, Path.GetTempPath());
            ShopRestore.NotEmptied(options.DataFolder);
            return await BuildAsync(options, port, onError, held);
        }
        catch
        {
            held.Dispose();
            throw;
        }
    }

    private static async Task<WebApplication> BuildAsync(
        IdrumOptions options,
        int port,
        Action<string>? onError,
        FolderLock held
    )
    {
        StartChecks.Keys(options.DataFolder);
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                ApplicationName = typeof(IdrumHost).Assembly.GetName().Name,
                ContentRootPath = AppContext.BaseDirectory,
                WebRootPath = Path.Combine(AppContext.BaseDirectory, "wwwroot"),
                EnvironmentName = Environments.Production,
            }
        );
        builder.Logging.ClearProviders().SetMinimumLevel(LogLevel.Warning);
        builder.Logging.AddSimpleConsole(c =>
        {
            // One event, one line, whatever stands in its words; the time is that of the whole world.
            (c.SingleLine, c.UseUtcTimestamp, c.TimestampFormat) = (true, true, "yyyy-MM-ddTHH:mm:ssZ ");
        });
        // The keys lie in the shop's own data folder; that they are not encrypted there is known.
        builder.Logging.AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
        if (onError is not null)
        {
            builder.Services.AddSingleton<ILoggerProvider>(_ => new ErrorListener(onError));
        }
        var last = new LastErrors(options.Clock);
        builder.Services.AddSingleton(last);
        builder.Logging.AddProvider(last);
        // What the environment says to the web server is not heard: no address, no certificate, no forwarded header
        // comes from there.
        builder.Configuration.Sources.Clear();
        var authority =
            options.Lan && options.Certificate.Length == 0
                ? ShopAuthority.Open(
                    options.AuthorityFolder,
                    () => (ServerNames.Names(), ServerNames.Addresses(options.LanAddress)),
                    TimeProvider.System
                )
                : null;
        var own = options.Lan && options.Certificate.Length > 0 ? options.OwnCertificate() : null;
        if (authority is not null)
        {
            builder.Services.AddSingleton(authority);
        }
        var share = new ConnectionShare();
        builder.WebHost.ConfigureKestrel(k =>
        {
            k.Listen(IPAddress.Loopback, port, l => l.From(EntranceKind.Loopback));
            if (options.Lan)
            {
                k.Listen(options.LanAddress ?? IPAddress.Any, options.LanPort, l =>
                {
                    l.From(EntranceKind.Network);
                    l.Use(share.Around);
                    l.UseHttps(t => t.ServerCertificateSelector = (_, _) => own ?? authority!.Server());
                });
            }
            if (authority is not null)
            {
                k.Listen(options.LanAddress ?? IPAddress.Any, options.TrustPort, l =>
                {
                    l.From(EntranceKind.Trust);
                    l.Use(share.Around);
                });
            }
            k.Limits.MaxConcurrentConnections = 500;
            k.Limits.RequestHeadersTimeout = TimeSpan.FromSeconds(15);
            k.Limits.MaxRequestBodySize = MaxBody;
            k.AddServerHeader = false;
            k.Limits.MaxRequestBufferSize = 1 << 20;
        });
        // Made here by a factory, so that it is let go with the application.
        builder.Services.AddSingleton(_ => held);
        AddServices(builder.Services, options);
        var app = builder.Build();
        Use(app);
        app.Services.GetRequiredService<FolderLock>();
        var shop = app.Services.GetRequiredService<ShopKeeper>();
        shop.Change(now =>
            now.WithFiles(ContentFolder.Own(options.DataFolder), app.Services.GetRequiredService<LayoutIntake>())
        );
        app.Services.GetRequiredService<LayoutStore>().Load();
        StartChecks.Acts(
            app.Services.GetRequiredService<JobStore>(),
            app.Services.GetRequiredService<SettingStore>(),
            app.Services.GetRequiredService<TimeProvider>().GetUtcNow()
        );
        app.Services.GetRequiredService<JobStore>().Refresh();
        if (options.Demo)
        {
            await DemoShop.FillAsync(
                app.Services.GetRequiredService<JobStore>(),
                app.Services.GetRequiredService<MoneyDesk>(),
                app.Services.GetRequiredService<VanDesk>(),
                app.Services.GetRequiredService<WeekStore>(),
                shop.Now,
                options.ContentFolder,
                TimeProvider.System.GetUtcNow()
            );
        }
        app.Services.GetRequiredService<DeviceStore>().Settle();
        app.Services.GetRequiredService<MoneyDesk>().Load();
        app.Services.GetRequiredService<LearningDesk>().Begin();
        return app;
    }

    private static readonly PathString[] Advising =
    [
        "/jobs",
        "/api",
        "/machines",
        "/appointment",
        "/practice",
        "/week",
    ];

    /// <summary>Lists and settings answer at once after a start; what advises or reckons waits for what the shop has learned.</summary>
    private static async Task WhenLearnedAsync(HttpContext context, RequestDelegate next)
    {
        var ready = context.RequestServices.GetRequiredService<LearningDesk>().Ready;
        if (!ready.IsCompleted && Advising.Any(p => context.Request.Path.StartsWithSegments(p)))
        {
            await ready.WaitAsync(context.RequestAborted);
        }
        await next(context);
    }

    /// <summary>What a file of the application is, by its ending.</summary>
    private static string KindOf(string file) =>
        new Microsoft.AspNetCore.StaticFiles.FileExtensionContentTypeProvider().TryGetContentType(file, out var kind)
            ? kind
            : "application/octet-stream";

    private static void From(this Microsoft.AspNetCore.Server.Kestrel.Core.ListenOptions listener, EntranceKind kind)
    {
        var entrance = new Entrance(kind);
        listener.Use(next =>
            connection =>
            {
                connection.Features.Set(entrance);
                return next(connection);
            }
        );
    }

    private static void AddServices(IServiceCollection services, IdrumOptions options)
    {
        var (shop, intake) = ContentFolder.Read(options.ContentFolder).Read(options.Clock, orders: false);
        services.AddSingleton(new ShopKeeper(shop));
        // A request works with one shop from its beginning to its end.
        services.AddScoped(s => s.GetRequiredService<ShopKeeper>().Now);
        services.AddSingleton(intake);
        services.AddSingleton(options.Clock);
        services.AddSingleton(options);
        services.AddSingleton(Database.Open(options.DatabasePath));
        services.AddSingleton<SettingStore>();
        services.AddSingleton<DeviceStore>();
        services.AddSingleton<PairingDesk>();
        services.AddSingleton<SecurityLog>();
        services.AddSingleton<PublicAddress>();
        services.AddSingleton<JobStore>();
        services.AddSingleton<LogbookStore>();
        services.AddSingleton<PracticeStore>();
        services.AddSingleton<WeekStore>();
        services.AddSingleton<LeftStore>();
        services.AddSingleton<LoadingsKnown>();
        services.AddSingleton<PackageAhead>();
        services.AddHostedService(p => p.GetRequiredService<PackageAhead>());
        services.AddScoped<WeekDesk>();
        services.AddScoped<WeekCalendar>();
        services.AddSingleton<LogDesk>();
        services.AddSingleton<LayoutStore>();
        services.AddSingleton<LearningStore>();
        services.AddSingleton<GlueDesk>();
        services.AddSingleton<VisitDesk>();
        services.AddSingleton<MoneyDesk>();
        services.AddSingleton<VanDesk>();
        services.AddSingleton<UseDesk>();
        services.AddScoped<StockDesk>();
        services.AddScoped<SmallDesk>();
        services.AddSingleton<LearningDesk>();
        services.AddHostedService(s => s.GetRequiredService<LearningDesk>());
        services.AddHostedService<DemoYears>();
        services.AddHostedService<SystemdNotice>();
        services.AddSingleton<BackupDesk>();
        services.AddHostedService(s => s.GetRequiredService<BackupDesk>());
        services.AddSingleton<RestoreDesk>();
        services.AddSingleton<LiveJobs>();
        services.AddSingleton<JobDesk>();
        services.AddSingleton<WorkGate>();
        services.AddSingleton<SoundRoom>();
        services.AddSingleton<AttachmentDesk>();
        services.AddSingleton<Paper.Logo>();
        services.AddSingleton<SoundDesk>();
        services.AddSingleton<JobServices>();
        services
            .AddDataProtection()
            .SetApplicationName("idrum")
            .PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, "keys")));
        services.AddAntiforgery(o =>
        {
            o.HeaderName = "X-Antiforgery";
            o.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest;
        });
        services.Configure<FormOptions>(f => f.MultipartBodyLengthLimit = MaxBody);
        services.Configure<RouteOptions>(o => o.LowercaseUrls = true);
        services.AddRights();
        services.AddRateLimiter(Strangers.Limit);
        services
            .AddRazorPages(o => Rights.Give(o.Conventions))
            .AddMvcOptions(o =>
            {
                // Forms are read by their own reader; this one throws on a field named "[".
                foreach (
                    var reader in o
                        .ValueProviderFactories.Where(f =>
                            f.GetType().Name.StartsWith("JQuery", StringComparison.Ordinal)
                        )
                        .ToList()
                )
                {
                    o.ValueProviderFactories.Remove(reader);
                }
            });
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
        if (app.Services.GetRequiredService<IdrumOptions>().Proxy is { Scheme: "https" } proxy)
        {
            // Whoever comes by the proxy's name came to it over TLS: cookies and headers are those of TLS.
            app.Use(
                (context, rest) =>
                {
                    if (string.Equals(context.Request.Host.Host, proxy.Host, StringComparison.OrdinalIgnoreCase))
                    {
                        context.Request.Scheme = Uri.UriSchemeHttps;
                    }
                    return rest(context);
                }
            );
        }
        app.UseSecurityHeaders();
        app.UseExceptionHandler(a => a.Run(ErrorAnswer.WriteAsync));
        app.UseStatusCodePages(c => ErrorAnswer.WriteAsync(c.HttpContext));
        app.UseResponseCompression();
        app.UseMiddleware<Door>();
        app.UseMiddleware<Gatekeeper>();
        // What answers GET answers HEAD alike; the web server leaves the body out.
        app.Use(
            (context, rest) =>
            {
                // The live line never ends: it is not asked for its head.
                if (
                    HttpMethods.IsHead(context.Request.Method)
                    && !context.Request.Path.Value!.EndsWith("/live", StringComparison.OrdinalIgnoreCase)
                )
                {
                    context.Request.Method = HttpMethods.Get;
                }
                return rest(context);
            }
        );
        app.Use(Paper.AsPdf.AnswerAsync);
        // Where to, who, whether he may, and only then what is sent.
        app.UseRouting();
        app.UseAuthentication();
        app.UseRateLimiter();
        app.UseAuthorization();
        app.Use(WhenLearnedAsync);
        app.Use(
            (context, rest) =>
            {
                Say.In(context.RequestServices.GetRequiredService<ShopKeeper>().Now.Terms.Zone);
                return Door.BodyAsync(context, rest);
            }
        );
        if (File.Exists(Path.Combine(AppContext.BaseDirectory, "Idrum.Web.staticwebassets.endpoints.json")))
        {
            app.MapStaticAssets()
                .Add(e => e.Metadata.Add(Rights.OfFile((e as RouteEndpointBuilder)?.RoutePattern.RawText ?? "")));
        }
        else
        {
            // Hosted by the benchmark or the tests, which do not bring the manifest of compressed files.
            foreach (
                var file in Directory.EnumerateFiles(app.Environment.WebRootPath, "*", SearchOption.AllDirectories)
            )
            {
                var path = Path.GetRelativePath(app.Environment.WebRootPath, file).Replace('\\', '/');
                app.MapGet("/" + path, () => Results.File(file, KindOf(file)))
                    .WithMetadata(Rights.OfFile(path))
                    .ExcludeFromDescription();
            }
        }
        app.MapRazorPages();
        app.MapOpenApi("/openapi/{documentName}.json").RequireAuthorization(Rights.Work);
        app.MapIdrumApi();
        app.MapGet("/manifest.webmanifest", () =>
                Results.Text(
                    """{"name":"Idrum","short_name":"Idrum","start_url":"/","scope":"/","display":"standalone","background_color":"#F5F2EC","theme_color":"#20262B","icons":[{"src":"/icon.svg","sizes":"any","type":"image/svg+xml","purpose":"any"},{"src":"/icon-192.png","sizes":"192x192","type":"image/png","purpose":"any maskable"},{"src":"/icon-512.png","sizes":"512x512","type":"image/png","purpose":"any maskable"}]}""",
                    "application/manifest+json"
                )
            )
            .AllowAnonymous()
            .ExcludeFromDescription();
        app.MapGet("/icon-{size:int}.png", (int size, HttpContext context) =>
            {
                context.Response.Headers.CacheControl = "public, max-age=86400";
                return PhoneIcon.Of(size) is { } png ? Results.Bytes(png, "image/png") : Results.NotFound();
            })
            .AllowAnonymous()
            .ExcludeFromDescription();
        // Up, and nothing else: for whoever watches it.
        app.MapGet("/health", () => Results.Text("up")).AllowAnonymous().ExcludeFromDescription();
        // A device sends what it kept with a token of the session as it is then.
        app.MapGet("/token", (HttpContext context, Microsoft.AspNetCore.Antiforgery.IAntiforgery forgery) =>
            {
                context.Response.Headers.CacheControl = "no-store";
                return Results.Json(new { token = forgery.GetAndStoreTokens(context).RequestToken });
            })
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        // What paper the shop prints on: the page itself cannot say it.
        app.MapGet("/paper/{size}.css", (string size) =>
                size is "a4" or "letter" ? Results.Text($"@page{{size:{size}}}", "text/css") : Results.NotFound()
            )
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet(Paper.Logo.Address, (Paper.Logo logo, HttpContext context) =>
            {
                context.Response.Headers.CacheControl = "private, no-cache";
                return logo.Jpeg is { } jpeg ? Results.Bytes(jpeg, "image/jpeg") : Results.NotFound();
            })
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/jobs/{number}/live", LiveJobs.FollowAsync)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/idrum-authority.crt", (IServiceProvider services) =>
                services.GetService<ShopAuthority>() is { } authority
                    ? Results.File(authority.AsFile, "application/x-x509-ca-cert", "idrum-authority.crt")
                    : Results.NotFound()
            )
            .AllowAnonymous()
            .ExcludeFromDescription();
        app.MapGet("/jobs/{number}/returns.ics", FollowUp.Returns)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/jobs/{number}/sums.csv", SumsCsv.Write).RequireAuthorization(Rights.Work).ExcludeFromDescription();
        app.MapGet("/practice/{id:guid}/sound.wav", Pages.Practice.ExerciseModel.SoundAsync)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/practice/drill-sound", Pages.Practice.DrillModel.SoundAsync)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/guide/pictures/{name}.png", Pages.GuideModel.Picture)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        // Form, cookie and origin are looked at on the way; a token of a page is of a session that has ended.
        app.MapPost(LeftBehind.Path, LeftBehind.TakeAsync)
            .RequireAuthorization(Rights.Leave)
            .DisableAntiforgery()
            .ExcludeFromDescription();
        app.MapGet("/shop/left/{id:guid}", LeftBehind.File).RequireAuthorization(Rights.Keep).ExcludeFromDescription();
        app.MapGet("/shop/diagnosis.json", DiagnosticBundle.Write)
            .RequireAuthorization(Rights.Keep)
            .ExcludeFromDescription();
        app.MapGet("/week.ics", WeekCalendar.File).RequireAuthorization(Rights.Work).ExcludeFromDescription();
        // For calendars, which cannot be paired: whoever knows the secret, and nothing of the customer unless that was switched on.
        app.MapGet("/calendar/{secret}.ics", WeekCalendar.Out).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/log.csv", LogExport.Csv).RequireAuthorization(Rights.Work).ExcludeFromDescription();
        app.MapGet("/log.json", LogExport.Json).RequireAuthorization(Rights.Work).ExcludeFromDescription();
        app.MapGet("/jobs/{number}/heat-run.ics", FollowUp.HeatRun)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/jobs/{number}/still-quiet.ics", FollowUp.StillQuiet)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        app.MapGet("/jobs/{number}/files/{name}", FileOfAct).RequireAuthorization(Rights.Work).ExcludeFromDescription();
        app.MapGet("/machines/{id}/sounds/{fault}", Machines.SoundLibrary.PlayAsync)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
        // Pages that a phone has from before know photos by this address.
        app.MapGet("/jobs/{number}/photos/{name}", FileOfAct)
            .RequireAuthorization(Rights.Work)
            .ExcludeFromDescription();
    }

    /// <summary>A file that an act of the job carries, as long as the act counts.</summary>
    /// <remarks>What was felt is given out as a table too (<c>as=csv</c>).</remarks>
    private static IResult FileOfAct(string number, string name, JobStore store, HttpContext context)
    {
        context.Response.Headers.CacheControl = "private, no-cache";
        return
            Attachment.IsName(name)
            && store.Find(number) is { } job
            && job.State.Attachments.TryGetValue(name, out var kind)
            && store.FindAttachment(name) is { } file
            ? context.Request.Query["as"] == "csv" && MotionFile.Read(file.Bytes).Series is { } series
                ? Results.Text(MotionFile.Table(series), "text/csv")
                : Results.Bytes(file.Bytes, kind.MediaType)
            : Results.NotFound();
    }
}
