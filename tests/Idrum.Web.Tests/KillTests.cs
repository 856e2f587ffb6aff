using System.Diagnostics;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;

namespace Idrum.Web.Tests;

/// <summary>The server process is killed with SIGKILL while events stream in; after the restart every acknowledged
/// event
/// must be there, and none twice.</summary>
public sealed class KillTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-kill").FullName;
    private Process? server;

    public void Dispose()
    {
        server?.Kill();
        server?.Dispose();
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task Acknowledged_events_survive_a_kill_and_resending_the_rest_doubles_none()
    {
        var jobId = Guid.NewGuid();
        var acknowledged = new HashSet<Guid>();
        var sent = new List<NoteAdded>();
        var rounds = TestSize.Of(2, 3);
        for (var round = 0; round < rounds; round++)
        {
            using var client = new HttpClient { BaseAddress = await StartAsync() };
            if (round == 0)
            {
                await SendAsync(
                    client,
                    jobId,
                    new JobOpened("J-0001", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" })
                    {
                        Id = Guid.NewGuid(),
                    }
                );
            }
            // What was not acknowledged before the kill is sent again, as a phone would.
            foreach (var e in sent.Where(e => !acknowledged.Contains(e.Id)).ToList())
            {
                Assert.True(await SendAsync(client, jobId, e));
                acknowledged.Add(e.Id);
            }
            var killAfter = acknowledged.Count + 25 + round * 7;
            var streams = Enumerable
                .Range(0, 4)
                .Select(async _ =>
                {
                    while (true)
                    {
                        var e = new NoteAdded("", "note") { Id = Guid.NewGuid() };
                        lock (sent)
                        {
                            sent.Add(e);
                        }
                        try
                        {
                            if (await SendAsync(client, jobId, e))
                            {
                                lock (sent)
                                {
                                    acknowledged.Add(e.Id);
                                    if (acknowledged.Count == killAfter)
                                    {
                                        server!.Kill();
                                    }
                                }
                            }
                        }
                        catch (HttpRequestException)
                        {
                            return;
                        }
                    }
                });
            await Task.WhenAll(streams);
            await server!.WaitForExitAsync();
            Assert.Equal(128 + 9, server.ExitCode);
        }
        using var last = new HttpClient { BaseAddress = await StartAsync() };
        var archive = JsonSerializer.Deserialize<JobArchive>(
            await last.GetStringAsync("/api/v1/jobs/J-0001/export"),
            IdrumJson.Options
        )!;
        var stored = archive.Events.Select(e => e.Id).ToList();
        Assert.Equal(stored.Count, stored.Distinct().Count());
        Assert.Empty(acknowledged.Except(stored));
        Assert.True(acknowledged.Count > 26 * rounds);
        Assert.InRange(stored.Count - 1, acknowledged.Count, sent.Count);
    }

    private static async Task<bool> SendAsync(HttpClient client, Guid jobId, JobEvent e) =>
        (
            await client.PostAsync(
                $"/api/v1/jobs/{jobId}/events",
                new StringContent(JsonSerializer.Serialize(e, IdrumJson.Options), Encoding.UTF8, "application/json")
            )
        ).IsSuccessStatusCode;

    private async Task<Uri> StartAsync()
    {
        server?.Dispose();
        (server, var address, _) = await ServerProcess.StartAsync(folder, []);
        return address;
    }
}
