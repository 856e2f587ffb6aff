using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Hosting;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Shop;

/// <summary>Phones and tablets, and who works at this computer.</summary>
public sealed class DeviceSection(
    DeviceStore devices,
    PairingDesk desk,
    PublicAddress address,
    SettingStore settings,
    IServiceProvider services,
    HttpRequest request
)
{
    private const int Longest = 60;

    private IFormCollection Form => request.Form;

    /// <summary>All that were ever paired.</summary>
    public IReadOnlyList<Device> Devices => devices.List();

    /// <summary>Where phones find the shop; empty where it is served to this computer alone.</summary>
    public string Address => address.Network;

    /// <summary>Where a phone that does not trust the shop yet begins.</summary>
    public string Trust => address.Trust;

    /// <summary>Fingerprint of the shop's own authority.</summary>
    public string Fingerprint => services.GetService<ShopAuthority>()?.Fingerprint ?? "";

    /// <summary>Who works at this computer.</summary>
    public string Here => settings.Get(SettingStore.PersonHere);

    /// <summary>Whose device is to be paired, as typed.</summary>
    public string Person { get; private set; } = "";

    /// <summary>What it is called, as typed.</summary>
    public string Name { get; private set; } = "";

    /// <summary>The invitation just made, or null.</summary>
    public Invitation? Invited { get; private set; }

    /// <summary>The device that was let in or taken out, for the log; empty where none was.</summary>
    public string Touched =>
        Invited is { } guest ? $"{guest.Name} of {guest.Person}"
        : Guid.TryParse(Form["device"], out var id) && Devices.FirstOrDefault(d => d.DeviceId == id) is { } device
            ? $"{device.Name} of {device.Person}"
        : "";

    internal Reply Revoke() =>
        Guid.TryParse(Form["device"], out var id) && devices.Revoke(id)
            ? Reply.Said("Revoked: its next request is that of a stranger.")
            : Reply.Refused("There is no such device in use.");

    /// <summary>What revoked devices had still kept, device by device.</summary>
    public IReadOnlyList<LeftAct> Left => field ??= Store.List();

    private const string LeftBy = "Left by ";

    /// <summary>When it was made, by the device, in the shop's time.</summary>
    public static string Made(LeftAct act) =>
        DateTimeOffset.TryParse(act.MadeAt, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            ? Say.Clock(at)
            : act.MadeAt;

    private LeftStore Store => services.GetRequiredService<LeftStore>();

    internal async Task<Reply> KeepLeftAsync(HttpContext context)
    {
        var jobs = services.GetRequiredService<JobStore>();
        if (Store.Find(Form["left"].ToString()) is not { } act)
        {
            return Reply.Refused("It is not here any more.");
        }
        if (act.Job.Length == 0 || jobs.Find(act.Job) is not { } job)
        {
            return Reply.Refused($"There is no job {act.Job} here: drop it, or write down what you need of it.");
        }
        if (job.Log.FirstOrDefault(e => e.Id == Guid.Parse(act.Id)) is { } stored)
        {
            if (stored is NoteAdded note && note.Text.StartsWith(LeftBy, StringComparison.Ordinal))
            {
                return Reply.Said($"It is a note of {act.Job} already.");
            }
            // The shop's answer had not reached the device.
            Store.Drop(act.Id);
            return Reply.Said(
                $"It had been stored in {act.Job} before the device was revoked: there was nothing to take in."
            );
        }
        var text =
            $"{LeftBy}{act.Device} of {act.Person} when it was let in no more, made {Made(act)}: {act.Words}. {act.Fields.Replace("\n", "; ", StringComparison.Ordinal)}";
        var added = await jobs.AppendAsync(
            job.JobId,
            context.By(
                new NoteAdded("", text.Length > FieldErrors.LongText ? text[..FieldErrors.LongText] : text)
                {
                    // The same note once, however often it is asked for.
                    Id = Guid.Parse(act.Id),
                    At = services.GetRequiredService<TimeProvider>().GetUtcNow(),
                }
            )
        );
        if (added.Errors.Count > 0)
        {
            return Reply.Refused(added.Errors[0].Message);
        }
        if (act.FileName.Length == 0)
        {
            Store.Drop(act.Id);
            return Reply.Said($"A note of {act.Job}.");
        }
        return Reply.Said($"A note of {act.Job}. Its file stays here until it is dropped.");
    }

    internal Reply DropLeft()
    {
        Store.Drop(Form["left"].ToString());
        return Reply.Said("Dropped.");
    }

    internal Reply KeepHere()
    {
        var name = Form["here"].ToString().Trim();
        if (name.Length > Longest)
        {
            return Reply.Refused($"Who works at it: {Longest} signs at most.");
        }
        settings.Set(SettingStore.PersonHere, name);
        return Reply.Said();
    }

    internal Reply Pair()
    {
        (Person, Name) = (Form["person"].ToString().Trim(), Form["name"].ToString().Trim());
        if (Person.Length is 0 or > Longest || Name.Length is 0 or > Longest)
        {
            return Reply.Refused(
                Person.Length is 0 or > Longest
                    ? $"Person: whose device is it? {Longest} signs at most."
                    : $"Device: what is it called? {Longest} signs at most."
            );
        }
        Invited = desk.Invite(Name, Person, Form["keeps"] == "true");
        return Reply.Said();
    }
}
