using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Idrum.Web.Devices;

/// <summary>The shop's own small authority: made at the first start, it signs one certificate for this computer, which
/// is made anew before it runs
/// out or when the computer's names change. Keys can be read by the owner of the folder only.</summary>
public sealed class ShopAuthority : IDisposable
{
    private static readonly TimeSpan AuthorityLife = TimeSpan.FromDays(3650);

    /// <summary>Phones refuse certificates that live longer than 398 days.</summary>
    private static readonly TimeSpan ServerLife = TimeSpan.FromDays(390);
    private static readonly TimeSpan RenewBefore = TimeSpan.FromDays(60);
    private static readonly TimeSpan LookEvery = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan ClockSlack = TimeSpan.FromDays(1);
    private readonly Lock gate = new();
    private readonly string folder;
    private readonly TimeProvider clock;
    private readonly Func<(IReadOnlyList<string> Names, IReadOnlyList<IPAddress> Addresses)> known;
    private IReadOnlyList<string> names;
    private IReadOnlyList<IPAddress> addresses;
    private X509Certificate2 server;
    private DateTimeOffset looked;

    private ShopAuthority(
        string folder,
        Func<(IReadOnlyList<string>, IReadOnlyList<IPAddress>)> known,
        TimeProvider clock
    )
    {
        (this.folder, this.known, this.clock) = (folder, known, clock);
        (names, addresses) = known();
        looked = clock.GetUtcNow();
        Authority =
            File.Exists(AuthorityKey) && File.Exists(AuthorityFile) ? Load(AuthorityFile, AuthorityKey) : Found();
        server = Sound();
    }

    /// <summary>Certificate of the authority, with its key.</summary>
    public X509Certificate2 Authority { get; }

    /// <summary>SHA-256 of the authority's certificate, in groups of two digits.</summary>
    public string Fingerprint =>
        string.Join(
            ' ',
            SHA256
                .HashData(Authority.RawData)
                .Select(b => b.ToString("X2", System.Globalization.CultureInfo.InvariantCulture))
        );

    /// <summary>The authority's certificate as a phone takes it.</summary>
    public byte[] AsFile => Authority.Export(X509ContentType.Cert);

    private string AuthorityFile => Path.Combine(folder, "authority.crt");
    private string AuthorityKey => Path.Combine(folder, "authority.key");
    private string ServerFile => Path.Combine(folder, "server.crt");
    private string ServerKey => Path.Combine(folder, "server.key");

