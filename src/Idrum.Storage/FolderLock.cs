namespace Idrum.Storage;

/// <summary>One Idrum on one data folder: the system lets the lock go when the process ends, however it ends.</summary>
public sealed class FolderLock : IDisposable
{
    private readonly FileStream file;

    private FolderLock(FileStream file) => this.file = file;

    /// <summary>Takes the folder.</summary>
    /// <param name="folder">The data folder; made where it is missing.</param>
    /// <exception cref="IOException">Another Idrum has it, or it cannot be written; the message says which.</exception>
    public static FolderLock Take(string folder)
    {
        try
        {
            Directory.CreateDirectory(folder);
            return new(
                new(Path.Combine(folder, "idrum.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None)
            );
        }
        catch (UnauthorizedAccessException e)
        {
            throw new IOException(
                $"The folder {folder} cannot be written. See to its rights, or name another one with --data DIR.",
                e
            );
        }
        catch (IOException e)
            when (File.Exists(Path.Combine(folder, "idrum.lock"))
                && !e.Message.Contains("Read-only", StringComparison.OrdinalIgnoreCase)
            )
        {
            throw new IOException(
                $"Another Idrum works on {folder} already. Use that one, stop it, or name another folder with --data DIR.",
                e
            );
        }
        catch (IOException e)
        {
            throw new IOException(
                $"The folder {folder} cannot be written ({e.Message}). Name another one with --data DIR.",
                e
            );
        }
    }

    /// <inheritdoc />
    public void Dispose() => file.Dispose();
}
