using Idrum.Storage;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.ApplicationModels;

namespace Idrum.Web.Devices;

/// <summary>Who may what. Every address states its right; what states none is for nobody.</summary>
public static class Rights
{
    /// <summary>A paired device, or this computer.</summary>
    public const string Work = "work";

    /// <summary>Who keeps the shop.</summary>
    public const string Keep = "keep";

    /// <summary>Read by who works here, written by who keeps the shop.</summary>
    public const string KeepToWrite = "keep-to-write";

    /// <summary>Whoever comes: the pages of trust and pairing and what these need to be drawn.</summary>
    public const string Anyone = "anyone";

    /// <summary>A device that was let in once and is no more: it may leave what it kept.</summary>
    public const string Leave = "leave";

    /// <summary>What states no right.</summary>
    private const string Nobody = "nobody";

    /// <summary>The right of each page, by its place. A page that is not here keeps Idrum from starting.</summary>
    private static readonly Dictionary<string, string> Pages = new()
    {
        ["/Appointment"] = Work,
        ["/Away"] = Work,
        ["/Guide"] = Work,
        ["/Help"] = Work,
        ["/Identify"] = Work,
        ["/Index"] = Work,
        ["/Pulse"] = Work,
        ["/Jobs/Better"] = Work,
        ["/Jobs/Close"] = Work,
        ["/Jobs/Complaint"] = Work,
        ["/Jobs/Customer"] = Keep,
        ["/Jobs/Estimate"] = Work,
        ["/Jobs/Find"] = Work,
        ["/Jobs/Fit"] = Work,
        ["/Jobs/Floor"] = Work,
        ["/Jobs/Gauge"] = Work,
        ["/Jobs/Belt"] = Work,
        ["/Jobs/Go"] = Work,
        ["/Jobs/Import"] = Work,
        ["/Jobs/Left"] = Work,
        ["/Jobs/Machine"] = Work,
        ["/Jobs/New"] = Work,
        ["/Jobs/Package"] = Work,
        ["/Jobs/Parts"] = Work,
        ["/Jobs/Listen"] = Work,
        ["/Jobs/Photos"] = Work,
        ["/Jobs/Prove"] = Work,
        ["/Jobs/Rebuild"] = Work,
        ["/Jobs/Recondition"] = Work,
        ["/Jobs/Report"] = Work,
        ["/Jobs/Round"] = Work,
        ["/Jobs/Strip"] = Work,
        ["/Jobs/Take"] = Work,
        // What a job found different becomes a layout of the shop's own here.
        ["/Jobs/Variant"] = KeepToWrite,
        ["/Log/Index"] = Work,
        ["/Log/Labels"] = Work,
        ["/Log/Machine"] = Work,
        ["/Log/Says"] = Work,
        ["/Log/Scan"] = Work,
        ["/Machines/Compare"] = KeepToWrite,
        ["/Machines/Edit"] = Keep,
        ["/Machines/File"] = Keep,
        ["/Machines/Index"] = KeepToWrite,
        ["/Machines/Learned"] = KeepToWrite,
        ["/Machines/Machine"] = KeepToWrite,
        ["/Machines/Tour"] = Work,
        ["/Machines/New"] = Keep,
        ["/Practice/Index"] = Work,
        ["/Practice/Exercise"] = Work,
        ["/Practice/Drill"] = Work,
        ["/Shop/Index"] = Keep,
        ["/Stock/Index"] = KeepToWrite,
        ["/Week/Index"] = Work,
        ["/Week/Day"] = Work,
        ["/Week/Edit"] = Work,
        ["/Welcome"] = Keep,
        ["/Pair"] = Anyone,
        ["/Trust"] = Anyone,
    };

    /// <summary>Files of the application that the page of pairing is drawn with.</summary>
    private static readonly HashSet<string> Drawn = new(
        ["app.css", "app.js", "htmx.js", "alpine.js", "theme.js", "icon.svg", "sw.js"],
        StringComparer.Ordinal
    );

    /// <summary>The right of a file of the application, by its place; what is before a file's hash counts.</summary>
    internal static object OfFile(string path) =>
        Drawn.Contains(path.TrimStart('/')) || path.TrimStart('/').StartsWith("fonts/", StringComparison.Ordinal)
            ? new AllowAnonymousAttribute()
            : new AuthorizeAttribute(Work);

    /// <summary>Policies, and devices as what is asked for who comes.</summary>
    public static IServiceCollection AddRights(this IServiceCollection services)
    {
        services
            .AddAuthentication(DeviceAuthentication.Scheme)
            .AddScheme<Microsoft.AspNetCore.Authentication.AuthenticationSchemeOptions, DeviceAuthentication>(
                DeviceAuthentication.Scheme,
                null
            );
        services
            .AddAuthorizationBuilder()
            .AddPolicy(Work, p => p.RequireAuthenticatedUser())
            .AddPolicy(Keep, p => p.RequireAuthenticatedUser().RequireAssertion(c => CallerOf(c) is { Keeps: true }))
            .AddPolicy(KeepToWrite, p =>
                p.RequireAuthenticatedUser()
                    .RequireAssertion(c =>
                        CallerOf(c) is { Keeps: true }
                        || c.Resource is HttpContext { Request.Method: var method }
                            && (HttpMethods.IsGet(method) || HttpMethods.IsHead(method))
                    )
            )
            .AddPolicy(Leave, p =>
                p.RequireAuthenticatedUser()
                    .RequireAssertion(c => (c.Resource as HttpContext)?.Features.Get<Device>() is not null)
            )
            .AddPolicy(Nobody, p => p.RequireAuthenticatedUser().RequireAssertion(_ => false))
            // An address that is not there is as little a stranger's business as one that is.
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        return services;
    }

    /// <summary>Gives each page its right.</summary>
    /// <exception cref="InvalidOperationException">A page that has none.</exception>
    public static void Give(PageConventionCollection pages) => pages.AddFolderApplicationModelConvention("/", page =>
        {
            var right = Pages.TryGetValue(page.ViewEnginePath, out var known)
                ? known
                : throw new InvalidOperationException($"The page {page.ViewEnginePath} states no right.");
            page.EndpointMetadata.Add(right == Anyone ? new AllowAnonymousAttribute() : new AuthorizeAttribute(right));
        });

    private static Caller? CallerOf(AuthorizationHandlerContext context) =>
        (context.Resource as HttpContext)?.Features.Get<Caller>();
}
