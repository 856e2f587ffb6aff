namespace Idrum.Storage;

/// <summary>Hashes of tokens that were revoked, in a file beside the database: a backup from before does not bring such
/// a device back.</summary>
/// <param name="folder">The shop's folder.</param>
internal sealed class RevokedTokens(string folder)
{
    private const string Name = "revoked";
    private readonly Lock gate = new();
    private HashSet<string>? hashes;

    private string File => Path.Combine(folder, Name);

    internal bool Holds(string hash)
    {
        lock (gate)
        {
            return Read().Contains(hash);
        }
    }

    /// <summary>Adds one; it is on the disk when this returns.</summary>
    internal void Add(string hash)
    {
        lock (gate)
        {
            if (!Read().Add(hash))
            {
                return;
            }
            using var file = new FileStream(File, FileMode.Append, FileAccess.Write, FileShare.Read);
            file.Write(System.Text.Encoding.ASCII.GetBytes(hash + "\n"));
            file.Flush(true);
        }
    }

    private HashSet<string> Read() =>
        hashes ??= System.IO.File.Exists(File) ? [.. System.IO.File.ReadAllLines(File).Where(l => l.Length > 0)] : [];
}
