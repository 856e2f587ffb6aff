namespace Idrum.Core.Tests.Teardown;

/// <summary>Before → after, on the way back, as a repairer must do it, written from the trade and not from the files.
/// Names are operations or
/// steps of them (operation/step); a line holds where both came out. &gt;&gt; is at once: nobody works at a drum that nothing carries in
/// front.</summary>
internal static class WayBackStories
{
    /// <summary>B and B2: rollers on a bulkhead.</summary>
    private const string Bulkhead = """
        rear-shaft-left-out > rear-roller-left-off
        rear-shaft-right-out > rear-roller-right-off
        rear-roller-left-off > drum-out
        front-roller-left-off > bulkhead-off
        front-roller-right-off > bulkhead-off
        drum-out/seat >> drum-out/hook
        drum-out/seat >> drum-out/wire
        belt-from-drum > drum-out/round
        drum-out/hook > bulkhead-off
        drum-out/wire > bulkhead-off
        belt-from-drum > bulkhead-off
        belt-from-drum > belt-off
        bulkhead-off > belt-off
        arm-off > belt-off
        idler-off > belt-off
        blower-off > belt-off
        blower-off > duct-cover-off
        motor-out > blower-off
        motor-out > motor-plug
        bulkhead-off > bulkhead-screws
        bulkhead-screws/back > drum-hook
        bulkhead-screws > baffle-wire
        bulkhead-off > lamp-plugs
        belt-off > skin-off
        lamp-plugs > skin-off
        duct-cover-off > skin-off
        skin-off/hang > door-plug
        """;

    /// <summary>C and C2.</summary>
    private const string BallAndCup = """
        hitch-off > drum-out
        earth-ball-out > drum-out
        cup-off > earth-ball-out
        cup-off > drum-out
        drum-out/seat >> drum-out/hook
        drum-out/seat >> drum-out/wire
        drum-out/round > drum-out/seat
        drum-out/hook > front-off
        belt-from-drum > belt-off-rear
        belt-from-drum > belt-off-front
        belt-off-rear > rear-panel-off
        belt-off-front > front-off
        lever-off > belt-off-rear
        motor-out > belt-off-rear
        motor-out > motor-plug
        blower-off > blower-cover-off
        blower-cover-off > rear-panel-off
        motor-out > blower-off
        glides-off > front-off
        front-off/hang > door-plug
        front-off/hang > lamp-plug
        door-plug > front-off/home
        front-off/home > front-screws
        front-off/home > drum-hook
        front-off/home > baffle-wire
        front-screws > top-up
        rear-panel-off > pull-out
        top-up > pull-out
        """;

    /// <summary>D and D2.</summary>
    private const string ShaftAndSleeve = """
        shaft-off > drum-out
        sleeve-out > drum-out
        drum-out/seat >> drum-out/hook
        drum-out/seat >> drum-out/wire
        drum-out/round > drum-out/seat
        drum-out/hook > front-off
        belt-from-drum > belt-off
        arm-off > belt-off
        idler-off > belt-off
        switch-off > drum-out
        belt-off > front-off
        duct-off > front-off
        glides-off > front-off
        front-off/hang > door-plug
        front-off/hang > lamp-plug
        door-plug > front-off/home
        lamp-plug > front-off/home
        front-off/home > drum-hook
        front-off/home > baffle-wire
        drum-hook > top-off
        """;

    /// <summary>E and E2: two bulkheads.</summary>
    private const string FourRollers = """
        rear-shaft-left-out > rear-roller-left-off
        rear-roller-left-off > drum-out
        drum-out > belt-off-front
        drum-out > bulkhead-off
        belt-from-drum > belt-off-front
        tensioner-off > belt-off-front
        front-roller-left-off > bulkhead-off
        bulkhead-off > bulkhead-screws
        bulkhead-off > drum-hook
        bulkhead-screws/back > drum-hook
        drum-out/seat >> drum-out/hook
        drum-out/seat >> drum-out/wire
        drum-out/hook > bulkhead-off
        belt-from-drum > drum-out/round
        drum-hook > brace-off
        bulkhead-off > sensor-plugs
        sensor-plugs > skin-off
        skin-off/hang > skin-off/home
        skin-off/hang > door-plug
        belt-off-front > duct-off
        harness-free > brace-off
        brace-off > skin-off
        duct-off > skin-off
        skin-off > skin-screws
        skin-screws > door-off
        skin-screws > console-off
        door-plug > console-off
        brace-off > console-off
        console-off/roll > console-plugs
        console-off/roll > console-off/screws
        console-plugs > top-off
        duct-off/first > bulkhead-off
        bulkhead-screws > duct-off/back
        blower-off > belt-off-front
        blower-off > belt-off-rear
        top-off > top-screws
        top-screws > pull-out
        heater-out > heater-plugs
        rear-panel-off > pull-out
        blower-off > blower-cover-off
        motor-out > motor-plug
        """;

    /// <summary>A and A2.</summary>
    private const string LooseIdler = """
        idler-out > belt-off
        drum-out/seat > belt-off/thread
        belt-off > front-off
        duct-cover-off > front-off
        front-off > front-screws
        front-off/hang > door-plug
        door-plug > front-off/home
        front-off/home > drum-hook
        drum-out/seat >> drum-out/hook
        drum-out/seat >> drum-out/wire
        blower-off > belt-off/thread
        front-screws > top-up
        earth-clip > top-up
        top-up > deck-screws
        deck-screws > screen-out
        shaft-left-out > roller-left-off
        roller-right-off > heat-shield-off
        heat-shield-off > drum-out
        motor-out > motor-plug
        motor-out > blower-off
        """;

