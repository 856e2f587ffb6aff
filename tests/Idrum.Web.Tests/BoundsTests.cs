using System.IO.Compression;
using System.Net;
using System.Text;
using Idrum.Core.Basics;
using Idrum.Storage;
using Idrum.Web.Drawing;
using Idrum.Web.Hosting;

namespace Idrum.Web.Tests;

/// <summary>What is sent to hold the shop up: texts of empty things, a manifest without end, what a killed run
/// left.</summary>
public sealed class BoundsTests(TestHost host) : IClassFixture<TestHost>
{
    [Fact]
    public async Task Seventy_megabytes_of_empty_acts_are_refused_before_they_are_held()
    {
        var text = new StringBuilder(70_000_100).Append("""{"format":"idrum-job","version":2,"events":[""");
        while (text.Length < 70_000_000)
        {
            text.Append("{},");
        }
        text.Append("{}]}");
        var body = new StringContent(text.ToString(), Encoding.UTF8, "application/json");
        text.Clear();
        var answer = await host.Client.PostAsync("/api/v1/jobs", body);
        Assert.True(
            answer.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.UnprocessableEntity,
            $"{answer.StatusCode}"
        );
        Assert.Contains("1,000,000 values", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task What_is_too_large_says_how_large_how_much_is_taken_and_leads_back_to_its_job()
    {
        using var form = new MultipartFormDataContent
        {
            { new ByteArrayContent(new byte[12 << 20]), "photo", "large.jpg" },
        };
        var answer = await host.Client.PostAsync("/jobs/J-0147/photos", form);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, answer.StatusCode);
        var page = await answer.Content.ReadAsStringAsync();
        Assert.Contains("12 MB were sent", page, StringComparison.Ordinal);
        Assert.Contains("10 MB is the most", page, StringComparison.Ordinal);
        Assert.Contains("href=\"/jobs/J-0147\"", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_whole_export_is_a_zip_that_is_sent_while_it_is_written()
    {
        using var answer = await host.Client.GetAsync("/shop/export", HttpCompletionOption.ResponseHeadersRead);
        Assert.Null(answer.Content.Headers.ContentLength);
        Assert.Equal("application/zip", answer.Content.Headers.ContentType?.MediaType);
        Assert.StartsWith(
            "idrum-export-",
            answer.Content.Headers.ContentDisposition?.FileName?.Trim('"'),
            StringComparison.Ordinal
        );
        using var zip = new ZipArchive(new MemoryStream(await answer.Content.ReadAsByteArrayAsync()));
        Assert.Contains(zip.Entries, e => e.FullName == "jobs/J-0147.json" && e.Length > 1000);
        Assert.Contains(zip.Entries, e => e.FullName == "jobs.csv");
        Assert.Contains(zip.Entries, e => e.FullName == "readings.csv");
    }

    [Fact]
    public void A_text_of_empty_things_takes_no_more_than_some_times_its_size()
    {
        var text = "[" + string.Join(',', Enumerable.Repeat("{}", 4_000_000)) + "]";
        var before = GC.GetAllocatedBytesForCurrentThread();
        Assert.Single(JsonText.Faults(text));
        Assert.True(GC.GetAllocatedBytesForCurrentThread() - before < 12L * text.Length);
    }

    [Fact]
    public void A_manifest_without_end_is_not_read_to_its_end()
    {
        var folder = Directory.CreateTempSubdirectory("idrum-endless").FullName;
        try
        {
            var file = Path.Combine(folder, "endless.zip");
            using (var zip = ZipFile.Open(file, ZipArchiveMode.Create))
            {
                using var entry = zip.CreateEntry("manifest.json", CompressionLevel.SmallestSize).Open();
                var blank = Encoding.ASCII.GetBytes(new string(' ', 1 << 20));
                for (var i = 0; i < 40; i++)
                {
                    entry.Write(blank);
                }
            }
            var fault = Assert.Throws<InvalidDataException>(() => BackupFormat.Check(file));
            Assert.Contains("longer than any", fault.Message, StringComparison.Ordinal);
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    [Fact]
    public void What_a_killed_run_left_is_cleared_and_nothing_else()
    {
        var data = Directory.CreateTempSubdirectory("idrum-left").FullName;
        var temporary = Directory.CreateTempSubdirectory("idrum-temporary").FullName;
        try
        {
            foreach (
                var name in new[] { "brought-1.zip", "idrum-2026-11-30.zip.part", "idrum.db", "idrum-2026-11-29.zip" }
            )
            {
                File.WriteAllText(Path.Combine(data, name), "");
            }
            foreach (var (name, age) in new[] { ("idrum-old.zip", 2), ("idrum-young.zip", 0), ("other-old.zip", 2) })
            {
                File.WriteAllText(Path.Combine(temporary, name), "");
                File.SetLastWriteTimeUtc(Path.Combine(temporary, name), DateTime.UtcNow.AddDays(-age));
            }
            OwnFiles.Tidy(data, temporary);
            Assert.Equal(
                ["idrum-2026-11-29.zip", "idrum.db"],
                Directory.GetFiles(data).Select(Path.GetFileName).Order(StringComparer.Ordinal)
            );
            Assert.Equal(
                ["idrum-young.zip", "other-old.zip"],
                Directory.GetFiles(temporary).Select(Path.GetFileName).Order(StringComparer.Ordinal)
            );
        }
        finally
        {
            Directory.Delete(data, true);
            Directory.Delete(temporary, true);
        }
    }

    [Fact]
    public async Task A_phone_is_given_its_icon_as_points_in_the_sizes_the_manifest_names()
    {
        var manifest = await host.Client.GetStringAsync("/manifest.webmanifest");
        foreach (var size in PhoneIcon.Sizes)
        {
            var png = await host.Client.GetByteArrayAsync($"/icon-{size}.png");
            Assert.Equal([0x89, 0x50, 0x4E, 0x47], png[..4]);
            // Width and height stand in the header, most significant byte first.
            Assert.Equal(size, (png[18] << 8) | png[19]);
            Assert.Equal(size, (png[22] << 8) | png[23]);
        }
        Assert.Contains("icon-512.png", manifest, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/icon-9999.png")).StatusCode);
    }
}
