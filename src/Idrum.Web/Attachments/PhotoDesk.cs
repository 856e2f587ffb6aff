namespace Idrum.Web.Attachments;

/// <summary>Decodes pictures, two at a time: each may take some hundred megabytes while it is open.</summary>
public sealed class PhotoDesk : IDisposable
{
    private readonly SemaphoreSlim free = new(2);

    /// <returns>The JPEG to store, or what is wrong with the picture.</returns>
    public async Task<(byte[] Jpeg, string Error)> ReadAsync(byte[] bytes, CancellationToken caller)
    {
        await free.WaitAsync(caller);
        try
        {
            return await Task.Run(() => PhotoFile.Read(bytes), caller);
        }
        finally
        {
            free.Release();
        }
    }

    public void Dispose() => free.Dispose();
}
