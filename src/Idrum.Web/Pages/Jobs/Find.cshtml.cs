using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Find.</summary>
public sealed class FindModel(JobServices services) : JobPage(services)
{
    private Cause? cause;

    public override Station Shown => Station.Find;

    /// <summary>The check shown as the next thing: the one asked for, else the one advised.</summary>
    public PricedCheck? Check => Asked is { } id ? View.Diagnosis.Checks.FirstOrDefault(c => c.Finding.Id == id)
        : View.Diagnosis.Advice.Kind == "check" ? View.Diagnosis.Checks.FirstOrDefault(c => c.Finding.Id == View.Diagnosis.Advice.Id) : null;

    /// <summary>The cause whose evidence the ledger shows: the one asked for, else the likeliest.</summary>
    public Cause Cause => cause ??= View.Diagnosis.Causes.FirstOrDefault(c => c.Fault.Id == Request.Query["cause"]) ?? View.Diagnosis.Causes[0];

    /// <summary>The part picked against the advice, or null.</summary>
    public Part? Picked => View.Layout.FindPart(Request.Query["part"].ToString()) is { Wears: true } part ? part : null;

    private string? Asked => Request.Query["check"].ToString() is { Length: > 0 } id ? id : null;

    /// <summary>The cause that would be repaired if checking stopped here.</summary>
    public Cause Repair => (View.Diagnosis.Advice is { Kind: not "check" } a ? View.Diagnosis.Causes.FirstOrDefault(c => c.Fault.Id == a.Id) : null)
        ?? (View.Diagnosis.RunnerUp is { Kind: not "check" } r ? View.Diagnosis.Causes.FirstOrDefault(c => c.Fault.Id == r.Id) : null) ?? View.Diagnosis.Causes[0];

    protected override async Task PrepareAsync()
    {
        await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
    }

    /// <summary>Checks answered so far, complaints apart.</summary>
    public int Checked => State.Answers.Keys.Count(a => View.Machine.Diagnostician.Model.Catalog.FindFinding(a)?.Group != "complaint");

    /// <summary>How much a finding speaks for a cause, in words.</summary>
    public static string Says(double decibans)
    {
        var factor = Math.Pow(10, Math.Abs(decibans) / 10);
        var times = factor < 1.25 ? "says little" : factor < 1.75 ? "half as likely again" : factor < 2.5 ? "twice as likely" : factor < 12 ? $"{factor:0} times as likely" : "far more likely";
        return decibans >= 0 || factor < 1.25 ? times : factor < 1.75 ? "a little less likely" : factor < 2.5 ? "half as likely" : factor < 12 ? $"{factor:0} times less likely" : "far less likely";
    }

    /// <summary>Parts to get at for a cause.</summary>
    public IEnumerable<Part> PartsOf(Fault fault) => View.Layout.PartsOfKind(fault.Kinds);
}
