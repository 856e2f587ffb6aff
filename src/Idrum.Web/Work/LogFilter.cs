using System.Globalization;
using Idrum.Core.Money;
using Idrum.Storage;

namespace Idrum.Web.Work;

/// <summary>What is wanted of the logbook, as its address says it.</summary>
public sealed class LogFilter
{
    private const int MostLetters = 200;

    private LogFilter(
        LogQuery query,
        IReadOnlyDictionary<string, string> typed,
        IReadOnlyDictionary<string, string> wrong
    ) => (Query, Typed, Wrong) = (query, typed, wrong);

    /// <summary>What is looked for.</summary>
    public LogQuery Query { get; }

    /// <summary>What stands in the address, by field.</summary>
    public IReadOnlyDictionary<string, string> Typed { get; }

    /// <summary>What is wrong with it, by field.</summary>
    public IReadOnlyDictionary<string, string> Wrong { get; }

    /// <summary>Whether it narrows anything down.</summary>
    public bool Any => Typed.Values.Any(v => v.Length > 0);

    /// <summary>The address that holds it, with something changed.</summary>
    /// <param name="path">Where.</param>
    /// <param name="more">Fields beside it.</param>
    public string Address(string path, params (string Name, string Value)[] more)
    {
        var fields = Typed
            .Where(t => t.Value.Length > 0 && !more.Any(m => m.Name == t.Key))
            .Select(t => (Name: t.Key, t.Value))
            .Concat(more.Where(m => m.Value.Length > 0))
            .Select(f => $"{f.Name}={Uri.EscapeDataString(f.Value)}")
            .ToList();
        return fields.Count == 0 ? path : $"{path}?{string.Join('&', fields)}";
    }

    /// <summary>Reads an address. What cannot be read narrows nothing down and is said at its field.</summary>
    /// <param name="query">The address.</param>
    /// <param name="terms">The shop's zone: a day is its day.</param>
    public static LogFilter Of(IQueryCollection query, ShopTerms terms)
    {
        string[] names = ["q", "machine", "cause", "part", "who", "tag", "state", "from", "until"];
        var typed = names.ToDictionary(
            n => n,
            n => query[n].ToString().Trim() is var text && text.Length > MostLetters ? text[..MostLetters] : text
        );
        var wrong = new Dictionary<string, string>();
        DateTimeOffset? Day(string name, int days)
        {
            if (typed[name].Length == 0)
            {
                return null;
            }
            if (
                DateOnly.TryParseExact(
                    typed[name],
                    "yyyy-MM-dd",
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.None,
                    out var day
                ) && day.Year is > 1900 and < 9000
            )
            {
                var wall = day.AddDays(days).ToDateTime(TimeOnly.MinValue);
                return new DateTimeOffset(wall, terms.Zone.GetUtcOffset(wall));
            }
            wrong[name] = "A day is written 2026-11-30.";
            return null;
        }
        var (from, until) = (Day("from", 0), Day("until", 1));
        if (from >= until)
        {
            wrong["until"] = "The last day lies before the first.";
        }
        if (typed["state"] is not ("" or "open" or "closed" or "back"))
        {
            wrong["state"] = "Open, closed, call-backs, or all.";
        }
        return new(
            new()
            {
                Words = typed["q"],
                Layout = typed["machine"],
                Fault = typed["cause"],
                Part = typed["part"],
                Person = typed["who"],
                Tag = typed["tag"],
                State = typed["state"],
                From = from,
                Until = until,
            },
            typed,
            wrong
        );
    }
}
