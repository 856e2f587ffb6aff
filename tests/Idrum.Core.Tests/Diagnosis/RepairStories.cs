using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>What a repairer would tell of one machine so far, and what he would and would never do next.</summary>
/// <param name="Name">The story in a line.</param>
/// <param name="Layout">ot, qd, or the key of an arrangement.</param>
/// <param name="Findings">finding=outcome, comma separated.</param>
/// <param name="Accepted">kind:id with * for anything; a check also by its group, as check:(outside).</param>
/// <param name="Forbidden">The same.</param>
/// <param name="Done">Operations done.</param>
public sealed record RepairStory(
    string Name,
    string Layout,
    string Findings,
    string Accepted,
    string Forbidden,
    string Done = ""
);

/// <summary>Stories written from the trade's words: each says what is accepted next and what would be laughed
/// at.</summary>
public static class RepairStories
{
    private const string Asking = "check:(outside) check:(history)";
    private const string RearOpen = "pull-out rear-panel-off";

    public static IReadOnlyList<RepairStory> All { get; } =
    [
        new(
            "The motor runs, the drum stands: a hand in the drum before anything else",
            "ot",
            "drum-stands=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "No drag by hand, no belt switch: the belt",
            "ot",
            "drum-stands=yes,drum-hand=free",
            "open:belt repair:belt-broken bring:belt-broken check:(outside) check:(history)",
            "refer:* repair:motor-start repair:belt-worn open:motor nothing-found:*"
        ),
        new(
            "The broken belt is seen: change it",
            "ot",
            "drum-stands=yes,drum-hand=free,belt-look=broken",
            "repair:belt-broken bring:belt-broken",
            "check:* open:* refer:*"
        ),
        new(
            "A belt changed last week and the drum stands again: looked at, not bought",
            "ot",
            "drum-stands=yes,earlier-belt=yes",
            Asking,
            "repair:* refer:* open:*"
        ),
        new(
            "Nothing runs: the outlet first",
            "qd",
            "nothing-runs=yes",
            "check:supply check:door-hold check:breaker check:start-listen check:drum-hand check:(history)",
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Nothing runs, outlet and door proved, a belt switch is fitted: the drum by hand",
            "qd",
            "nothing-runs=yes,supply=good,door-hold=clicks",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Nothing runs, no drag, belt switch: the belt",
            "qd",
            "nothing-runs=yes,supply=good,door-hold=clicks,drum-hand=free",
            "open:belt repair:belt-broken bring:belt-broken check:(outside) check:(history)",
            "refer:* repair:door-switch-fault repair:motor-start open:door-switch"
        ),
        new(
            "Nothing runs, no belt switch, drum as always: never the belt",
            "ot",
            "nothing-runs=yes,supply=good,door-hold=clicks,drum-hand=normal",
            "check:* open:*",
            "repair:* open:belt refer:no-supply"
        ),
        new(
            "A dead outlet is not opened for",
            "ot",
            "nothing-runs=yes,supply=dead",
            "refer:no-supply check:door-hold check:breaker",
            "open:* repair:*"
        ),
        new(
            "A dead outlet, the door proved: handed over",
            "ot",
            "nothing-runs=yes,supply=dead,door-hold=clicks",
            "refer:no-supply check:breaker",
            "open:* repair:* nothing-found:*"
        ),
        new(
            "Half sure of the supply is not enough to send for the electrician",
            "qd",
            "nothing-runs=yes,breaker=in",
            "check:supply check:door-hold check:(outside) check:(history)",
            "refer:* open:* repair:*"
        ),
        new(
            "Dead since it was rebuilt: door switch and its plug",
            "qd",
            "nothing-runs=yes,dead-since-rebuilt=yes,supply=good",
            "check:door-hold check:(outside) check:(history) open:door-switch check:plugs-look",
            "refer:* repair:belt-broken repair:motor-start open:motor"
        ),
        new(
            "It hums: cloth in the blower and the load before the motor",
            "ot",
            "hums=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "It hums and a sock is missing: torch to the blower",
            "ot",
            "hums=yes,item-missing=yes",
            "check:blower-torch check:chute check:drum-hand check:overload-look",
            "repair:* open:* refer:*"
        ),
        new(
            "It hums, cloth shows in the blower: take it out",
            "ot",
            "hums=yes,blower-torch=cloth",
            "repair:blower-blocked open:blower",
            "repair:motor-start repair:motor-bearings bring:motor-start open:motor refer:*"
        ),
        new(
            "It hums, wet blankets to the brim: half of it out",
            "ot",
            "hums=yes,overload-look=full",
            "repair:overload",
            "open:* repair:motor-start bring:* refer:*"
        ),
        new(
            "It hums, blower and load are free: opened and measured, not bought",
            "ot",
            "hums=yes,blower-torch=clear,overload-look=normal,drum-hand=normal,chute=clean,item-missing=no",
            "open:* check:*",
            "repair:motor-start repair:motor-bearings bring:* refer:*"
        ),
        new(
            "It hums, open, wheel clear, shaft free, winding off: the motor",
            "ot",
            "hums=yes,blower-torch=clear,overload-look=normal,drum-hand=normal,blower-look=clear,motor-spin=free,motor-ohms=off,centrifugal-look=moves",
            "repair:motor-start bring:motor-start",
            "repair:blower-blocked refer:*"
        ),
        new(
            "A squeal is listened to and turned by hand before anything is opened",
            "ot",
            "squeal=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "A squeal, the rear is open: what lies there is spun first",
            "qd",
            "squeal=yes",
            "check:(inside) check:(history) check:hand-sound check:drum-hand",
            "open:* repair:* refer:*",
            RearOpen
        ),
        new(
            "The idler grinds in the hand: change it",
            "qd",
            "squeal=yes,idler-spin=rough,roller-spin=free",
            "repair:idler-dry bring:idler-dry",
            "open:* refer:* repair:roller-dry",
            RearOpen
        ),
        new(
            "Squeals again after one roller was changed: shaft and twin are looked at",
            "ot",
            "again=yes,squeal=yes,earlier-roller=one",
            "check:* open:*",
            "repair:* refer:* nothing-found:*"
        ),
        new(
            "A rattle: feet, panels, coins before the cabinet",
            "ot",
            "rattle=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "It rocks: the foot",
            "ot",
            "rattle=yes,level=rocks",
            "repair:not-firm check:(outside)",
            "open:* refer:* repair:blower-loose"
        ),
        new(
            "A panel stops it: the screw",
            "qd",
            "rattle=yes,panels-press=stops,level=firm",
            "repair:panel-loose check:(outside)",
            "refer:* open:drum open:motor repair:blower-loose"
        ),
        new(
            "Streaks: a torch along the rim before glue",
            "ot",
            "streaks=yes",
            "check:rim-gap check:door-felt check:streak-place check:rim-play check:(outside)",
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Streaks, felt gone in the light: a new felt",
            "ot",
            "streaks=yes,door-felt=gone,rim-gap=gap",
            "repair:front-felt-worn bring:front-felt-worn repair:front-felt-loose bring:front-felt-loose",
            "refer:* repair:rear-felt-worn nothing-found:*"
        ),
        new(
            "Streaks, but the front felt is whole: not the front felt",
            "ot",
            "streaks=yes,door-felt=whole,rim-gap=even",
            "check:* open:*",
            "repair:front-felt-worn bring:front-felt-worn refer:*"
        ),
        new("A thump is counted", "ot", "thump=yes", Asking, "open:* repair:* refer:* nothing-found:*"),
        new(
            "A thump once a drum turn is not a roller",
            "ot",
            "thump=yes,thump-rate=drum",
            Asking,
            "repair:roller-flat open:roller-left open:roller-right bring:roller-flat"
        ),
        new(
            "A baffle is loose: its screws",
            "ot",
            "thump=yes,thump-rate=drum,baffle-rock=loose",
            "repair:baffle-loose",
            "open:* repair:roller-flat refer:*"
        ),
        new(
            "Slow drying: air before steel",
            "ot",
            "long-drying=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Lint in the chute and weak air: clean",
            "ot",
            "long-drying=yes,chute=lint,hood-air=weak,hood-look=lint",
            "repair:lint-path check:(outside)",
            "repair:rear-felt-worn repair:blower-loose refer:* bring:*"
        ),
        new(
            "Stops when warm: let it cool, look at the air",
            "ot",
            "stops-warm=yes",
            Asking,
            "open:* repair:motor-bearings bring:motor-bearings refer:*"
        ),
        new(
            "Smells burnt: nose and hood before the screwdriver",
            "ot",
            "burning=yes",
            Asking,
            "open:* repair:* refer:*"
        ),
        new(
            "A worn felt seen on a machine to be reconditioned is changed",
            "ot",
            "front-felt-look=gone",
            "repair:front-felt-worn bring:front-felt-worn check:(outside)",
            "refer:* nothing-found:*",
            "screen-out deck-screws top-up front-screws door-plug front-off"
        ),
        new(
            "A rattle that nothing explains is not repaired by guess",
            "ot",
            "rattle=yes,level=firm,panels-press=same,chute=clean,baffle-rock=firm,motor-sound=no,hand-sound=silent,blower-torch=clear",
            "open:* check:* nothing-found:*",
            "repair:* bring:* refer:*"
        ),
        new(
            "A grind: by hand and along the rim first",
            "qd",
            "grind=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Scrapes and sags at the front, pads to run on: the pads are counted with the torch before anything is opened",
            "C",
            "grind=yes,sags=yes",
            "check:glide-torch check:(outside) check:(history)",
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "A pad is missing in the light: the glides, not the felt alone",
            "C",
            "grind=yes,hard-turn=yes,glide-torch=gone",
            "repair:glide-off bring:glide-off open:glides check:(outside)",
            "refer:* repair:roller-dry repair:rear-felt-worn repair:front-felt-worn nothing-found:*"
        ),
        new(
            "The front is off, the glides are worn flush: change them",
            "D",
            "squeal=yes,glides-look=worn,lip-look=smooth",
            "repair:glides-worn bring:glides-worn check:(inside)",
            "open:* refer:* repair:idler-dry repair:sleeve-worn",
            "front-off"
        ),
        new(
            "Stiff since it was closed: a glide slid off, looked at before anything is bought",
            "G",
            "hard-turn=yes,opened-before=yes",
            "check:glide-torch check:(outside) check:(history)",
            "repair:* bring:* refer:* open:motor"
        ),
        new(
            "Streaks, the pads are thick, the felt thin: the felt",
            "G",
            "streaks=yes,glide-torch=all,door-felt=gone,rim-gap=gap",
            "repair:front-felt-worn bring:front-felt-worn repair:front-felt-loose check:(outside) open:front-felt",
            "refer:* repair:glides-worn bring:glides-worn nothing-found:*"
        ),
        new(
            "Streaks, pads worn flush: glides first, they wear before the felt",
            "C2",
            "streaks=yes,glide-torch=thin",
            "repair:glides-worn bring:glides-worn open:glides open:front-felt check:(outside) check:(history)",
            "refer:* repair:rear-felt-worn repair:sleeve-worn nothing-found:*"
        ),
        new(
            "A squeal from the middle of the rear, shaft and sleeve there: lifted and listened to first",
            "D",
            "squeal=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "The rear drops with a knock, the noise is at the rear: opened for the bearing, never a roller",
            "D",
            "squeal=yes,rear-lift=drops,listen-rear=rear,hand-sound=squeaks,glide-torch=all",
            "open:sleeve open:rear-shaft repair:sleeve-worn bring:sleeve-worn check:(outside) check:(history)",
            "repair:roller-dry repair:idler-dry repair:motor-bearings refer:* nothing-found:*"
        ),
        new(
            "Drum out, the sleeve is oval, the shaft smooth: the sleeve",
            "D",
            "squeal=yes,sleeve-look=worn,rear-shaft-look=smooth",
            "repair:sleeve-worn bring:sleeve-worn",
            "open:* refer:* repair:rear-shaft-worn repair:belt-worn",
            "top-off front-off belt-off drum-out"
        ),
        new(
            "Drum out, shaft scored and bearing worn: not the bearing alone",
            "F",
            "squeal=yes,sleeve-look=worn,rear-shaft-look=scored",
            "repair:sleeve-worn repair:rear-shaft-worn bring:sleeve-worn bring:rear-shaft-worn check:(inside)",
            "open:* refer:* nothing-found:*",
            "back-off hub-off"
        ),
        new(
            "A knock once a turn after the drum was out: the screws of the shaft before anything is bought",
            "D2",
            "thump=yes,thump-rate=drum,opened-before=yes,baffle-rock=firm",
            "check:* open:*",
            "repair:sleeve-worn bring:* refer:*"
        ),
        new(
            "A squeal once a turn, worse warm, ball and cup at the rear: asked and lifted first",
            "C",
            "squeal=yes,squeal-warm=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "Drum out, the cup is dry and cut, the ball bright: the cup and grease",
            "C",
            "squeal=yes,cup-look=worn,ball-look=bright,hitch-screws=tight",
            "repair:cup-worn bring:cup-worn",
            "open:* refer:* repair:ball-worn repair:belt-worn",
            "front-off belt-off-front drum-out"
        ),
        new(
            "Drum out, the ball is scored: not a roller, not the motor",
            "C2",
            "squeal=yes,grind=yes,ball-look=scored,hitch-screws=tight",
            "repair:ball-worn bring:ball-worn check:(inside)",
            "refer:* repair:motor-bearings repair:idler-dry nothing-found:*",
            "front-off belt-off-front drum-out"
        ),
        new(
            "The laundry sparks since it was opened: the earth ball is looked for",
            "C",
            "sparks=yes,opened-before=yes",
            "check:* open:earth-ball",
            "repair:motor-start repair:cup-worn refer:* nothing-found:*"
        ),
        new(
            "The drum stands, the motor swings on a hinge: the hand in the drum first",
            "F",
            "drum-stands=yes",
            Asking,
            "open:* repair:* refer:* nothing-found:*"
        ),
        new(
            "The side is off, the belt is whole, the motor hangs: its spring",
            "F",
            "drum-stands=yes,drum-hand=free,belt-look=sound,motor-spring-look=hangs",
            "repair:motor-spring-off bring:motor-spring-off check:(inside)",
            "repair:belt-broken refer:* repair:motor-start open:motor",
            "pull-out top-screws top-off side-right-off"
        ),
        new(
            "It slips under a load, the motor swings: never an idler out of its hooks",
            "F",
            "squeal-start=yes,load-try=worse",
            "check:* open:*",
            "repair:idler-unhooked bring:idler-unhooked refer:* nothing-found:*"
        ),
        new(
            "The door falls flat: tried, then its springs",
            "A2",
            "door-falls=yes,door-half=falls",
            "repair:door-spring-off bring:door-spring-off open:door-springs check:door-spring-look check:(outside)",
            "refer:* repair:belt-broken open:motor nothing-found:*"
        ),
        .. StoriesElsewhere.All,
    ];
}
