using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Find.</summary>
public sealed class FindModel(JobServices services) : JobPage(services)
{
    private Cause? cause;

    /// <summary>What the job that came back tells; empty where none did.</summary>
    public IReadOnlyList<string> CameBack =>
        State.Machine.CallBackOf.Length > 0 && Services.Store.Find(State.Machine.CallBackOf) is { } earlier
            ? Core.Jobs.Known.CameBack.Of(earlier.State, View.Machine)
            : [];

    public override Station Shown => Station.Find;

    /// <summary>The picture shown: what is known, or what it would be with an answer that is only tried.</summary>
    public DiagnosisResult Diagnosis { get; private set; } = null!;

    /// <summary>The answer that is tried and not recorded, or null.</summary>
    public (Finding Finding, Outcome Outcome)? Tried { get; private set; }

    /// <summary>The check shown as the next thing: the one asked for, else the one advised.</summary>
    public PricedCheck? Check =>
        Diagnosis.Checks.FirstOrDefault(c => c.Finding.Id == Asked)
        ?? (
            Diagnosis.Advice.Kind == AdviceKind.Check
                ? Diagnosis.Checks.FirstOrDefault(c => c.Finding.Id == Diagnosis.Advice.Id)
                : null
        );

    /// <summary>The cause whose evidence the ledger shows: the one asked for, else the likeliest.</summary>
    public Cause Cause =>
        cause ??= Diagnosis.Causes.FirstOrDefault(c => c.Fault.Id == (string?)Request.Query["cause"])
            ?? Diagnosis.Causes[0];

    /// <summary>The part picked against the advice, or null.</summary>
    public Part? Picked => View.Layout.FindPart(Request.Query["part"].ToString()) is { Wears: true } part ? part : null;

    private string? Asked => Request.Query["check"].ToString() is { Length: > 0 } id ? id : null;

    /// <summary>A cause gone for against the first advice, as thinking it through offered; null where none was asked
    /// for.</summary>
    public Advice? Chosen =>
        Diagnosis.Causes.FirstOrDefault(c =>
            c.Fault.Id == (string?)Request.Query["go"] && c.Fault.Action != FaultAction.Refer
        )
            is { } c
            ? new(
                AdviceKind.Repair,
                c.Fault.Id,
                Diagnosis.Advice.ExpectedCost,
                $"{c.Fault.Name}: {Say.Percent(c.Probability)}. Your own choice; advised first: {Diagnosis.Advice.Reason}"
            )
            : null;

    /// <summary>Whether the page asks once more in the background: only of the first advice itself.</summary>
    public bool Better =>
        Asked is null
        && Tried is null
        && Picked is null
        && Chosen is null
        && State.Closed is null
        && Diagnosis.Advice.Kind is not AdviceKind.Refer;

    /// <summary>What would be done if checking stopped here: the advice itself or the one after it, where that is no
    /// check.</summary>
    public Advice? Act =>
        new[] { Diagnosis.Advice, Diagnosis.RunnerUp }.FirstOrDefault(a => a is { Kind: not AdviceKind.Check });

    /// <summary>The fault an advice is about, or null.</summary>
    public Cause? CauseOf(Advice advice) =>
        advice.Kind is AdviceKind.Repair or AdviceKind.Bring or AdviceKind.Refer
            ? Diagnosis.Causes.FirstOrDefault(c => c.Fault.Id == advice.Id)
            : null;

    protected override async Task PrepareAsync()
    {
        await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
        Diagnosis = View.Diagnosis;
        var tried = Request.Query["if"].ToString().Split(':');
        if (
            tried.Length == 2
            && View.Machine.Diagnostician.Model.Catalog.FindFinding(tried[0]) is { } finding
            && finding.IndexOf(tried[1]) is >= 0 and var outcome
        )
        {
            Tried = (finding, finding.Outcomes[outcome]);
            Diagnosis = await Services.Gate.RunAsync(
                stop => View.DiagnoseWith(finding.Id, finding.Outcomes[outcome].Id, stop),
                HttpContext.RequestAborted
            );
        }
    }

    /// <summary>Checks answered so far, complaints apart.</summary>
    public int Checked =>
        State.Answers.Keys.Count(a =>
            View.Machine.Diagnostician.Model.Catalog.FindFinding(a)?.Group != FindingGroup.Complaint
        );

    /// <summary>How much a finding speaks for a cause, in words.</summary>
    public static string Says(double decibans)
    {
        var factor = Math.Pow(10, Math.Abs(decibans) / 10);
        var times =
            factor < 1.25 ? "says little"
            : factor < 1.75 ? "one and a half times as likely"
            : factor < 2.5 ? "twice as likely"
            : factor < 12 ? $"{factor:0} times as likely"
            : "far more likely";
        return decibans >= 0 || factor < 1.25 ? times
            : factor < 1.75 ? "a little less likely"
            : factor < 2.5 ? "half as likely"
            : factor < 12 ? $"{factor:0} times less likely"
            : "far less likely";
    }

