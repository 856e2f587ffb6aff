namespace Idrum.Core.Diagnosis;

/// <summary>Where advice turns. Minutes are minutes of the job, shares of what is still to come; probabilities are
/// those that a fault speaks. All were
/// chosen on simulated jobs (<c>./idrum bench find</c>) and held against the stories of the tests.</summary>
/// <param name="WorthMinutes">A check that saves less is not worth the walk to the machine. Higher: fewer checks, more
/// openings in vain.</param>
/// <param name="WorthShare">Nor one that saves less than this share of what is to come.</param>
/// <param name="Patient">So many checks are made before patience wears. Higher: more checks before it ends.</param>
/// <param name="Patience">After so many more a check must save four times as much.</param>
/// <param name="AsGood">Checks whose expected minutes lie within this are as good as one another: then what is seen
/// goes before what is told.</param>
/// <param name="Telling">What moves the probability of a cause by less on average tells nothing worth a minute.</param>
/// <param name="Pointing">A check shows a cause where it comes out bad this often when the cause is there.</param>
/// <param name="Plainly">It shows it plainly where it does so this often.</param>
/// <param name="Plausible">A cause at least this likely is looked for. Lower: more looks before it ends.</param>
/// <param name="Forgotten">One that has become less likely than this is not looked for any more, seen or not.</param>
/// <param name="Nameable">Below this no cause is worth naming.</param>
/// <param name="Sure">As good as certain: a sign that sees the part itself is then enough to change it.</param>
/// <param name="SeenEnough">What was seen bad on its own part is put right where it speaks this likely; below, it is
/// worn beside the point and the search goes on.</param>
/// <param name="HiddenSure">A part that shows nothing is changed on suspicion from here on, all others having been seen
/// good.</param>
/// <param name="ReplaceUnseen">What no look can tell any more is tried from here on where it costs a part.</param>
/// <param name="AdjustUnseen">The same where it is work alone.</param>
/// <param name="Pays">Before a machine is handed over one goes and looks where that saves so many times what it
/// costs.</param>
/// <param name="ReferSure">Another trade is named from here on.</param>
/// <param name="ReferAfter">The same once all suspects were seen good.</param>
/// <param name="StateKnown">One knows what the machine does where one of its states is this likely.</param>
/// <param name="Quick">A quick check takes no longer, minutes.</param>
/// <param name="ClearlyMinutes">What is thought through must be better by so many minutes.</param>
/// <param name="ClearlyShare">And by this share.</param>
/// <param name="Deeper">And by so many minutes to go deeper before a check in reach.</param>
internal sealed record AdviceConstants(
    double WorthMinutes,
    double WorthShare,
    double Patient,
    double Patience,
    double AsGood,
    double Telling,
    double Pointing,
    double Plainly,
    double Plausible,
    double Forgotten,
    double Nameable,
    double Sure,
    double SeenEnough,
    double HiddenSure,
    double ReplaceUnseen,
    double AdjustUnseen,
    double Pays,
    double ReferSure,
    double ReferAfter,
    double StateKnown,
    double Quick,
    double ClearlyMinutes,
    double ClearlyShare,
    double Deeper
)
{
    /// <summary>Those in use.</summary>
    internal static AdviceConstants Usual { get; } =
        new(
            WorthMinutes: 0.5,
            WorthShare: 0.012,
            Patient: 14,
            Patience: 4,
            AsGood: 0.4,
            Telling: 0.04,
            Pointing: 0.5,
            Plainly: 0.7,
            Plausible: 0.06,
            Forgotten: 0.015,
            Nameable: 0.12,
            Sure: 0.9,
            SeenEnough: 0.35,
            HiddenSure: 0.6,
            ReplaceUnseen: 0.35,
            AdjustUnseen: 0.15,
            Pays: 1.5,
            ReferSure: 0.5,
            ReferAfter: 0.2,
            StateKnown: 0.9,
            Quick: 3,
            ClearlyMinutes: 1,
            ClearlyShare: 0.02,
            Deeper: 4
        );
}
