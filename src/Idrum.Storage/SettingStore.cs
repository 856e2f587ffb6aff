namespace Idrum.Storage;

/// <summary>The shop's settings: a name, a text.</summary>
public sealed class SettingStore(Database database)
{
    /// <summary>Since when closed jobs teach.</summary>
    public const string LearnSince = "learn-since";

    /// <summary>Who works at the computer the shop is served from.</summary>
    public const string PersonHere = "person-here";

    /// <summary>What was answered and was missing at a start, until who keeps the shop has seen it.</summary>
    public const string ActsMissing = "acts-missing";

    /// <summary>The last stored act, ahead of the clock, when who keeps the shop said that the clock is right.</summary>
    public const string ClockRight = "clock-right";

    /// <summary>What devices are asked for: a number of the question and since when acts may be missing, with a space
    /// between; empty while they are asked for nothing.</summary>
    public const string ActsAsked = "acts-asked";

    /// <summary>A question to all devices for what they sent since a moment.</summary>
    public static string Asking(DateTimeOffset since) =>
        $"{Guid.NewGuid():N} {since.UtcDateTime.ToString("O", System.Globalization.CultureInfo.InvariantCulture)}";

    /// <summary>Folder the daily backups go to; empty for the one beside the data.</summary>
    public const string BackupFolder = "backup-folder";

    /// <summary>How many daily backups are kept.</summary>
    public const string BackupsKept = "backups-kept";

    /// <summary>Percent of those asked for that are to be in stock.</summary>
    public const string StockService = "stock-service";

    /// <summary>Tubes and bags that are begun, with the day they were opened.</summary>
    public const string StockOpened = "stock-opened";

    /// <summary>"yes" or "skipped" once the first start was gone through or put off.</summary>
    public const string Welcomed = "welcomed";

    /// <summary>When the working day begins, minutes after midnight.</summary>
    public const string DayBegins = "day-begins";

    /// <summary>The secret part of the calendar's address; empty while there is none.</summary>
    public const string CalendarSecret = "calendar-secret";

    /// <summary>"yes" where names, telephone and address go into the calendar.</summary>
    public const string CalendarNames = "calendar-names";

    /// <summary>The value of a setting, or empty.</summary>
    public string Get(string name)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT value FROM setting WHERE name = $name", ("$name", name));
        return command.ExecuteScalar() as string ?? "";
    }

    /// <summary>Sets it.</summary>
    public void Set(string name, string value)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "INSERT INTO setting (name, value) VALUES ($name, $value) ON CONFLICT (name) DO UPDATE SET value = $value",
            ("$name", name),
            ("$value", value)
        );
        command.ExecuteNonQuery();
    }
}
