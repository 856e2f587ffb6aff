using System.Text.RegularExpressions;
using Idrum.Core.Machines;

namespace Idrum.Core.Identify;

/// <summary>What a model tag says of the layout: the shop's own jobs teach which beginning of a tag goes with
/// which.</summary>
/// <remarks>Multinomial with a symmetric Dirichlet prior: P(prefix | layout) = (n(layout, prefix) + a) / (n(layout) + a
/// (K + 1)) for K prefixes
/// met so far and one that was never met; a stranger mostly has one that was never met.</remarks>
public sealed partial class TagClue
{
    private const double Prior = 0.5;

    /// <summary>Share of strangers whose tag begins like one of the shop's.</summary>
    private const double Known = 0.2;
    private readonly Dictionary<(string Layout, string Prefix), int> met = [];
    private readonly HashSet<string> prefixes = [];
    private readonly Dictionary<string, int> all = [];

    /// <summary>Learns from jobs.</summary>
    /// <param name="jobs">Tag as read off and layout id of each job; empty tags teach nothing.</param>
    public TagClue(IEnumerable<(string Tag, string LayoutId)> jobs)
    {
        foreach (var (tag, layout) in jobs)
        {
            if (PrefixOf(tag) is { Length: > 0 } prefix)
            {
                met[(layout, prefix)] = met.GetValueOrDefault((layout, prefix)) + 1;
                all[layout] = all.GetValueOrDefault(layout) + 1;
                prefixes.Add(prefix);
            }
        }
    }

    /// <summary>The part of a tag that goes by the model: letters and digits up to the first that is neither, upper
    /// case; of a tag in one piece
    /// its letters and at most two digits.</summary>
    public static string PrefixOf(string tag)
    {
        var text = tag.Trim().ToUpperInvariant();
        return text.Length == 0 ? ""
            : Pieces().Match(text) is { Success: true } pieces ? pieces.Groups[1].Value
            : Whole().Match(text).Value;
    }

    /// <summary>Likelihood of the tag on a layout, or (null) on none of them; null where the tag is empty or no job
    /// taught anything.</summary>
    public Func<Layout?, double>? Of(string tag)
    {
        var prefix = PrefixOf(tag);
        if (prefix.Length == 0 || prefixes.Count == 0)
        {
            return null;
        }
        var kinds = prefixes.Count + 1;
        return layout =>
            layout is null
                ? prefixes.Contains(prefix)
                    ? Known / prefixes.Count
                    : 1 - Known
                : (met.GetValueOrDefault((layout.Id, prefix)) + Prior)
                    / (all.GetValueOrDefault(layout.Id) + Prior * kinds);
    }

    [GeneratedRegex(@"\A([A-Z0-9]{1,12})[^A-Z0-9]")]
    private static partial Regex Pieces();

    [GeneratedRegex(@"\A[A-Z]*[0-9]{0,2}")]
    private static partial Regex Whole();
}
