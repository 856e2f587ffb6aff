using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Tests;

namespace Idrum.Web.Tests;

/// <summary>A monkey does what pages offer, whatever it is; then somebody who wants to go home does only what they offer
/// first. From wherever the monkey left it, the job can be closed with nothing open and no reason written.</summary>
public sealed class MonkeyTests : IAsyncLifetime
{
    private static readonly string[] Pages =
    [
        "find",
        "strip",
        "floor",
        "floor",
        "floor",
        "fit",
        "fit",
        "round",
        "rebuild",
        "prove",
        "parts",
        "gauge",
        "gauge",
        "listen",
    ];

    // As tools show them, small to large.
    private static readonly string[] Shown = ["0", "0.4", "2", "6", "13", "79.5", "230", "2000"];

    // What leaves the job, waits for another machine, or is not about a dead end.
    private static readonly string[] Elsewhere =
    [
        "closed",
        "reopened",
        "photo-added",
        "machine-corrected",
        "timer-started",
        "estimate-given",
        "price-made",
        "station-entered",
    ];

    private readonly TestClock clock = new() { Now = DateTimeOffset.UtcNow };
    private readonly TestHost host;
    private readonly HtmlParser parser = new();
    private readonly List<string> did = [];
    private string number = "";

    public MonkeyTests() => host = new() { Demo = false, With = o => o with { Clock = clock } };

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    public static TheoryData<int> Seeds =>
        [
            .. Enumerable.Range(
                1,
                int.TryParse(Environment.GetEnvironmentVariable("IDRUM_MONKEYS"), out var n) ? n : TestSize.Of(4, 12)
            ),
        ];

    [Theory]
    [MemberData(nameof(Seeds))]
    public async Task From_wherever_offered_acts_lead_offered_acts_close_the_job(int seed)
    {
        var random = new Random(seed);
        number = $"M-{seed:0000}";
        await OpenAsync(random);
        for (var n = 0; n < 30; n++)
        {
            await AnyAsync(random);
        }
        var wild = did.Count;
        for (var n = 0; n < 220 && State.Closed is null; n++)
        {
            await HomeAsync();
        }
        Assert.True(
            State.Closed is { Reason.Length: 0 },
            $"Seed {seed}, {State.Machine.LayoutId}, does not close. Open: {string.Join(" | ", OpenItems.Of(State, host.Shop.MachineOf(State)).Select(o => o.Text).Take(6))}\nWild: {string.Join("\n", did.Take(wild))}\nHome: {string.Join("\n", did.Skip(wild).TakeLast(12))}"
        );
    }

    private JobState State => host.Store.Find(number)!.State;

    private async Task OpenAsync(Random random)
    {
        var layout = host.Shop.Layouts[random.Next(host.Shop.Layouts.Count)];
        var parts = layout.Parts.Where(p => p.Wears).ToList();
        var id = Guid.NewGuid();
        async Task PostAsync(JobEvent e)
        {
            var answer = await host.PostJsonAsync(
                $"/api/v1/jobs/{id}/events",
                e with
                {
                    Id = Guid.NewGuid(),
                    At = clock.Now,
                }
            );
            Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        }
        await PostAsync(new JobOpened(number, new MachineCard { LayoutId = layout.Id, Place = "Cellar" }));
        await PostAsync(new ComplaintStated(["squeal"], ""));
        PartId[] targets =
        [
            .. Enumerable.Range(0, 1 + random.Next(2)).Select(_ => parts[random.Next(parts.Count)].Id).Distinct(),
        ];
        await PostAsync(new TargetsChosen(targets, "", new Dictionary<string, OperationId>(), "what it came for"));
        await PostAsync(
            new SafetySigned([.. JobSafety.Of(State, host.Shop.MachineOf(State)).Select(i => i.Id)], "A. Hand")
        );
    }

