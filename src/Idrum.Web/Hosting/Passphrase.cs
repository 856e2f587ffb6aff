namespace Idrum.Web.Hosting;

/// <summary>Asks for the passphrase of a backup's keys: in the environment, else at the keyboard.</summary>
public static class Passphrase
{
    private const string Variable = "IDRUM_PASSPHRASE";

    /// <summary>The passphrase.</summary>
    /// <exception cref="IOException">There is none.</exception>
    public static string Ask()
    {
        if (Environment.GetEnvironmentVariable(Variable) is { Length: > 0 } said)
        {
            return said;
        }
        if (!Console.IsInputRedirected)
        {
            Console.Write("Passphrase for the shop's keys: ");
        }
        return Console.ReadLine() is { Length: > 0 } typed
            ? typed
            : throw new IOException($"The keys need a passphrase: type it, or set {Variable}.");
    }
}
