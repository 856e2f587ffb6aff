using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>A backup that is looked at before it is brought back.</summary>
public sealed class RestoreWork
{
    internal CancellationTokenSource Stop { get; } = new();

    /// <summary>How much of it is unpacked, 0 to 1.</summary>
    public double Share { get; internal set; }

    /// <summary>What it holds, once it is known to be sound; then the application begins anew with it.</summary>
    public BackupManifest? Manifest { get; internal set; }

    /// <summary>Why it is not brought back; empty where it is, or is still looked at.</summary>
    public string Wrong { get; internal set; } = "";

    /// <summary>Ends when it is looked at.</summary>
    public Task Done { get; internal set; } = Task.CompletedTask;
}

/// <summary>A backup to be brought back: it is checked as work of its own, then the application stops, puts it in place and starts
/// anew.</summary>
public sealed class RestoreDesk(IHostApplicationLifetime lifetime)
{
    private readonly Lock one = new();

    /// <summary>The backup to bring back, checked, and what opens its keys; empty where there is none.</summary>
    public (string File, string Passphrase) Waiting { get; private set; } = ("", "");

    /// <summary>What is looked at, or was last; null where nothing was since the start.</summary>
    public RestoreWork? Now { get; private set; }

    /// <summary>Begins to look at a backup, which is this desk's from then on: it asks the application to begin anew with it, or
    /// deletes it.</summary>
    /// <returns>The work; null where another backup is being looked at.</returns>
    public RestoreWork? Begin(string file, string passphrase)
    {
        lock (one)
        {
            if (Now is { Done.IsCompleted: false } || Waiting.File.Length > 0)
            {
                return null;
            }
            var work = new RestoreWork();
            work.Done = Task.Run(() => Look(work, file, passphrase));
            return Now = work;
        }
    }

    /// <summary>Stops what is looked at; nothing was changed.</summary>
    public void End() => Now?.Stop.Cancel();

    private void Look(RestoreWork work, string file, string passphrase)
    {
        try
        {
            work.Manifest = BackupFormat.Check(file, passphrase, share => work.Share = share, work.Stop.Token);
            Waiting = (file, passphrase);
            // The answer goes out first.
            _ = Task.Delay(1000).ContinueWith(_ => lifetime.StopApplication(), TaskScheduler.Default);
            return;
        }
        catch (OperationCanceledException)
        {
            work.Wrong = "Stopped. Nothing was changed.";
        }
        catch (Exception e) when (e is IOException or InvalidDataException or UnauthorizedAccessException)
        {
            work.Wrong = e.Message;
        }
        File.Delete(file);
    }
}
