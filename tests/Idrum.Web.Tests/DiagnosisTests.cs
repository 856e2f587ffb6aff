using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Web.Tests;

/// <summary>What a helper is given: what broke and where, and nothing of a customer.</summary>
public sealed class DiagnosisTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    [Fact]
    public async Task It_names_the_error_by_the_number_that_was_shown_and_holds_no_word_of_a_customer()
    {
        // An appointment whose body is broken in the database: the day's page cannot be shown.
        using (var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={host.DatabasePath}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "UPDATE booking SET body = '{\"place\": \"Secret lodge' WHERE booking_id = (SELECT booking_id FROM booking LIMIT 1)";
            Assert.Equal(1, command.ExecuteNonQuery());
        }
        var page = await (await host.Client.GetAsync("/week.ics")).Content.ReadAsStringAsync();
        var number = Regex.Match(page, "E-[0-9a-f]{8}").Value;
        Assert.NotEqual("", number);
        var text = await host.Client.GetStringAsync("/shop/diagnosis.json");
        using var bundle = JsonDocument.Parse(text);
        var error = bundle
            .RootElement.GetProperty("errors")
            .EnumerateArray()
            .Single(e => e.GetProperty("number").GetString() == number);
        Assert.Equal("GET /week.ics", error.GetProperty("where").GetString());
        Assert.Contains("Json", error.GetProperty("kind").GetString());
        Assert.Contains("WeekStore", error.GetProperty("steps")[0].GetString());
        Assert.Equal(SystemCheck.Version, bundle.RootElement.GetProperty("idrum").GetString());
        foreach (var job in host.Get<JobStore>().List())
        {
            Assert.DoesNotContain(job.Place, text);
        }
        Assert.DoesNotContain("Secret", text);
        Assert.DoesNotContain(host.DataFolder, text);
        // They were logged, too: that is what the number is for.
        Assert.Contains(host.Logged, l => l.Contains(number));
        host.Logged.Clear();
    }
}