    /// <summary>Opens the authority of a folder or founds it.</summary>
    /// <param name="folder">Its folder; made where it is missing.</param>
    /// <param name="known">Names and addresses of this computer now; asked again every minute, for a network gives new
    /// ones.</param>
    /// <param name="clock">The shop's clock.</param>
    /// <exception cref="InvalidDataException">A key or certificate cannot be read.</exception>
    public static ShopAuthority Open(
        string folder,
        Func<(IReadOnlyList<string> Names, IReadOnlyList<IPAddress> Addresses)> known,
        TimeProvider clock
    )
    {
        Directory.CreateDirectory(folder);
        if (!OperatingSystem.IsWindows())
        {
            File.SetUnixFileMode(folder, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        }
        try
        {
            return new(folder, known, clock);
        }
        catch (Exception e) when (e is CryptographicException or ArgumentException)
        {
            throw new InvalidDataException(
                $"The shop's certificate in {folder} cannot be read ({e.Message}). Move that folder aside to make a new authority (every phone must trust it anew), or bring it back from a backup made with --with-authority.",
                e
            );
        }
    }

    /// <summary>This computer's certificate; made anew where it runs out within sixty days, or where the computer has
    /// another name or address.</summary>
    public X509Certificate2 Server()
    {
        lock (gate)
        {
            if ((clock.GetUtcNow() - looked).Duration() > LookEvery)
            {
                looked = clock.GetUtcNow();
                (names, addresses) = known();
            }
            return OutOfTime(server) || !Fits(server) ? server = Sign() : server;
        }
    }

    /// <inheritdoc />
    public void Dispose()
    {
        Authority.Dispose();
        server.Dispose();
    }

    /// <summary>Near its end, or signed while the clock was ahead.</summary>
    private bool OutOfTime(X509Certificate2 certificate) =>
        certificate.NotAfter.ToUniversalTime() - Now() < RenewBefore
        || certificate.NotBefore.ToUniversalTime() > Now() + ClockSlack;

    /// <summary>The clock's time, but none before the authority was there: a computer that has no time of its own begins
    /// in a year long past until it is told better.</summary>
    private DateTimeOffset Now() =>
        clock.GetUtcNow() is var now && now - ClockSlack > Authority.NotBefore
            ? now
            : Authority.NotBefore.ToUniversalTime() + ClockSlack;

    private X509Certificate2 Sound()
    {
        if (!File.Exists(ServerFile) || !File.Exists(ServerKey))
        {
            return Sign();
        }
        var kept = Load(ServerFile, ServerKey);
        return Fits(kept) && !OutOfTime(kept) && kept.Issuer == Authority.Subject ? kept : Sign();
    }

    private bool Fits(X509Certificate2 certificate) =>
        certificate.Extensions.OfType<X509SubjectAlternativeNameExtension>().SingleOrDefault() is { } named
        && names.All(n => named.EnumerateDnsNames().Contains(n))
        && addresses.All(a => named.EnumerateIPAddresses().Contains(a));

    private X509Certificate2 Found()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest(
            $"CN=Idrum shop authority {RandomNumberGenerator.GetHexString(6)}",
            key,
            HashAlgorithmName.SHA256
        );
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, true, 0, true));
        request.CertificateExtensions.Add(
            new X509KeyUsageExtension(X509KeyUsageFlags.KeyCertSign | X509KeyUsageFlags.CrlSign, true)
        );
        request.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(request.PublicKey, false));
        var now = clock.GetUtcNow();
        using var made = request.CreateSelfSigned(now - ClockSlack, now + AuthorityLife);
        Keep(AuthorityKey, key.ExportPkcs8PrivateKeyPem());
        Keep(AuthorityFile, made.ExportCertificatePem());
        return Load(AuthorityFile, AuthorityKey);
    }

    private X509Certificate2 Sign()
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=Idrum in this shop", key, HashAlgorithmName.SHA256);
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.DigitalSignature, true));
        request.CertificateExtensions.Add(new X509EnhancedKeyUsageExtension([new Oid("1.3.6.1.5.5.7.3.1")], false));
        request.CertificateExtensions.Add(
            X509AuthorityKeyIdentifierExtension.CreateFromCertificate(Authority, true, false)
        );
        var alternatives = new SubjectAlternativeNameBuilder();
        foreach (var name in names)
        {
            alternatives.AddDnsName(name);
        }
        foreach (var address in addresses)
        {
            alternatives.AddIpAddress(address);
        }
        request.CertificateExtensions.Add(alternatives.Build());
        var now = Now();
        var end = now + ServerLife;
        using var made = request.Create(
            Authority,
            now - ClockSlack,
            end < Authority.NotAfter ? end : Authority.NotAfter,
            RandomNumberGenerator.GetBytes(16)
        );
        Keep(ServerKey, key.ExportPkcs8PrivateKeyPem());
        Keep(ServerFile, made.ExportCertificatePem());
        return Load(ServerFile, ServerKey);
    }

    private static X509Certificate2 Load(string certificate, string key) =>
        X509Certificate2.CreateFromPem(File.ReadAllText(certificate), File.ReadAllText(key));

    /// <summary>Writes a file that only its owner can read; whole or not at all.</summary>
    private static void Keep(string path, string text)
    {
        var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
        {
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        }
        var beside = path + ".new";
        File.Delete(beside);
        using (var writer = new StreamWriter(beside, options))
        {
            writer.Write(text);
        }
        File.Move(beside, path, true);
    }
}
