using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Following the rhythm of a noise: by taps, by a beat, or counted in turns of the drum.</summary>
public sealed class ListenModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Find;

    /// <summary>Rhythms followed so far, oldest first.</summary>
    public IReadOnlyList<HeardRhythm> Heard { get; private set; } = [];

    /// <summary>What comes round in this machine, slowest first.</summary>
    public IReadOnlyList<SoundSource> Sources { get; private set; } = [];

    /// <summary>Share by which the speed may differ.</summary>
    public double Tolerance =>
        Heard is [.., { Act.TwentySeconds: not null }] ? SourceMatch.CountedTolerance : SourceMatch.SpeedTolerance;

    /// <summary>Whether something burns, or smells of it: it is not run to be listened to.</summary>
    public bool Burning =>
        State.Complaints.Contains("burning")
        || State.Answers.GetValueOrDefault("smell") is "burnt" or "rubber"
        || State.Answers.GetValueOrDefault("burning") == "yes";

    /// <summary>What was typed, where the form came back.</summary>
    public string Typed(string way, string field, string otherwise = "") =>
        Form.Is("rhythm-heard") && Form.Value("rhythm-heard", "way") == way
            ? Form.Value("rhythm-heard", field)
            : otherwise;

    /// <summary>Whether the machine's drum can be run at all, as far as is known.</summary>
    protected override Task PrepareAsync()
    {
        Heard = HeardRhythm.Of(State, View.Layout);
        Sources = SoundSource.Of(
            View.Layout,
            Terms.MainsHertz,
            Heard is [.., { Act.TwentySeconds: > 0 and var s }] ? 1200 / s : null
        );
        return base.PrepareAsync();
    }
}
