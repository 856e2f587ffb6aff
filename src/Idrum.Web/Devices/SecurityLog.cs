using System.Net;

namespace Idrum.Web.Devices;

/// <summary>What who keeps the shop may have to look up later: who was let in, who was not, who kept the shop and how. A line each in the
/// log, with time and category; names are people's own words and are written without signs that could make a second line.</summary>
public sealed partial class SecurityLog(ILogger<SecurityLog> log)
{
    /// <summary>The text without control signs.</summary>
    public static string Plain(string text) =>
        string.Concat(text.Select(c => char.IsControl(c) || c is '\u2028' or '\u2029' ? ' ' : c));

    /// <summary>A code that does not hold.</summary>
    [LoggerMessage(Level = LogLevel.Warning, Message = "Wrong pairing code from {Address}.")]
    public partial void Wrong(IPAddress address);

    /// <summary>A device came in.</summary>
    public void Joined(string device, string person, bool keeps, IPAddress address) =>
        Paired(Plain(device), Plain(person), keeps, address);

    /// <summary>Somebody let in asked for what only who keeps the shop may.</summary>
    public void NotAllowed(Caller? caller, string method, string path) =>
        Forbidden(Plain(caller?.Device ?? "?"), Plain(caller?.Person ?? "?"), Plain(method), Plain(path));

    /// <summary>Who keeps the shop did something that changes who is in it, or takes it away or back.</summary>
    /// <param name="caller">Who.</param>
    /// <param name="act">What, as its address names it.</param>
    /// <param name="what">Of what; empty where that says nothing.</param>
    public void Kept(Caller caller, string act, string what) =>
        Kept(
            Plain(caller.Device),
            caller.Person.Length > 0 ? Plain(caller.Person) : "nobody named",
            Plain(act),
            Plain(what)
        );

    [LoggerMessage(
        Level = LogLevel.Warning,
        Message = "Paired: {Device} of {Person} (keeps the shop: {Keeps}) from {Address}."
    )]
    private partial void Paired(string device, string person, bool keeps, IPAddress address);

    [LoggerMessage(Level = LogLevel.Warning, Message = "Not allowed: {Device} of {Person}: {Method} {Path}.")]
    private partial void Forbidden(string device, string person, string method, string path);

    [LoggerMessage(Level = LogLevel.Warning, Message = "The shop was kept by {Device} of {Person}: {Act} {What}.")]
    private partial void Kept(string device, string person, string act, string what);
}