    private static readonly Dictionary<string, string> Stories = new()
    {
        ["marlune-mf20"] = """
            shaft-off > hub-off
            bearing-out > hub-off
            hub-off > back-off
            belt-from-drum > back-off
            wheel-left-off > back-off
            wheel-right-off > back-off
            back-off > belt-drop
            back-off > back-screws
            back-off > sensor-plug
            back-screws > side-right-off
            back-screws > side-left-off
            back-screws > fan-off
            back-screws > heater-out
            back-screws > vent-off
            guide-off > belt-drop
            motor-out > belt-drop
            belt-drop > spring-off
            spring-off > motor-plug
            spring-off > side-right-off
            motor-plug > side-right-off
            motor-out > fan-off
            fan-off > fan-cover-off
            heater-out > heater-plugs
            heater-plugs > heater-cover-off
            duct-off > side-left-off
            side-right-off > top-off
            side-left-off > top-off
            top-off > top-screws
            top-screws > pull-out
            """,
        ["marlune-mg61"] = """
            shaft-left-out > roller-left-off
            shaft-right-out > roller-right-off
            roller-left-off > drum-out
            roller-right-off > drum-out
            drum-out/seat >> drum-out/hook
            drum-out/seat >> drum-out/wire
            drum-out/round > drum-out/seat
            drum-out/hook > front-off
            belt-from-drum > belt-off
            arm-off > belt-off
            arm-off > drum-out
            idler-off > belt-off
            motor-out > strap-off
            motor-out > blower-off
            motor-out > motor-plug
            motor-out > drum-out
            blower-off > housing-open
            housing-open > front-off
            strap-off > belt-off
            belt-off > front-off
            glides-off > front-off
            front-off/hang > lamp-plug
            front-off/home > switch-out
            front-off/home > front-screws
            front-off/home > drum-hook
            front-screws > top-up
            switch-out > top-up
            drum-hook > top-up
            top-up > earth-clip
            top-up > bumper-out
            earth-clip > top-lift
            bumper-out > top-lift
            top-lift > pull-out
            """,
        ["marlune-ml45"] =
            Bulkhead
            + "\n"
            + """
                door-plug > skin-off/home
                skin-off/home > skin-inside
                skin-off/home > skin-lip
                skin-inside > top-up
                drum-hook > top-up
                earth-clip > top-up
                top-up > deck-screws
                deck-screws > screen-out
                top-up > pull-out
                rear-plate-off > pull-out
                """,
        ["marlune-ml49"] =
            Bulkhead
            + "\n"
            + """
                door-plug > skin-tilt
                skin-off > skin-tilt
                skin-tilt > skin-lip
                drum-hook > skin-off
                skin-lip > pull-out
                """,
        ["ostrel-or70"] =
            ShaftAndSleeve
            + "\n"
            + """
                shaft-off > diffuser-off
                diffuser-off > drum-out
                blower-off > blower-cover-off
                blower-cover-off > duct-off
                motor-out > blower-off
                motor-out > motor-plug
                motor-out > belt-off
                front-off/home > front-screws
                front-screws > top-off
                top-off > top-screws
                top-off > wires-down
                wires-down > console-plugs
                console-plugs > console-roll
                console-roll > console-screws
                console-screws > pull-out
                """,
        ["ostrel-or78"] =
            ShaftAndSleeve
            + "\n"
            + """
                drum-out > cabinet-spread
                cabinet-spread > front-off
                blower-off > unit-out
                unit-out > motor-plug
                unit-out > drum-out
                unit-out > belt-off
                unit-out > duct-off
                front-off/home > skin-above
                front-off/home > skin-below
                skin-above > console-off
                door-plug > console-off
                lamp-plug > console-off
                console-off > trim-off
                console-off > console-plugs
                console-plugs > top-off
                console-off > top-off
                """,
        ["ostrel-ot50"] =
            LooseIdler
            + "\n"
            + """
                drum-out/hook > belt-off/thread
                belt-off/lay > drum-out/seat
                door-plug > top-up
                drum-hook > top-up
                roller-left-off > drum-out
                rear-plate-off > pull-out
                shaft-right-out > pull-out
                blower-off > duct-cover-off
                """,
        ["ostrel-ot56"] =
            LooseIdler
            + "\n"
            + """
                front-off > lower-screws
                front-off > springs-off
                springs-off > kick-off
                lower-screws > kick-off
                blower-off > drum-out
                top-up > pull-out
                """,
        ["quenby-qc30"] =
            BallAndCup
            + "\n"
            + """
                front-off > spacer-off
                front-screws > spacer-off
                spacer-off > top-up
                blower-cover-off > duct-off
                duct-off > rear-panel-off
                """,
        ["quenby-qc36"] =
            BallAndCup
            + "\n"
            + """
                duct-off > front-off
                earth-clip > top-up
                """,
        ["quenby-qd62"] =
            FourRollers
            + "\n"
            + """
                heater-out > rear-panel-off
                """,
        ["quenby-qd68"] =
            FourRollers
            + "\n"
            + """
                heater-out > upper-panel-off
                upper-panel-off > rear-panel-off
                upper-panel-off > cover-plate-off
                top-screws > cover-plate-off
                cover-plate-off > pull-out
                motor-out > mounts-free
                mounts-free > blower-off
                rear-shaft-right-out > heater-loose
                heater-loose > upper-panel-off
                """,
    };

    internal static string Of(string layoutId) => Stories[layoutId];
}
