using System.Globalization;

namespace Idrum.Core.Fitting;

/// <summary>Temperatures for people; kept and reckoned in °C.</summary>
public static class Degrees
{
    /// <summary>The unit.</summary>
    /// <param name="fahrenheit">°F instead of °C.</param>
    public static string Unit(bool fahrenheit) => fahrenheit ? "°F" : "°C";

    /// <summary>What stands on a thermometer, to the tenth; whole in °F.</summary>
    /// <param name="celsius">°C.</param>
    /// <param name="fahrenheit">°F instead of °C.</param>
    public static string Number(double celsius, bool fahrenheit) =>
        fahrenheit
            ? Math.Round(celsius * 9 / 5 + 32).ToString(CultureInfo.InvariantCulture)
            : celsius.ToString("0.#", CultureInfo.InvariantCulture);

    /// <summary>The same with its unit.</summary>
    /// <param name="celsius">°C.</param>
    /// <param name="fahrenheit">°F instead of °C.</param>
    public static string Show(double celsius, bool fahrenheit) => $"{Number(celsius, fahrenheit)} {Unit(fahrenheit)}";

    /// <summary>°C of what was read.</summary>
    /// <param name="shown">Degrees as read.</param>
    /// <param name="fahrenheit">Whether they are °F.</param>
    public static double Celsius(double shown, bool fahrenheit) => fahrenheit ? (shown - 32) * 5 / 9 : shown;
}
