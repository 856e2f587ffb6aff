using System.Text.Json;
using CsCheck;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Tests.Jobs;

public class JobArchiveTests
{
    private static string Json(int seed = 11, int acts = 40) =>
        JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), RandomWalk.Log(seed, acts), []), IdrumJson.Options);

    private static FieldError Refused(string json)
    {
        var (archive, _, errors) = JobArchive.Read(json, TestShop.Shop, TestShop.Reader);
        Assert.Null(archive);
        return errors[0];
    }

    [Fact]
    public void A_job_survives_export_and_import_with_the_identical_state()
    {
        Gen.Int[0, 1_000_000]
            .Sample(
                seed =>
                {
                    var log = RandomWalk.Log(seed, 50);
                    var json = JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), log, []), IdrumJson.Indented);
                    var (archive, _, errors) = JobArchive.Read(json, TestShop.Shop, TestShop.Reader);
                    Assert.Empty(errors);
                    Assert.True(Logs.Fold(archive!.Events).SameAs(Logs.Fold(log)));
                },
                iter: 15
            );
    }

    [Fact]
    public void A_file_cut_off_anywhere_is_refused_and_never_throws()
    {
        var json = Json();
        Gen.Int[0, json.Length - 1].Sample(n => Assert.NotEmpty(Refused(json[..n]).Message), iter: 200);
    }

    [Theory]
    [InlineData("..")]
    [InlineData("a/b")]
    [InlineData("J-1\r\nX")]
    [InlineData("J-1\n")]
    [InlineData("CON")]
    [InlineData("nul.txt")]
    [InlineData("J.")]
    [InlineData("import")]
    public void A_number_keeps_its_shape_on_this_way_in_too(string number)
    {
        var log = RandomWalk.Log(3, 0);
        log[0] = (JobOpened)log[0] with { Number = number };
        Assert.Equal("/events/0/number", Refused(JobArchive.Of(Guid.NewGuid(), log, []).Text()).Pointer);
    }

    [Fact]
    public void Another_version_or_format_is_named()
    {
        Assert.Equal("/version", Refused(Json().Replace("\"version\":2", "\"version\":3")).Pointer);
        Assert.Equal("/format", Refused(Json().Replace("idrum-job", "other-job")).Pointer);
        Assert.Equal("/format", Refused("[]").Pointer);
    }

    [Fact]
    public void An_event_that_could_not_have_happened_is_named_by_its_place()
    {
        var log = RandomWalk.Log(3, 0);
        log.Add(new OperationDone("belt-off", new Dictionary<string, int>()) { Id = Guid.NewGuid(), At = log[0].At });
        var error = Refused(JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), log, []), IdrumJson.Options));
        Assert.StartsWith("/events/1/", error.Pointer, StringComparison.Ordinal);
    }

    [Fact]
    public void A_doubled_event_an_unknown_kind_and_a_missing_photo_are_refused()
    {
        var log = RandomWalk.Log(3, 5);
        Assert.Contains(
            "twice",
            Refused(
                JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), [.. log, log[0]], []), IdrumJson.Options)
            ).Message,
            StringComparison.Ordinal
        );
        Refused(Json().Replace("\"kind\":\"opened\"", "\"kind\":\"exploded\""));
        var photo = new PhotoAdded(new string('a', 64), "", "") { Id = Guid.NewGuid(), At = log[0].At };
        Assert.Equal(
            "/attachments",
            Refused(
                JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), [log[0], photo], []), IdrumJson.Options)
            ).Pointer
        );
    }

    [Fact]
    public void A_log_from_before_times_guards_and_causes_still_reads()
    {
        var items = string.Join(
            ',',
            TestShop.Shop.Handbook.Safety.Where(s => s.For is "always" or "plug").Select(s => $"\"{s.Id}\"")
        );
        string Event(int n, string kind, string fields) =>
            $$"""{"kind":"{{kind}}","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0{{n:000}}","at":"2026-03-01T08:{{n:00}}:00+01:00",{{fields}}}""";
        string[] events =
        [
            Event(
                1,
                "opened",
                "\"number\":\"J-117\",\"machine\":{\"layoutId\":\"ostrel-ot50\",\"place\":\"x\",\"tag\":\"\",\"ageYears\":null,\"usesPerWeek\":null,\"energy\":\"electric\",\"connection\":\"plug\",\"units\":\"mm\",\"facts\":[],\"callBackOf\":\"\"}"
            ),
            Event(2, "complaint-stated", "\"findings\":[\"streaks\"],\"words\":\"Brown stripes\""),
            Event(
                3,
                "targets-chosen",
                "\"targets\":[\"front-felt\"],\"faultId\":\"front-felt-worn\",\"waysIn\":{},\"reason\":\"\""
            ),
            Event(4, "safety-signed", $"\"items\":[{items}],\"signedBy\":\"A\""),
            Event(5, "operation-done", "\"operationId\":\"screen-out\",\"counts\":{}"),
            // A count lowered, a felt called replaced without a word of glue: as it was recorded then.
            Event(6, "operation-done", "\"operationId\":\"deck-screws\",\"counts\":{\"deck\":1}"),
            Event(7, "operation-done", "\"operationId\":\"top-up\",\"counts\":{}"),
            Event(8, "operation-done", "\"operationId\":\"door-plug\",\"counts\":{}"),
            Event(9, "operation-done", "\"operationId\":\"drum-hook\",\"counts\":{}"),
            Event(10, "operation-done", "\"operationId\":\"front-screws\",\"counts\":{\"front-side\":2}"),
            Event(11, "operation-done", "\"operationId\":\"front-off\",\"counts\":{}"),
            Event(
                12,
                "part-fitted",
                "\"partId\":\"front-felt\",\"action\":\"replaced\",\"school\":\"contact\",\"transferred\":[],\"note\":\"\""
            ),
            Event(13, "closed", "\"summary\":\"\",\"reason\":\"The customer took it.\""),
        ];
        var (archive, history, errors) = JobArchive.Read(
            $$"""{"format":"idrum-job","version":1,"jobId":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b11","photos":[],"events":[{{string.Join(',', events)}}]}""",
            TestShop.Shop,
            TestShop.Reader
        );
        Assert.Empty(errors);
        Assert.Equal(
            (13, "Brown stripes", "front-felt-worn"),
            (archive!.Events.Count, history!.State.Words, history.State.FaultId.Value)
        );
        Assert.Equal("replaced", history.State.Fitted["front-felt"].Action);
    }

    [Fact]
    public void Nulls_within_events_are_refused() =>
        Refused(
            """{"format":"idrum-job","version":1,"jobId":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b11","photos":[],"events":[{"kind":"opened","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12","at":"2026-01-01T00:00:00Z","number":"J-1","machine":{"layoutId":"ostrel-ot50","place":"x","facts":[null]}}]}"""
        );
}
