using System.Text.RegularExpressions;
using Idrum.Web.Devices;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;

namespace Idrum.Web.Tests;

/// <summary>Every address with its right; one that is new and not here fails.</summary>
public sealed class RightsTests(TestHost host) : IClassFixture<TestHost>
{
    /// <summary>Addresses that are not simply for who works here.</summary>
    private static readonly Dictionary<string, string> Others = new()
    {
        ["Pair"] = Rights.Anyone,
        ["Trust"] = Rights.Anyone,
        ["/idrum-authority.crt"] = Rights.Anyone,
        ["/manifest.webmanifest"] = Rights.Anyone,
        ["/health"] = Rights.Anyone,
        ["stock"] = Rights.KeepToWrite,
        ["Shop/{act?}"] = Rights.Keep,
        // Files that are not listed one by one: by the fallback for who works here.
        ["{**path:file}"] = "none",
        ["Machines/{id}/edit"] = Rights.Keep,
        ["Machines/file"] = Rights.Keep,
        ["Machines/new"] = Rights.Keep,
        ["welcome"] = Rights.Keep,
        ["/left"] = Rights.Leave,
        ["/shop/left/{id:guid}"] = Rights.Keep,
        ["Welcome"] = Rights.Keep,
        ["Machines"] = Rights.KeepToWrite,
        ["Machines/Index"] = Rights.KeepToWrite,
        ["Machines/{id}"] = Rights.KeepToWrite,
        ["Machines/compare"] = Rights.KeepToWrite,
        ["Machines/learned"] = Rights.KeepToWrite,
        ["Jobs/{number}/variant"] = Rights.KeepToWrite,
        ["Jobs/{number}/customer"] = Rights.Keep,
    };

    private static string RightOf(RouteEndpoint endpoint) =>
        endpoint.Metadata.GetMetadata<IAllowAnonymous>() is not null ? Rights.Anyone
        : endpoint.Metadata.GetOrderedMetadata<IAuthorizeData>() is [.., var last] ? last.Policy ?? "none"
        : "none";

    [Fact]
    public void Every_address_states_its_right_and_it_is_the_one_written_here()
    {
        var endpoints = host.Get<IEnumerable<EndpointDataSource>>()
            .SelectMany(s => s.Endpoints)
            .OfType<RouteEndpoint>()
            .Where(e =>
                !Path.HasExtension(e.RoutePattern.RawText)
                || e.RoutePattern.RawText!.StartsWith("/{", StringComparison.Ordinal)
            )
            .ToList();
        Assert.InRange(endpoints.Count, 50, 200);
        var found = endpoints.Select(e => (Path: e.RoutePattern.RawText!, Right: RightOf(e))).Distinct().ToList();
        var wrong = found.Where(f =>
            f.Right
            != Others
                .FirstOrDefault(
                    o => string.Equals(o.Key, f.Path, StringComparison.OrdinalIgnoreCase),
                    new("", Rights.Work)
                )
                .Value
        );
        Assert.Empty(wrong);
    }

    [Fact]
    public void Of_files_only_those_of_the_application_are_for_anyone()
    {
        var files = host.Get<IEnumerable<EndpointDataSource>>()
            .SelectMany(s => s.Endpoints)
            .OfType<RouteEndpoint>()
            .Where(e => RightOf(e) == Rights.Anyone && Path.HasExtension(e.RoutePattern.RawText))
            .Select(e => Regex.Replace(e.RoutePattern.RawText!.TrimStart('/'), @"\.[a-z0-9]{10}(?=\.)", ""))
            .ToList();
        Assert.Contains("app.css", files);
        Assert.All(
            files.Except([
                "idrum-authority.crt",
                "manifest.webmanifest",
                "calendar/{secret}.ics",
                "icon-{size:int}.png",
            ]),
            f => Assert.True(File.Exists(Path.Combine(AppContext.BaseDirectory, "wwwroot", f)), f)
        );
    }
}
