using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Shop;

/// <summary>Keeping the shop: devices, who works at this computer, backups.</summary>
public sealed class IndexModel(
    DeviceStore devices,
    PairingDesk desk,
    PublicAddress address,
    SettingStore settings,
    BackupDesk backups,
    RestoreDesk restore,
    GlueDesk glue,
    MoneyDesk money,
    IdrumOptions options,
    TimeProvider clock,
    IServiceProvider services
) : PageModel
{
    private const int Longest = 60;

    public IReadOnlyList<Device> Devices => devices.List();

    public string Address => address.Network;

    public string Trust => address.Trust;

    public string Fingerprint => services.GetService<ShopAuthority>()?.Fingerprint ?? "";

    public IReadOnlyList<FileInfo> Backups => backups.List();

    public string Folder => backups.Folder;

    public string Trouble => backups.Trouble;

    public string ChosenFolder { get; private set; } = settings.Get(SettingStore.BackupFolder);

    public string Kept { get; private set; } = backups.Kept.ToString(CultureInfo.InvariantCulture);

    public string Here => settings.Get(SettingStore.PersonHere);

    public string Person { get; private set; } = "";

    public string Name { get; private set; } = "";

    public string Wrong { get; private set; } = "";

    public string Said { get; private set; } = "";

    /// <summary>The invitation just made, or null.</summary>
    public Invitation? Invited { get; private set; }

    public IActionResult OnGet([FromRoute] string? act) =>
        act switch
        {
            null => Page(),
            "file" => WholeShop(),
            "export" => Export(),
            _ => NotFound(),
        };

    public IActionResult OnPost([FromRoute] string act) =>
        act switch
        {
            "backup" => Backup(),
            "restore" => Restore(),
            "pair" => Pair(),
            "revoke" => Done(
                Guid.TryParse(Request.Form["device"], out var id) && devices.Revoke(id),
                "Revoked: its next request is that of a stranger.",
                "There is no such device in use."
            ),
            "seen" => Seen(),
            "here" => KeepHere(),
            "warmth" => KeepWarmth(),
            "label" => KeepLabel(),
            "money" => KeepMoney(),
            _ => NotFound(),
        };

    /// <summary>What was answered once and was missing at a start; empty where nothing was.</summary>
    public string Missing => settings.Get(SettingStore.ActsMissing);

    private PageResult Seen()
    {
        settings.Set(SettingStore.ActsMissing, "");
        return Done("", "It is not told any more.");
    }

    /// <summary>Fields of what the shop charges, with words.</summary>
    public static IReadOnlyList<(string Id, string Words)> MoneyFields { get; } =
    [
        ("currency", "Currency"),
        ("ratePerHour", "An hour of work"),
        ("stepMinutes", "Charged in steps of, min"),
        ("tripCharge", "A trip"),
        ("tripMinutes", "A second trip takes, min"),
        ("taxPercent", "Tax, %"),
    ];

    /// <summary>Errors of what was typed there.</summary>
    private IReadOnlyList<Idrum.Core.Basics.FieldError> moneyErrors = [];

    public string MoneyWrong(string field) =>
        string.Join(" ", moneyErrors.Where(e => e.Pointer == field).Select(e => e.Message));

    /// <summary>What stands in a field: what was typed and refused, else what is set.</summary>
    public string MoneyValue(string field)
    {
        if (moneyErrors.Count > 0)
        {
            return Request.Form[field].ToString();
        }
        var t = money.Terms;
        string Plain(double n) => n.ToString("0.##", CultureInfo.InvariantCulture);
        return field switch
        {
            "currency" => t.Currency,
            "ratePerHour" => Plain(t.RatePerHour),
            "stepMinutes" => Plain(t.StepMinutes),
            "tripCharge" => Plain(t.TripCharge),
            "tripMinutes" => Plain(t.TripMinutes),
            "taxPercent" => Plain(t.TaxPercent),
            "paper" => t.Paper,
            "units" => t.Units,
            "temperature" => t.Temperature,
            "timeZone" => t.TimeZone,
            "signers" => string.Join('\n', t.Signers),
            _ => string.Join(
                '\n',
                money
                    .Van()
                    .Where(v => v.Value > 0)
                    .OrderBy(v => v.Key, StringComparer.Ordinal)
                    .Select(v => $"{v.Key} {v.Value}")
            ),
        };
    }

    /// <summary>What stands in the van under a number that says not clearly what it is.</summary>
    public IReadOnlyList<(string Number, string Now)> UnclearInVan => money.UnclearInVan();

    private PageResult KeepMoney()
    {
        var errors = new Idrum.Core.Basics.FieldErrors();
        double Number(string name)
        {
            var n = TypedNumber.Read(Request.Form[name]);
            errors.If(n is null, name, "A number is needed here.");
            return n ?? 1;
        }
        string[] Lines(string name) =>
            [.. Request.Form[name].ToString().Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0)];
        var van = new Dictionary<string, int>();
        foreach (var line in Lines("van"))
        {
            var at = line.LastIndexOf(' ');
            if (
                at < 1
                || !int.TryParse(line[(at + 1)..], NumberStyles.Integer, CultureInfo.InvariantCulture, out var count)
                || !van.TryAdd(line[..at].Trim(), count)
            )
            {
                errors.Add(
                    "van",
                    $"'{Idrum.Core.Basics.FieldErrors.Short(line)}': a number and how many, each number once."
                );
            }
        }
        var wanted = money.Terms with
        {
            Currency = Request.Form["currency"].ToString().Trim(),
            RatePerHour = Number("ratePerHour"),
            StepMinutes = Number("stepMinutes"),
            TripCharge = Number("tripCharge"),
            TripMinutes = Number("tripMinutes"),
            TaxPercent = Number("taxPercent"),
            Paper = Request.Form["paper"].ToString(),
            Units = Request.Form["units"].ToString(),
            Temperature = Request.Form["temperature"] is [{ Length: > 0 } degrees] ? degrees : money.Terms.Temperature,
            TimeZone = Request.Form["timeZone"] is [{ Length: > 0 } zone] ? zone.Trim() : money.Terms.TimeZone,
            Signers = Lines("signers"),
            Van = van,
        };
        moneyErrors = errors.All.Count > 0 ? errors.All : money.Keep(wanted);
        if (moneyErrors.Count == 0)
        {
            Said = "Kept: from now on new estimates and prices go by it.";
            return Page();
        }
        return Refuse(
            "Not kept: "
                + string.Join(
                    " ",
                    moneyErrors.Select(e =>
                        $"{MoneyFields.FirstOrDefault(f => f.Id == e.Pointer).Words ?? e.Pointer}: {e.Message}"
                    )
                )
        );
    }

    public IReadOnlyList<Adhesive> Adhesives => glue.Adhesives;

    public GlueHabits Habits => glue.Habits;

    public bool Fahrenheit => money.Terms.Fahrenheit;

    /// <summary>What was typed as a label and refused: field → text; empty where nothing was.</summary>
    public IReadOnlyDictionary<string, string> Typed { get; private set; } = new Dictionary<string, string>();

    /// <summary>Errors of a label, by field.</summary>
    public IReadOnlyList<Idrum.Core.Basics.FieldError> LabelWrong { get; private set; } = [];

    /// <summary>Fields of a label, with words.</summary>
    public IReadOnlyList<(string Id, string Words)> LabelFields =>
        [
            ("earliest", "Join from, min"),
            ("latest", "Join before, min"),
            ("press", "Press, min"),
            ("handling", "Handle after, min"),
            ("cure", "Heat after, min"),
            ("celsius", "At " + Degrees.Unit(Fahrenheit)),
        ];

    /// <summary>What stands in a field of a label.</summary>
    public string LabelValue(Adhesive adhesive, string field)
    {
        if (Typed.GetValueOrDefault("adhesive") == adhesive.Id)
        {
            return Typed.GetValueOrDefault(field, "");
        }
        return Habits.Labels.TryGetValue(adhesive.Id, out var label)
            ? field == "celsius"
                ? Degrees.Number(label.Celsius, Fahrenheit)
                : (
                    field switch
                    {
                        "earliest" => label.Times.Earliest,
                        "latest" => label.Times.Latest,
                        "press" => label.Times.Press,
                        "handling" => label.Times.Handling,
                        _ => label.Times.Cure,
                    }
                ).ToString(CultureInfo.InvariantCulture)
            : "";
    }

    private PageResult KeepWarmth() =>
        Done(
            TypedNumber.Read(Request.Form["warmth"]) is { } shown
                ? glue.KeepWarmth(Degrees.Celsius(shown, Fahrenheit), Fahrenheit)
                : "Room temperature: a number is needed here.",
            "Kept."
        );

    private PageResult KeepLabel()
    {
        var adhesive = Request.Form["adhesive"].ToString();
        if (Request.Form["forget"] == "yes")
        {
            return Done(
                glue.KeepLabel(adhesive, null) is [var none, ..] ? none.Message : "",
                "Forgotten: Idrum's own times hold again."
            );
        }
        var numbers = LabelFields.ToDictionary(f => f.Id, f => TypedNumber.Read(Request.Form[f.Id]));
        LabelWrong = numbers.Any(n => n.Value is null)
            ?
            [
                .. numbers
                    .Where(n => n.Value is null)
                    .Select(n => new Idrum.Core.Basics.FieldError(n.Key, "A number is needed here.")),
            ]
            : glue.KeepLabel(
                adhesive,
                new(
                    new(
                        numbers["earliest"]!.Value,
                        numbers["latest"]!.Value,
                        numbers["press"]!.Value,
                        numbers["handling"]!.Value,
                        numbers["cure"]!.Value
                    ),
                    Degrees.Celsius(numbers["celsius"]!.Value, Fahrenheit)
                )
            );
        if (LabelWrong.Count == 0)
        {
            Said = "Kept: from now on this label's times are used.";
            return Page();
        }
        Typed = LabelFields
            .ToDictionary(f => f.Id, f => Request.Form[f.Id].ToString())
            .Append(new("adhesive", adhesive))
            .ToDictionary();
        return Refuse(
            "Label: "
                + string.Join(
                    " ",
                    LabelWrong.Select(e =>
                        $"{LabelFields.FirstOrDefault(f => f.Id == e.Pointer).Words ?? e.Pointer}: {e.Message}"
                    )
                )
        );
    }

    private PageResult Done(string wrong, string said) => Done(wrong.Length == 0, said, wrong);

    private PageResult Pair()
    {
        (Person, Name) = (Request.Form["person"].ToString().Trim(), Request.Form["name"].ToString().Trim());
        if (Person.Length is 0 or > Longest || Name.Length is 0 or > Longest)
        {
            return Refuse(
                Person.Length is 0 or > Longest
                    ? $"Person: whose device is it? {Longest} signs at most."
                    : $"Device: what is it called? {Longest} signs at most."
            );
        }
        Invited = desk.Invite(Name, Person, Request.Form["keeps"] == "true");
        return Page();
    }

    private FileStreamResult Export()
    {
        var stream = Passing();
        ShopExport.Write(
            stream,
            services.GetRequiredService<JobStore>(),
            services.GetRequiredService<LayoutStore>(),
            services.GetRequiredService<ShopKeeper>().Now
        );
        stream.Position = 0;
        return File(
            stream,
            "application/zip",
            clock.GetUtcNow().ToString("'idrum-export-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture)
        );
    }

    private FileStreamResult WholeShop()
    {
        var file = Path.Combine(Path.GetTempPath(), $"idrum-{Guid.NewGuid():N}.zip");
        ShopBackup.Make(options.DataFolder, file, false, clock.GetUtcNow());
        return File(
            new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.None, 1 << 16, FileOptions.DeleteOnClose),
            "application/zip",
            clock.GetUtcNow().ToString("'idrum-'yyyy-MM-dd-HHmm'.zip'", CultureInfo.InvariantCulture)
        );
    }

    private static FileStream Passing() =>
        new(
            Path.Combine(Path.GetTempPath(), $"idrum-{Guid.NewGuid():N}.zip"),
            FileMode.CreateNew,
            FileAccess.ReadWrite,
            FileShare.None,
            1 << 16,
            FileOptions.DeleteOnClose
        );

    private PageResult Backup()
    {
        (ChosenFolder, Kept) = (Request.Form["folder"].ToString().Trim(), Request.Form["kept"].ToString().Trim());
        if (!int.TryParse(Kept, CultureInfo.InvariantCulture, out var kept) || kept is < 1 or > 1000)
        {
            return Refuse("How many are kept: a number from 1 to 1000.");
        }
        if (ChosenFolder.Length > 0 && !Path.IsPathFullyQualified(ChosenFolder))
        {
            return Refuse("Folder: the whole path, from the root.");
        }
        try
        {
            var folder = ChosenFolder.Length > 0 ? ChosenFolder : Path.Combine(options.DataFolder, "backups");
            var manifest = ShopBackup.Make(
                options.DataFolder,
                Path.Combine(
                    folder,
                    clock.GetUtcNow().ToString("'idrum-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture)
                ),
                false,
                clock.GetUtcNow()
            );
            settings.Set(SettingStore.BackupFolder, ChosenFolder);
            settings.Set(SettingStore.BackupsKept, Kept);
            Said = $"Backed up and checked: {manifest.Jobs} jobs, {manifest.Acts} acts.";
            return Page();
        }
        catch (Exception e) when (e is IOException or InvalidDataException or UnauthorizedAccessException)
        {
            return Refuse(e.Message);
        }
    }

    private PageResult Restore()
    {
        if (Request.Form.Files["backup"] is not { Length: > 0 } sent)
        {
            return Refuse("Backup file: choose one first.");
        }
        var file = Path.Combine(options.DataFolder, $"brought-{Guid.NewGuid():N}.zip");
        try
        {
            using (var stream = new FileStream(file, FileMode.CreateNew))
            {
                sent.CopyTo(stream);
            }
            var manifest = restore.Ask(file);
            Said =
                $"{manifest.Jobs} jobs and {manifest.Acts} acts of {Say.Clock(manifest.MadeAt)} are brought back. Idrum starts anew: load the page again in a few seconds.";
            return Page();
        }
        catch (Exception e) when (e is IOException or InvalidDataException)
        {
            System.IO.File.Delete(file);
            return Refuse(e.Message);
        }
    }

    private IActionResult KeepHere()
    {
        var name = Request.Form["here"].ToString().Trim();
        if (name.Length > Longest)
        {
            return Refuse($"Who works at it: {Longest} signs at most.");
        }
        settings.Set(SettingStore.PersonHere, name);
        return this.SeeOther("/shop");
    }

    private PageResult Done(bool done, string said, string wrong)
    {
        if (!done)
        {
            return Refuse(wrong);
        }
        Said = said;
        return Page();
    }

    private PageResult Refuse(string words)
    {
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Wrong = words;
        return Page();
    }
}
