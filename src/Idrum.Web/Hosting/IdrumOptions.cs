using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Idrum.Web.Devices;

namespace Idrum.Web.Hosting;

/// <summary>What the command line says. Addresses come from here alone: what the environment says to the web server is
/// not heard.</summary>
public sealed record IdrumOptions
{
    public const int DefaultPort = 5080;

    public const int DefaultLanPort = 5443;

    public const int DefaultTrustPort = 5081;

    /// <summary>Port asked for by name; null to take the default or the next free one. 0 takes any.</summary>
    public int? Port { get; init; }

    /// <summary>Folder of database and keys.</summary>
    public required string DataFolder { get; init; }

    /// <summary>Folder of layouts, faults, findings and handbook.</summary>
    public required string ContentFolder { get; init; }

    /// <summary>Fill an empty shop with the made-up workshop.</summary>
    public bool Demo { get; init; }

    /// <summary>Does not look at its own pages after the start; for tests, which live for seconds.</summary>
    public bool Cold { get; init; }

    /// <summary>How many years of closed jobs the made-up workshop has behind it.</summary>
    public double Years { get; init; }

    /// <summary>The clock it runs by.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>Serve to the shop's network too.</summary>
    public bool Lan { get; init; }

    /// <summary>Address of this computer to serve the network on; null for all.</summary>
    public IPAddress? LanAddress { get; init; }

    /// <summary>Port of the network's side, TLS.</summary>
    public int LanPort { get; init; } = DefaultLanPort;

    /// <summary>Port of the page of trust, the only one without TLS on the network's side; null where a certificate of
    /// one's own makes it needless.</summary>
    public int TrustPort { get; init; } = DefaultTrustPort;

    /// <summary>A certificate of one's own, PEM, or empty for the shop's authority.</summary>
    public string Certificate { get; init; } = "";

    /// <summary>Its key, PEM.</summary>
    public string CertificateKey { get; init; } = "";

    /// <summary>The address under which a reverse proxy on this computer serves Idrum, or null. Whoever comes by
    /// loopback is then a stranger until paired.</summary>
    public Uri? Proxy { get; init; }

    /// <summary>What to do: serve, backup, restore, check, version.</summary>
    public string Task { get; init; } = "serve";

    /// <summary>File of the task.</summary>
    public string File { get; init; } = "";

    /// <summary>Put the shop's authority, with its key, into the backup too.</summary>
    public bool WithAuthority { get; init; }

    /// <summary>Path of the database.</summary>
    public string DatabasePath => Path.Combine(DataFolder, "idrum.db");

    /// <summary>Folder of the shop's authority.</summary>
    public string AuthorityFolder => Path.Combine(DataFolder, "authority");

    /// <summary>Names under which the network's side answers, as a request's host says them.</summary>
    public IEnumerable<string> NetworkNames() =>
        [
            .. ServerNames.Names(),
            .. ServerNames
                .Addresses(LanAddress)
                .Select(a =>
                    a.AddressFamily == System.Net.Sockets.AddressFamily.InterNetworkV6 ? $"[{a}]" : a.ToString()
                ),
            .. Certificate.Length > 0 ? NamesIn(OwnCertificate()) : [],
        ];

    /// <summary>Reads the certificate of one's own.</summary>
    /// <exception cref="ArgumentException">It cannot be read, or has no key.</exception>
    public X509Certificate2 OwnCertificate()
    {
        try
        {
            return X509Certificate2.CreateFromPemFile(Certificate, CertificateKey.Length > 0 ? CertificateKey : null);
        }
        catch (Exception e) when (e is CryptographicException or IOException or UnauthorizedAccessException)
        {
            throw new ArgumentException(
                $"--cert: {e.Message} A certificate and its key are needed as PEM (--cert FILE --key FILE).",
                e
            );
        }
    }

    private static IEnumerable<string> NamesIn(X509Certificate2 certificate)
    {
        using (certificate)
        {
            return
            [
                .. certificate
                    .Extensions.OfType<X509SubjectAlternativeNameExtension>()
                    .SelectMany(n => n.EnumerateDnsNames()),
            ];
        }
    }

    /// <summary>Reads the words after the command.</summary>
    /// <exception cref="ArgumentException">A word is not understood.</exception>
    public static IdrumOptions Parse(string[] args)
    {
        var options = new IdrumOptions
        {
            DataFolder = Path.Combine(Directory.GetCurrentDirectory(), "data"),
            ContentFolder = Path.Combine(AppContext.BaseDirectory, "content"),
        };
        for (var i = 0; i < args.Length; i++)
        {
            var next =
                i + 1 < args.Length && !args[i + 1].StartsWith("--", StringComparison.Ordinal) ? args[i + 1] : null;
            var (read, taken) = One(options, args[i], next, i == 0);
            options = read ?? throw new ArgumentException(NotUnderstood(args[i], next));
            i += taken;
        }
        return options;
    }

    private static (IdrumOptions? Options, int Taken) One(IdrumOptions o, string word, string? next, bool first) =>
        word switch
        {
            "serve" when first => (o, 0),
            "demo" when first => (o with { Demo = true, Years = 2 }, 0),
            "check" or "version" when first => (o with { Task = word }, 0),
            "backup" when first => (o with { Task = "backup", File = next ?? "" }, next is null ? 0 : 1),
            "restore" when first && next is not null => (o with { Task = "restore", File = Path.GetFullPath(next) }, 1),
            "--port" when PortOf(next) is { } n => (o with { Port = n }, 1),
            "--data" when next is { Length: > 0 } => (o with { DataFolder = Path.GetFullPath(next) }, 1),
            "--demo" => (o with { Demo = true }, 0),
            "--cold" => (o with { Cold = true }, 0),
            "--years" when int.TryParse(next, out var n) && n is >= 0 and <= 10 => (o with { Years = n }, 1),
            "--lan" when next is null => (o with { Lan = true }, 0),
            "--lan" when IPAddress.TryParse(next, out var a) => (o with { Lan = true, LanAddress = a }, 1),
            "--lan-port" when PortOf(next) is { } n => (o with { LanPort = n }, 1),
            "--trust-port" when PortOf(next) is { } n => (o with { TrustPort = n }, 1),
            "--cert" when next is not null => (o with { Certificate = Path.GetFullPath(next) }, 1),
            "--key" when next is not null => (o with { CertificateKey = Path.GetFullPath(next) }, 1),
            "--proxy" when Uri.TryCreate(next, UriKind.Absolute, out var u) && u.Scheme == Uri.UriSchemeHttps => (
                o with
                {
                    Proxy = u,
                },
                1
            ),
            "--with-authority" => (o with { WithAuthority = true }, 0),
            _ => (null, 0),
        };

    private static int? PortOf(string? text) => int.TryParse(text, out var n) && n is >= 0 and <= 65535 ? n : null;

    private static string NotUnderstood(string word, string? next) =>
        $"'{word}{(next is null ? "" : " " + next)}' is not understood. Use --port N (0 to 65535), --data DIR, --demo, --years N (0 to 10, with --demo), --cold (no page is looked at after the start), --lan [ADDRESS], --lan-port N, --trust-port N, --cert FILE --key FILE, --proxy https://NAME; or first: serve, demo, check, version, backup [FILE], restore FILE.";
}