    /// <summary>Any form of any page, filled anyhow.</summary>
    private async Task AnyAsync(Random random)
    {
        var page = Pages[random.Next(Pages.Length)];
        if (page == "gauge")
        {
            // One of all that can be measured here.
            var document = parser.ParseDocument(await host.Client.GetStringAsync($"/jobs/{number}/gauge"));
            var ways = document.QuerySelectorAll<IHtmlAnchorElement>("main a[href*='protocol=']").ToList();
            page = ways.Count > 0 ? ways[random.Next(ways.Count)].GetAttribute("href")!.Split('/')[^1] : page;
        }
        var forms = (await FormsAsync(page)).Where(f => !Elsewhere.Contains(KindOf(f))).ToList();
        if (forms.Count == 0)
        {
            return;
        }
        // What is done most on the floor is the step itself.
        var form =
            page == "floor" && random.Next(2) == 0
                ? forms.FirstOrDefault(f => f.Id == "done") ?? forms[0]
                : forms[random.Next(forms.Count)];
        var buttons = ButtonsOf(form).ToList();
        if (buttons.Count > 0)
        {
            await SendAsync(page, form, buttons[random.Next(buttons.Count)], random);
        }
    }

    /// <summary>The next thing towards the close: what is open first, done as the page means it.</summary>
    private async Task HomeAsync()
    {
        var version = host.Store.Find(number)!.Version;
        var open = OpenItems.Of(State, host.Shop.MachineOf(State));
        string[] pages =
            open.Count == 0
                ? ["close"]
                :
                [
                    open[0].Station.ToString().ToLowerInvariant(),
                    "floor",
                    "fit",
                    "rebuild",
                    "strip",
                    "prove",
                    "parts",
                    "close",
                ];
        foreach (var page in pages)
        {
            foreach (var form in await FormsAsync(page))
            {
                if (
                    !(open is [{ Station: Station.Find }, ..] && KindOf(form) is "finding-answered" or "targets-chosen")
                        && KindOf(form)
                            is "problem-noted"
                                or "note-added"
                                or "reading-taken"
                                or "timer-started"
                                or "photo-added"
                                or "undone"
                                or "restored"
                                or "finding-answered"
                                or "targets-chosen"
                                or "cause-decided"
                                or "work-declined"
                                or "glue-slipped"
                                or "estimate-given"
                                or "price-made"
                                or "machine-corrected"
                                or "parts-bought"
                                or "part-ordered"
                                or "ways-chosen"
                                or "school-chosen"
                                or "step-note-ticked"
                    || KindOf(form) == "closed" && open.Count > 0
                    // Forward only: to and fro is no way home.
                    || KindOf(form) == "station-entered"
                        && Enum.Parse<Station>(
                            form.QuerySelector<IHtmlInputElement>("[name=station]")!.Value!,
                            ignoreCase: true
                        ) <= State.Station
                )
                {
                    continue;
                }
                foreach (var button in ButtonsOf(form))
                {
                    await SendAsync(page, form, button, null);
                    if (host.Store.Find(number)!.Version != version)
                    {
                        return;
                    }
                }
            }
        }
        // Nothing moved: time passes, glue bears.
        clock.Now = clock.Now.AddMinutes(20);
        did.Add("waits");
    }

    private async Task<IReadOnlyList<IHtmlFormElement>> FormsAsync(string page)
    {
        var answer = await host.Client.GetAsync($"/jobs/{number}/{page}");
        if (answer.StatusCode is HttpStatusCode.Redirect or HttpStatusCode.SeeOther)
        {
            return [];
        }
        Assert.True(
            answer.StatusCode == HttpStatusCode.OK,
            $"{page}: {answer.StatusCode} after {string.Join("\n", did.TakeLast(3))}"
        );
        var document = parser.ParseDocument(await answer.Content.ReadAsStringAsync());
        return
        [
            .. document
                .QuerySelectorAll<IHtmlFormElement>("main form[method=post], .acts form[method=post], form#done")
                .Where(f => f.Dataset["kind"] is not null && !f.IsHidden)
                .Distinct(),
        ];
    }

    private static string KindOf(IHtmlFormElement form) => form.Dataset["kind"] ?? "";

    private static IEnumerable<IHtmlButtonElement> ButtonsOf(IHtmlFormElement form) =>
        form.Owner!.QuerySelectorAll<IHtmlButtonElement>("button")
            .Where(b => b.Form == form && !b.IsDisabled && b.GetAttribute("type") is null or "submit");

