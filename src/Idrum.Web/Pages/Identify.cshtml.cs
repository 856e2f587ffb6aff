using Idrum.Core.Identify;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>Which machine stands there: one question at a time, all answers in the address, so that Back takes one
/// back.</summary>
public sealed class IdentifyModel(ShopSnapshot shop, JobStore store, LearningStore learning) : PageModel
{
    private const string AnswerField = "a";

    /// <summary>Answers so far, in the order they were given.</summary>
    public IReadOnlyList<(FactTerm Fact, string Value)> Answers { get; private set; } = [];

    /// <summary>Tag as typed.</summary>
    public string Tag { get; private set; } = "";

    /// <summary>Number of the job whose machine is in doubt; empty where one is to be opened.</summary>
    public string Job { get; private set; } = "";

    public Identification Found { get; private set; } = null!;

    public IReadOnlyList<Difference> Differences { get; private set; } = [];

    /// <summary>Layouts worth showing: the likeliest, and those at least one in fifty.</summary>
    public IEnumerable<(Layout Layout, Candidate Candidate)> Shown =>
        Found
            .Candidates.Where(c => c.Layout is not null)
            .Where((c, i) => i == 0 || c.Probability >= 0.02)
            .Take(6)
            .Select(c => (c.Layout!, c));

    /// <summary>That it is none of the shop's; last, whatever it weighs.</summary>
    public Candidate None => Found.Candidates.First(c => c.Layout is null);

    public IActionResult OnGet()
    {
        var answers = new List<(FactTerm, string)>();
        foreach (
            var said in Request
                .Query[AnswerField]
                .OfType<string>()
                .Select(a => a.Split(':', 2))
                .Where(a => a.Length == 2)
        )
        {
            if (
                shop.Words.FindFact(said[0]) is { Seconds: > 0 } fact
                && answers.TrueForAll(a => a.Item1 != fact)
                && (said[1] == IdentificationKey.CantTell || fact.Values.Any(v => v.Id == said[1]))
            )
            {
                answers.Add((fact, said[1]));
            }
        }
        Answers = answers;
        Tag = Request.Query["tag"].ToString() is { Length: <= 60 } tag ? tag.Trim() : "";
        Job = store.Find(Request.Query["job"].ToString())?.State.Number ?? "";
        var key = shop.Key;
        Found = key.Of(answers.ToDictionary(a => a.Item1.Id, a => a.Item2), new TagClue(learning.Tags()).Of(Tag));
        Differences = Found.Differences(shop.Words);
        return Page();
    }

    /// <summary>The address with one more answer.</summary>
    public string With(FactTerm fact, string value) => Address(Answers.Append((fact, value)));

    /// <summary>The address without the last answer.</summary>
    public string TakenBack => Address(Answers.SkipLast(1));

    private string Address(IEnumerable<(FactTerm Fact, string Value)> answers)
    {
        var parts = answers
            .Select(a => $"{AnswerField}={a.Fact.Id}:{a.Value}")
            .Concat(Tag.Length > 0 ? [$"tag={Uri.EscapeDataString(Tag)}"] : [])
            .Concat(Job.Length > 0 ? [$"job={Uri.EscapeDataString(Job)}"] : []);
        return "/identify" + (parts.Any() ? "?" + string.Join('&', parts) : "");
    }

    /// <summary>Where the choice of a layout leads.</summary>
    public string Take(Layout layout) =>
        Job.Length > 0
            ? $"/jobs/{Uri.EscapeDataString(Job)}/machine?to={layout.Id}"
            : $"/jobs/new?machine={layout.Id}" + (Tag.Length > 0 ? $"&tag={Uri.EscapeDataString(Tag)}" : "");
}
