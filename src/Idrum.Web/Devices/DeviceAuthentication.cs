using System.Security.Claims;
using System.Text.Encodings.Web;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Authentication;
using Microsoft.Extensions.Options;

namespace Idrum.Web.Devices;

/// <summary>Says who makes a request: this computer, or a paired device by its token. Over the network, and behind a
/// proxy, only a paired device is anybody.</summary>
public sealed class DeviceAuthentication(
    IOptionsMonitor<AuthenticationSchemeOptions> scheme,
    ILoggerFactory log,
    UrlEncoder url,
    IdrumOptions options,
    DeviceStore devices,
    SettingStore settings,
    SecurityLog security
) : AuthenticationHandler<AuthenticationSchemeOptions>(scheme, log, url)
{
    public new const string Scheme = "device";

    /// <summary>The cookie of a device. Its name binds it to this host and to TLS.</summary>
    public const string Cookie = "__Host-idrum";

    /// <summary>Marks a request refused because it is for who keeps the shop.</summary>
    internal const string Keeps = "keeps";

    protected override Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var entrance = Context.Features.Get<Entrance>()?.Kind ?? EntranceKind.Loopback;
        var caller =
            entrance == EntranceKind.Loopback && options.Proxy is null
                ? new Caller(settings.Get(SettingStore.PersonHere), "this computer", true, true)
                : Paired();
        if (
            caller is null
            && HttpMethods.IsPost(Request.Method)
            && Request.Path == LeftBehind.Path
            && Request.Cookies[Cookie] is { } was
        )
        {
            // Nobody to the rest of the house: no caller, only who leaves something.
            if (devices.FindRevoked(was) is { } device)
            {
                Context.Features.Set(device);
                return Task.FromResult(
                    AuthenticateResult.Success(
                        new(new(new ClaimsIdentity([new(ClaimTypes.Name, device.Name)], Scheme)), Scheme)
                    )
                );
            }
        }
        if (caller is null)
        {
            return Task.FromResult(AuthenticateResult.NoResult());
        }
        Context.Features.Set(caller);
        var identity = new ClaimsIdentity([new(ClaimTypes.Name, caller.Device)], Scheme);
        return Task.FromResult(AuthenticateResult.Success(new(new(identity), Scheme)));
    }

    protected override Task HandleChallengeAsync(AuthenticationProperties properties) => RefuseAsync(401);

    protected override Task HandleForbiddenAsync(AuthenticationProperties properties)
    {
        Context.Items[Keeps] = true;
        security.NotAllowed(Context.Features.Get<Caller>(), Request.Method, Request.Path.Value ?? "");
        return RefuseAsync(403);
    }

    private Task RefuseAsync(int status)
    {
        Response.StatusCode = status;
        if (status == 401)
        {
            Response.Headers.WWWAuthenticate = "Bearer";
        }
        // Whoever is refused is not listened to: what he sends is not read to its end.
        if (Request.ContentLength is > 0 || Request.Headers.TransferEncoding.Count > 0)
        {
            Response.Headers.Connection = "close";
        }
        return ErrorAnswer.WriteAsync(Context);
    }

    private Caller? Paired()
    {
        var bearer =
            Request.Headers.Authorization.ToString() is { } said && said.StartsWith("Bearer ", StringComparison.Ordinal)
                ? said[7..].Trim()
                : null;
        var token = bearer is not null && Request.Path.StartsWithSegments("/api") ? bearer : Request.Cookies[Cookie];
        return token is { Length: > 0 } && devices.Find(token) is { } device
            ? new(device.Person, device.Name, device.Keeps, false) { DeviceId = device.DeviceId }
            : null;
    }
}
