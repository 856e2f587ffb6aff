namespace Idrum.Core.Machines;

/// <summary>Kinds of part that something is known about beyond what files say; all kinds are the vocabulary’s.</summary>
public static class PartKinds
{
    /// <summary>The drum.</summary>
    public const string Drum = "drum";

    /// <summary>The belt.</summary>
    public const string Belt = "belt";

    /// <summary>A baffle in the drum.</summary>
    public const string Baffle = "baffle";

    /// <summary>A roller the drum runs on.</summary>
    public const string DrumRoller = "drum-roller";

    /// <summary>The idler pulley.</summary>
    public const string IdlerPulley = "idler-pulley";

    /// <summary>The spring of its arm.</summary>
    public const string IdlerSpring = "idler-spring";

    /// <summary>The motor.</summary>
    public const string Motor = "motor";

    /// <summary>The blower’s wheel.</summary>
    public const string BlowerWheel = "blower-wheel";

    /// <summary>The felt of the drum’s front.</summary>
    public const string FrontFelt = "front-felt";

    /// <summary>The felt of its rear.</summary>
    public const string RearFelt = "rear-felt";

    /// <summary>What the front glides on.</summary>
    public const string Glide = "glide";

    /// <summary>The shaft at the rear.</summary>
    public const string RearShaft = "rear-shaft";

    /// <summary>The sleeve it turns in.</summary>
    public const string Sleeve = "sleeve";

    /// <summary>The cup of a ball hitch.</summary>
    public const string Cup = "cup";

    /// <summary>The ball hitch.</summary>
    public const string BallHitch = "ball-hitch";

    /// <summary>A panel.</summary>
    public const string Panel = "panel";

    /// <summary>A bulkhead.</summary>
    public const string Bulkhead = "bulkhead";

    /// <summary>A duct.</summary>
    public const string Duct = "duct";

    /// <summary>The lint screen.</summary>
    public const string LintScreen = "lint-screen";

    /// <summary>Cabinet, base and feet.</summary>
    public const string Cabinet = "cabinet";
}
