using System.Text.Json;
using CsCheck;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

public class JobArchiveTests
{
    private static string Json(int seed = 11, int acts = 40) =>
        JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), RandomWalk.Log(seed, acts), []), IdrumJson.Options);

    private static FieldError Refused(string json)
    {
        var (archive, errors) = JobArchive.Read(json, TestShop.Shop);
        Assert.Null(archive);
        return errors[0];
    }

    [Fact]
    public void A_job_survives_export_and_import_with_the_identical_state()
    {
        Gen.Int[0, 1_000_000].Sample(seed =>
        {
            var log = RandomWalk.Log(seed, 50);
            var json = JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), log, []), IdrumJson.Indented);
            var (archive, errors) = JobArchive.Read(json, TestShop.Shop);
            Assert.Empty(errors);
            Assert.True(JobLog.Fold(archive!.Events).SameAs(JobLog.Fold(log)));
        }, iter: 15);
    }

    [Fact]
    public void A_file_cut_off_anywhere_is_refused_and_never_throws()
    {
        var json = Json();
        Gen.Int[0, json.Length - 1].Sample(n => Assert.NotEmpty(Refused(json[..n]).Message), iter: 200);
    }

    [Fact]
    public void Another_version_or_format_is_named()
    {
        Assert.Equal("/version", Refused(Json().Replace("\"version\":1", "\"version\":2")).Pointer);
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
        Assert.Contains("twice", Refused(JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), [.. log, log[0]], []), IdrumJson.Options)).Message, StringComparison.Ordinal);
        Refused(Json().Replace("\"kind\":\"opened\"", "\"kind\":\"exploded\""));
        var photo = new PhotoAdded(new string('a', 64), "", "") { Id = Guid.NewGuid(), At = log[0].At };
        Assert.Equal("/photos", Refused(JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), [log[0], photo], []), IdrumJson.Options)).Pointer);
    }

    [Fact]
    public void Nulls_within_events_are_refused() =>
        Refused("""{"format":"idrum-job","version":1,"jobId":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b11","photos":[],"events":[{"kind":"opened","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12","at":"2026-01-01T00:00:00Z","number":"J-1","machine":{"layoutId":"ostrel-ot50","place":"x","facts":[null]}}]}""");
}