    /// <summary>Figures of this machine that a check is made with, in a sentence; empty where it needs none.</summary>
    public string FiguresFor(string findingId)
    {
        string N(double n, string format) => n.ToString(format, System.Globalization.CultureInfo.InvariantCulture);
        var rates = DriveRates.Of(View.Layout, Terms.MainsHertz);
        string Turns(IEnumerable<RateLine> lines) =>
            string.Join(", ", lines.Select(l => $"{Say.Lower(l.Name)} {N(l.PerDrumTurn!.Value, "0.0")}"));
        var wheels = rates.Lines.Where(l =>
            l.Id == "idler" || View.Layout.FindPart(l.Part)?.Kind == PartKinds.DrumRoller
        );
        return findingId switch
        {
            "drum-count" => $"20 turns take {N(rates.SecondsFor(20), "0.0")} s on this machine at {rates.Hertz} Hz.",
            "chirp-rate" or "thump-rate" or "hand-sound" when wheels.Any() =>
                $"In one turn of the drum on this machine: {Turns(wheels)}; the belt {N(rates.Find("belt")!.PerDrumTurn!.Value, "0.00")}.",
            _ => "",
        };
    }

    /// <summary>Parts to get at for a cause: those seen to be bad, else all of them.</summary>
    public IEnumerable<Part> PartsOf(Fault fault) => SeenEvidence.Bad(State, View.Machine, fault.Id);

    /// <summary>Price of the parts a cause asks for.</summary>
    public double PartsPrice(Fault fault) =>
        fault.Action == FaultAction.Replace
            ? View.Layout.PartsOfKind(fault.Kinds).Where(p => p.Wears).Sum(p => p.Price * p.Count)
            : 0;

    /// <summary>The same as minutes at the shop's rate.</summary>
    public double MoneyMinutes(Fault fault) =>
        PartsPrice(fault) / View.Machine.Diagnostician.Model.Catalog.Costs.RatePerHour * 60;

    /// <summary>What answers a check by measuring: protocol and part, those not read yet first.</summary>
    public IEnumerable<(GaugeProtocol Protocol, Part? Part)> MeasuredBy(string findingId) =>
        ReadInstead
            .Of(View.Machine.Handbook.Gauging, View.Layout, findingId)
            .SelectMany(r => r.Parts.Count > 0 ? r.Parts.Select(p => (r.Protocol, (Part?)p)) : [(r.Protocol, null)])
            .OrderBy(m => State.Gauged.Any(g => g.Protocol == m.Protocol.Id && g.PartId == (m.Item2?.Id ?? "")) ? 1 : 0)
            .Take(4);

    /// <summary>Whether measuring a check takes no longer than looking: then it is offered first.</summary>
    public bool MeasureFirst(Finding check) =>
        ReadInstead.Of(View.Machine.Handbook.Gauging, View.Layout, check.Id) is [var quickest, ..]
        && quickest.NoSlowerThan(check.Minutes);

    /// <summary>How an answer that was given reads.</summary>
    public string Said(string findingId)
    {
        var finding = View.Machine.Diagnostician.Model.Catalog.FindFinding(findingId)!;
        if (
            !View.Evidence.ContainsKey(findingId)
            && HeardRhythm.Of(State, View.Layout).LastOrDefault(h => h.FindingId == findingId) is { } heard
        )
        {
            return $"{char.ToUpperInvariant(heard.Act.Name[0])}{heard.Act.Name[1..]}, {heard.Words}";
        }
        if (
            !View.Evidence.ContainsKey(findingId)
            && State.Sounds.LastOrDefault(s => HeardSound.Of(s)?.FindingId == findingId) is { } recorded
        )
        {
            return recorded.Words(View.Machine);
        }
        if (
            !View.Evidence.ContainsKey(findingId)
            && GaugedSet
                .Of(State, View.Machine)
                .LastOrDefault(g => !g.After && g.Result is not null && g.Protocol.FindingOf(g.Part) == findingId)
                is { } gauged
        )
        {
            return $"Measured, {Say.Lower(gauged.Name)}. {gauged.Result!.Say}";
        }
        var outcome = View.Evidence.GetValueOrDefault(findingId)
            ?? (Tried is { } t && t.Finding.Id == findingId ? t.Outcome.Id : "");
        var label = finding.Outcomes.FirstOrDefault(o => o.Id == outcome)?.Label ?? "can't tell";
        var log = View.Earlier.FirstOrDefault(t => t.FindingId == findingId && !State.Answers.ContainsKey(findingId));
        return log is not null ? $"{finding.Name}: {Say.Lower(label)}, as {log.Number} tells"
            : finding.Group == FindingGroup.Complaint
                ? (outcome == "yes" ? finding.Name : "Not: " + Say.Lower(finding.Name))
            : $"{finding.Name}: {Say.Lower(label)}";
    }
}