    private async Task SendAsync(string page, IHtmlFormElement form, IHtmlButtonElement button, Random? random)
    {
        var fields = new List<KeyValuePair<string, string>>();
        var radios = new HashSet<string>();
        foreach (var field in form.Elements.OfType<IHtmlElement>())
        {
            var name = field.GetAttribute("name");
            if (string.IsNullOrEmpty(name))
            {
                continue;
            }
            switch (field)
            {
                case IHtmlInputElement { Type: "hidden" } hidden:
                    fields.Add(new(name, hidden.Value ?? ""));
                    break;
                case IHtmlInputElement { Type: "checkbox" } box when random is null || random.Next(3) > 0:
                    fields.Add(new(name, box.Value ?? "on"));
                    break;
                case IHtmlInputElement { Type: "checkbox" or "file" }:
                    break;
                case IHtmlInputElement { Type: "radio" } radio:
                    // The homegoer had it in his hand; a monkey takes what comes.
                    if (
                        random is null
                            ? name == "source"
                                ? radio.Value == PartSource.Had
                                : radios.Add(name)
                            : radio.IsChecked || random.Next(4) == 0
                    )
                    {
                        fields.RemoveAll(f => f.Key == name);
                        fields.Add(new(name, radio.Value ?? ""));
                    }
                    break;
                case IHtmlInputElement text:
                    fields.Add(new(name, Typed(text, random)));
                    break;
                case IHtmlSelectElement { Value: { } chosen }:
                    fields.Add(new(name, chosen));
                    break;
                case IHtmlTextAreaElement area:
                    fields.Add(new(name, area.Value.Length > 0 ? area.Value : "Seen."));
                    break;
            }
        }
        if (button.Name is { Length: > 0 } named)
        {
            fields.Add(new(named, button.Value));
        }
        clock.Now = clock.Now.AddMinutes(1);
        var before = host.Store.Find(number)!.Version;
        var to = form.GetAttribute("action") is { Length: > 0 } action ? action : $"/jobs/{number}/{page}";
        using var answer = await host.Client.PostAsync(to, new FormUrlEncodedContent(fields));
        var said = await answer.Content.ReadAsStringAsync();
        Assert.True(
            (int)answer.StatusCode < 500,
            $"{KindOf(form)} on {page}: {answer.StatusCode}\n{said[..Math.Min(400, said.Length)]}"
        );
        var taken = host.Store.Find(number)!.Version != before;
        did.Add(
            $"{page}: {KindOf(form)} {string.Join(' ', fields.Where(f => f.Key is not ("__RequestVerificationToken" or "id" or "madeAt" or "sentAt" or "knew" or "next" or "run" or "kind")).Select(f => $"{f.Key}={f.Value}"))}{(taken ? "" : $" REFUSED {Refusal(said)}")}"
        );
        if (!taken && answer.StatusCode == HttpStatusCode.UnprocessableEntity)
        {
            Assert.NotEmpty(Refusal(said));
        }
        // To take back is offered where it can be.
        Assert.True(taken || KindOf(form) != "undone", string.Join("\n", did.TakeLast(3)));
    }

    private string Refusal(string html) =>
        string.Join(
            " ",
            parser.ParseDocument(html).QuerySelectorAll("[data-wrong] p").Select(p => p.TextContent.Trim())
        );

    private static string Typed(IHtmlInputElement field, Random? random)
    {
        if (field.Name is "handlingMinutes" or "cureMinutes")
        {
            return "5";
        }
        return field.Value is { Length: > 0 } stands ? stands
            : field.Name == "value" && random is not null ? Shown[random.Next(Shown.Length)]
            : random is null
                ? (
                    field.GetAttribute("inputmode") is "decimal" or "numeric" ? "6.5"
                    : field.Name == "note" || field.IsRequired ? "A. Hand"
                    : field.Name is "why" or "text" or "because" or "reason" or "skippedBecause" ? "Seen."
                    : ""
                )
            : random.Next(3) switch
            {
                0 => "",
                1 => "3",
                _ => "seen so",
            };
    }
}
