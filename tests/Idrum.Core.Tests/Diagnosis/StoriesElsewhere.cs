namespace Idrum.Core.Tests.Diagnosis;

/// <summary>Stories on the machines with a wheel at the front, a ball and cup, a sleeve, a hanging motor, pads to run
/// on: what is accepted next and what would
/// be laughed at or hurt someone.</summary>
internal static class StoriesElsewhere
{
    private const string Asking = "check:(outside) check:(history)";
    private const string Never = "open:* repair:* bring:* refer:* nothing-found:*";
    private const string Running =
        "check:start-listen check:drum-count check:load-try check:panels-press check:hood-air check:motor-sound check:listen-rear check:listen-front check:air-warm check:chirp-rate check:thump-rate check:cool-wait";

    /// <summary>All of them.</summary>
    internal static IReadOnlyList<RepairStory> All { get; } =
    [
        // Hums: load, drum by hand, torch into the blower; never the motor before.
        .. new[] { "F", "C", "D2", "G", "B" }.Select(l => new RepairStory(
            $"{l} hums: the load, the drum by hand, the torch",
            l,
            "hums=yes",
            "check:overload-look check:drum-hand check:blower-torch",
            Never
        )),
        new(
            "It hums, seen at the start: it is not run again",
            "G",
            "hums=yes,start-listen=hums",
            "check:overload-look check:drum-hand check:blower-torch",
            $"{Never} {Running} check:cool-wait"
        ),
        new(
            "It hums, the load is out and the drum stiff: the torch before the motor",
            "B",
            "hums=yes,overload-look=normal,drum-hand=stiff",
            Asking,
            $"repair:motor-start bring:motor-start open:motor refer:* {Running}"
        ),
        new(
            "It hums, all free from outside: it is opened and measured, no winding bought unseen",
            "C",
            "hums=yes,overload-look=normal,drum-hand=normal,blower-torch=clear",
            "check:* open:*",
            $"repair:motor-start bring:motor-start refer:* nothing-found:* {Running}"
        ),
        .. new[] { "E", "D", "F" }.Select(l => new RepairStory(
            $"{l} hums, all free, opened at the motor: the meter on the capacitor before a motor is bought",
            l,
            "hums=yes,overload-look=normal,drum-hand=normal,blower-torch=clear,blower-look=clear,motor-spin=free,start-held=hums",
            "check:capacitor-uf check:motor-ohms check:centrifugal-look open:capacitor",
            $"repair:motor-start bring:motor-start repair:capacitor-weak open:motor refer:* nothing-found:* {Running}"
        )),
        new(
            "The capacitor reads low: the capacitor, not the motor",
            "E",
            "hums=yes,overload-look=normal,drum-hand=normal,blower-torch=clear,capacitor-uf=low",
            "repair:capacitor-weak bring:capacitor-weak open:capacitor",
            "repair:motor-start bring:motor-start open:motor refer:* nothing-found:*"
        ),
        new(
            "The capacitor is good and a winding open: the motor",
            "E",
            "hums=yes,overload-look=normal,drum-hand=normal,blower-torch=clear,motor-spin=free,capacitor-uf=right,motor-ohms=off",
            "repair:motor-start bring:motor-start open:motor",
            "repair:capacitor-weak bring:capacitor-weak open:capacitor refer:* nothing-found:*"
        ),
        new(
            "It hums and a lump of lint shows: out with it",
            "D",
            "hums=yes,overload-look=normal,drum-hand=normal,blower-torch=cloth",
            "repair:blower-blocked open:blower",
            "repair:motor-start bring:* open:motor refer:* nothing-found:*"
        ),
        new(
            "It hums, half the laundry out cures it: nothing is opened",
            "F",
            "hums=yes,overload-look=full",
            "repair:overload",
            "open:* bring:* refer:* repair:motor-start nothing-found:*"
        ),
        // Dead: outlet, door, belt switch.
        .. new[] { "F", "C2", "D", "B2", "A2" }.Select(l => new RepairStory(
            $"{l} is dead: the outlet by meter first",
            l,
            "nothing-runs=yes",
            "check:supply",
            Never
        )),
        new(
            "A leg is missing: handed over at once, nothing is opened",
            "C",
            "nothing-runs=yes,supply=dead",
            "refer:no-supply",
            $"open:* repair:* bring:* nothing-found:* {Running}"
        ),
        new(
            "A dead outlet with a loose door switch: still the outlet",
            "D2",
            "nothing-runs=yes,supply=dead,door-hold=dead",
            "refer:no-supply",
            "open:* repair:* bring:* nothing-found:*"
        ),
        new(
            "Dead, outlet good: the door by finger",
            "G",
            "nothing-runs=yes,supply=good",
            "check:door-hold check:(history)",
            Never
        ),
        new(
            "Dead, outlet and door good, a belt switch: the drum by hand before the meter",
            "C2",
            "nothing-runs=yes,supply=good,door-hold=clicks",
            "check:drum-hand check:start-held check:(history)",
            Never
        ),
        new(
            "Dead, belt switch, no drag: the belt is looked at, no switch is bought",
            "D",
            "nothing-runs=yes,supply=good,door-hold=clicks,drum-hand=free",
            "open:belt repair:belt-broken bring:belt-broken check:*",
            "repair:belt-switch-fault repair:door-switch-fault bring:door-switch-fault refer:* nothing-found:*"
        ),
        new(
            "Dead, the door switch does not click: looked at itself before it is bought",
            "B",
            "nothing-runs=yes,supply=good,door-hold=dead,drum-hand=normal",
            "open:door-switch check:* repair:door-switch-fault bring:door-switch-fault",
            "refer:no-supply open:motor repair:motor-start open:belt nothing-found:*"
        ),
        new(
            "Dead since it was closed: the door plug before the control",
            "G",
            "nothing-runs=yes,dead-since-rebuilt=yes,opened-before=yes,supply=good",
            "check:door-hold check:drum-hand check:plugs-look open:door-switch check:(history)",
            "refer:* repair:motor-start bring:* open:motor nothing-found:*"
        ),
        new(
            "What squealed for weeks and is dead now is not listened to",
            "D",
            "squeal=yes,nothing-runs=yes",
            "check:supply check:door-hold check:drum-hand",
            $"{Never} {Running} check:hand-sound"
        ),
        // Stays wet, cold, burnt.
        .. new[] { "C", "F", "B2" }.Select(l => new RepairStory(
            $"{l} stays wet: does the drum turn?",
            l,
            "long-drying=yes",
            "check:start-listen check:chute check:hood-look",
            Never
        )),
        new(
            "Stays wet, and the drum stands while the motor runs: the drum by hand, not the vent first",
            "D2",
            "long-drying=yes,start-listen=stands",
            "check:drum-hand check:(outside) check:(history)",
            "open:* repair:lint-path refer:* nothing-found:*"
        ),
        new(
            "Turns and stays cold: lint path and hood before anybody is called",
            "G",
            "no-heat=yes",
            "check:chute check:hood-look check:start-listen",
            Never
        ),
        new(
            "Cold, lint path and hood free, the drum turns: handed over, not opened",
            "C2",
            "no-heat=yes,start-listen=runs,chute=clean,hood-look=free,hood-air=strong,air-warm=cold",
            "refer:heating",
            "open:* repair:* bring:* nothing-found:*"
        ),
        .. new[] { "D", "B", "C" }.Select(l => new RepairStory(
            $"{l} smells burnt: nose, lint, torch and hand, supply off",
            l,
            "burning=yes",
            "check:smell check:chute check:blower-torch check:drum-hand",
            $"{Never} {Running} check:start-held"
        )),
        new(
            "Smells burnt, smelled and torch done: still no run before the hand",
            "F",
            "burning=yes,smell=rubber,chute=clean,blower-torch=clear",
            "check:drum-hand check:(history) check:hood-look",
            $"repair:* bring:* refer:* nothing-found:* {Running} check:start-held"
        ),
        .. new[] { "burnt", "rubber" }.SelectMany(s =>
            new[] { "squeal=yes", "long-drying=yes", "stops-warm=yes", "thump=yes", "chirp=yes" }.Select(
                (told, i) =>
                    new RepairStory(
                        $"The repairer's own nose says {s}, {told}: not run before lint, torch and hand",
                        new[] { "A", "E", "C", "F", "G" }[i],
                        $"{told},smell={s}",
                        "check:chute check:blower-torch check:drum-hand",
                        $"{Never} {Running} check:start-held"
                    )
            )
        ),
        new(
            "Smells burnt and squealed before: not run to hear it",
            "D2",
            "burning=yes,squeal=yes",
            "check:smell check:chute check:blower-torch check:drum-hand",
            $"{Never} {Running} check:start-held"
        ),
        // Thumps, squeals, rattles.
        new(
            "A thump once a turn, two pads and no rollers: the baffles",
            "D",
            "thump=yes,thump-rate=drum",
            "check:baffle-rock",
            "open:* repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "A thump once a turn on four rollers: the baffles before the track",
            "B",
            "thump=yes,thump-rate=drum",
            "check:baffle-rock",
            "open:* repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "A loose baffle: its screws, through the door",
            "G",
            "thump=yes,thump-rate=drum,baffle-rock=loose",
            "repair:baffle-loose",
            "open:* bring:* refer:* repair:roller-flat nothing-found:*"
        ),
        new(
            "A panel that stops under the hand: its screw, nothing opened",
            "C",
            "rattle=yes,start-listen=runs,level=firm,panels-press=stops",
            "repair:panel-loose check:(outside)",
            "open:* bring:* refer:* nothing-found:*"
        ),
        new(
            "It rocks: the feet, nothing opened",
            "F",
            "rattle=yes,level=rocks",
            "repair:not-firm check:(outside)",
            "open:* bring:* refer:* nothing-found:*"
        ),
        new(
            "A squeal, hand-turned and silent: asked further before it is opened, and nothing bought",
            "B2",
            "squeal=yes,start-listen=runs,hand-sound=silent",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "It squeaks by hand with the belt off: idler, motor and blower have no part in it",
            "B2",
            "squeal=yes,start-listen=runs,hand-sound=squeaks,hand-belt-off=sounds",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:* open:idler open:motor open:blower check:idler-spin check:motor-spin"
        ),
        new(
            "It squeaks by hand and is silent with the belt off: it is not the rollers",
            "B2",
            "squeal=yes,start-listen=runs,hand-sound=squeaks,hand-belt-off=silent",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:* open:front-roller-left open:rear-roller-left check:roller-spin check:shaft-look"
        ),
        new(
            "A squeal that comes from the rear on ball and cup: looked at, never bought by ear",
            "C",
            "squeal=yes,start-listen=runs,listen-rear=rear,squeal-warm=yes,hand-sound=squeaks",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "A rear that drops is no proof of the sleeve: it is opened for",
            "D2",
            "squeal=yes,start-listen=runs,rear-lift=drops,hand-sound=squeaks",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "Front wheels that grind, the front open: spun, not bought",
            "F",
            "grind=yes,hand-sound=squeaks",
            "check:* open:*",
            "repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "Drum out, rollers rough in the hand: the rollers",
            "B2",
            "squeal=yes,roller-spin=dry,idler-spin=free,shaft-look=smooth",
            "repair:roller-dry bring:roller-dry check:(inside)",
            "refer:* repair:idler-dry repair:motor-bearings nothing-found:*"
        ),
        new(
            "The sleeve was renewed last month and it squeals again: looked for, no part bought again",
            "D",
            "again=yes,squeal=yes,opened-before=yes",
            Asking,
            Never
        ),
        new(
            "Sparks: the earth ball is looked for, not the control",
            "C2",
            "sparks=yes",
            "check:* open:earth-ball open:cup",
            "refer:* repair:* nothing-found:*"
        ),
        new(
            "Hot air at the rim, the pads thin in the light: not the rear felt",
            "G",
            "hot-air=yes,glide-torch=thin,door-felt=whole",
            "check:* open:* repair:glides-worn bring:glides-worn",
            "repair:rear-felt-worn bring:rear-felt-worn refer:* nothing-found:*"
        ),
        new(
            "A steam machine stops when warm: cooled half an hour and the air looked at",
            "E2",
            "stops-warm=yes",
            Asking,
            "open:* repair:* bring:* refer:* nothing-found:*"
        ),
        new(
            "The drum stands on a steam machine, the motor runs: the hand first",
            "E2",
            "drum-stands=yes",
            Asking,
            Never
        ),
    ];
}
