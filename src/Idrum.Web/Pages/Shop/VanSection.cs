using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Supply;
using Idrum.Web.Shop;

namespace Idrum.Web.Pages.Shop;

/// <summary>The shop's vans and shelves: what they are called, who drives them, what is in them by number.</summary>
public sealed class VanSection(VanDesk vans, MoneyDesk money, HttpRequest request)
{
    /// <summary>Stands for one that is not there yet.</summary>
    public const string Another = "another";

    private IReadOnlyList<FieldError> faults = [];

    private IFormCollection Form => request.Form;

    private IReadOnlyList<StockPlace>? places;

    /// <summary>The places as they are.</summary>
    public IReadOnlyList<StockPlace> Places => places ??= vans.Places();

    /// <summary>What is wrong with what was typed.</summary>
    public IReadOnlyList<FieldError> Wrong => faults;

    /// <summary>What is counted under numbers that say not clearly what it is.</summary>
    public IReadOnlyList<(string Number, string Now)> Unclear => vans.Unclear();

    /// <summary>Who may drive: who signs in this shop.</summary>
    public IReadOnlyList<string> People => money.Terms.Signers;

    /// <summary>What stands in a field of a place: what was typed and refused, else what is so.</summary>
    /// <param name="field">name, drivers or holds.</param>
    /// <param name="place">The place; null for another.</param>
    public string Value(string field, StockPlace? place)
    {
        if (faults.Count > 0)
        {
            return Form[$"{field}:{place?.Id ?? Another}"].ToString();
        }
        return (field, place) switch
        {
            (_, null) => "",
            ("name", _) => place.Name,
            ("drivers", _) => string.Join(", ", place.Drivers),
            _ => string.Join(
                '\n',
                place
                    .Holds.Where(v => v.Value > 0)
                    .OrderBy(v => v.Key, StringComparer.Ordinal)
                    .Select(v => $"{v.Key} {v.Value}")
            ),
        };
    }

    internal Reply Keep()
    {
        var errors = new FieldErrors();
        var wanted = new List<StockPlace>();
        foreach (var place in Places.Append(new StockPlace(Another, "")))
        {
            var name = Form.ContainsKey("name:" + place.Id) ? Form["name:" + place.Id].ToString().Trim() : place.Name;
            if (name.Length == 0)
            {
                // Without a name it is none, or none any more.
                continue;
            }
            wanted.Add(
                place with
                {
                    Id = place.Id == Another ? "van-" + Guid.NewGuid().ToString("N")[..8] : place.Id,
                    Name = name,
                    Drivers = Form.ContainsKey("drivers:" + place.Id)
                        ?
                        [
                            .. Form["drivers:" + place.Id]
                                .ToString()
                                .Split(
                                    [',', '\n'],
                                    StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries
                                ),
                        ]
                        : place.Drivers,
                    Holds = Form.ContainsKey("holds:" + place.Id)
                        ? Holds(Form["holds:" + place.Id].ToString(), name, errors)
                        : place.Holds,
                }
            );
        }
        faults = errors.All.Count > 0 ? errors.All : vans.Keep(wanted);
        // As they are now.
        places = null;
        return faults.Count == 0
            ? Reply.Said("Kept: jobs and the week go by it from now on.")
            : Reply.Refused("Not kept: " + string.Join(" ", faults.Select(e => e.Message)));
    }

    private static Dictionary<string, int> Holds(string text, string name, FieldErrors errors)
    {
        var holds = new Dictionary<string, int>();
        foreach (var line in text.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0))
        {
            var at = line.LastIndexOf(' ');
            if (
                at < 1
                || !int.TryParse(line[(at + 1)..], NumberStyles.Integer, CultureInfo.InvariantCulture, out var count)
                || !holds.TryAdd(line[..at].Trim(), count)
            )
            {
                errors.Add("holds", $"{name}, '{FieldErrors.Short(line)}': a number and how many, each number once.");
            }
        }
        return holds;
    }
}
