using System.Net;
using System.Text.RegularExpressions;
using Idrum.Core.Practice;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>Practice over the wire: an exercise is kept and counts for nothing; an unsafe act ends it; a drill's question is asked again
/// after it was missed.</summary>
public sealed partial class PracticeTests(TestHost host) : IClassFixture<TestHost>
{
    private static string Field(string page, string name) =>
        Regex.Match(page, $"name=\"{name}\"[^>]*value=\"([^\"]*)\"").Groups[1].Value;

    private async Task<(string Address, string Page)> PostAsync(
        string address,
        string page,
        params (string, string)[] fields
    )
    {
        var answer = await host.Client.PostAsync(
            address,
            new FormUrlEncodedContent(
                fields
                    .Append(("__RequestVerificationToken", Field(page, "__RequestVerificationToken")))
                    .Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))
            )
        );
        var to = answer.Headers.Location?.ToString() ?? answer.RequestMessage!.RequestUri!.PathAndQuery;
        return (
            to,
            answer.StatusCode == HttpStatusCode.SeeOther
                ? await host.Client.GetStringAsync(to)
                : await answer.Content.ReadAsStringAsync()
        );
    }

    private async Task<(string Address, string Page)> BeginAsync(string machine = "ostrel-ot50", string level = "1") =>
        await PostAsync(
            "/practice",
            await host.Client.GetStringAsync("/practice"),
            ("machine", machine),
            ("level", level)
        );

    [Fact]
    public async Task The_picture_of_a_course_that_is_asked_for_does_not_point_at_what_is_wrong()
    {
        var layout = host.Shop.FindLayout("quenby-qd62")!;
        foreach (var course in Core.Drive.BeltCourse.Of(layout))
        {
            var pointed = Drawing.DriveSvg.Of(layout, course, false, false).Value!;
            var asked = Drawing.DriveSvg.Of(layout, course, false, false, pointed: false).Value!;
            Assert.Equal(!course.Right, pointed != asked);
        }
        // All of them are asked with the same two pictures, the right one too.
        for (var seed = 0; seed < 6; seed++)
        {
            var page = await host.Client.GetStringAsync($"/practice/drill/course");
            Assert.Equal(2, Regex.Count(page, "<svg class=\"drive"));
        }
    }

    [Fact]
    public async Task Of_a_closed_job_a_teacher_makes_an_exercise_that_hides_it_until_it_is_over()
    {
        var index = await host.Client.GetStringAsync("/practice");
        Assert.Contains("J-0143", index);
        // An open one, one that is not there, and a name that is too long: said, and nothing is made.
        foreach (var (job, who) in new[] { ("J-0148", "Cyril"), ("J-9999", "Cyril"), ("J-0143", new string('x', 61)) })
        {
            var (_, refused) = await PostAsync("/practice", index, ("job", job), ("for", who));
            Assert.Contains("role=\"alert\"", refused);
        }
        var found = host.Store.Find("J-0143")!.State.Found.First(f => f.FaultId.Value.Length > 0).FaultId;
        var (address, page) = await PostAsync("/practice", index, ("job", "J-0143"), ("for", "Cyril"));
        Assert.DoesNotContain("J-0143", page);
        var id = Guid.Parse(address.Split('/')[^1]);
        var kept = host.Get<PracticeStore>().Find(id)!;
        Assert.Equal("Cyril", kept.Person);
        Assert.Contains(found, kept.Spec.Faults);
        Assert.Equal("J-0143", kept.Spec.FromJob);
        Assert.Contains(kept.Id, host.Get<PracticeStore>().Of("Cyril", 5).Select(e => e.Id));
        (_, page) = await PostAsync(address, page, ("kind", "check"), ("id", "drum-hand"), ("made", "0"));
        Assert.DoesNotContain("J-0143", page);
        (_, page) = await PostAsync(address, page, ("kind", "end"), ("id", ""), ("made", "1"));
        Assert.Contains("It was made of", page);
        Assert.Contains("/jobs/J-0143/report", page);
        Assert.Contains(
            System.Net.WebUtility.HtmlEncode(host.Get<Idrum.Core.Shop.ShopSnapshot>().Catalog.FindFault(found)!.Name),
            page
        );
    }

    [Fact]
    public async Task An_exercise_is_kept_and_counts_for_nothing()
    {
        var (jobs, lessons) = (host.Store.List().Count, host.Get<LearningStore>().Count);
        var (address, page) = await BeginAsync();
        Assert.Contains("What do you do next?", page);
        (_, page) = await PostAsync(address, page, ("kind", "check"), ("id", "drum-hand"), ("made", "0"));
        Assert.Contains("Drum turned by hand: ", page);
        // Pressed twice: the second is of a page that is not any more, and changes nothing.
        (_, page) = await PostAsync(address, page, ("kind", "check"), ("id", "smell"), ("made", "0"));
        Assert.DoesNotContain("Smell: ", page);
        (_, page) = await PostAsync(address, page, ("kind", "end"), ("id", ""), ("made", "1"));
        Assert.Contains("of 100 marks", page);
        Assert.Contains("What it had", page);
        Assert.Contains("Ostrel OT-50", await host.Client.GetStringAsync("/practice"));
        Assert.Equal((jobs, lessons), (host.Store.List().Count, host.Get<LearningStore>().Count));
        Assert.Empty(host.Get<LogbookStore>().Find(new() { Words = "practice" }, 1, 5).Jobs);
        var sound = await host.Client.GetAsync(address + "/sound.wav");
        Assert.Equal("audio/wav", sound.Content.Headers.ContentType!.MediaType);
    }

    [Fact]
    public async Task Opening_a_live_machine_ends_it_and_says_why()
    {
        var (address, page) = await BeginAsync("quenby-qd62", "3");
        (_, page) = await PostAsync(address, page, ("kind", "open"), ("id", "belt"), ("made", "0"));
        Assert.Contains("opened with the supply on", page);
        Assert.DoesNotContain("of 100 marks", page);
        Assert.Contains("none: unsafe", await host.Client.GetStringAsync("/practice"));
    }

    [Fact]
    public async Task What_cannot_be_is_said_and_nothing_is_lost()
    {
        var (_, refused) = await BeginAsync("no-such");
        Assert.Contains("Choose the machine.", refused);
        var (address, page) = await BeginAsync();
        (_, page) = await PostAsync(address, page, ("kind", "check"), ("id", "no-such"), ("made", "0"));
        Assert.Contains("There is no such check", page);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync($"/practice/{Guid.NewGuid()}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/practice/drill/no-such")).StatusCode);
        // An exercise of a machine that is gone, or of moves its layout does not know any more.
        var gone = new KeptExercise(
            Guid.NewGuid(),
            "",
            new("gone-1", 1, 5),
            DateTimeOffset.UtcNow,
            null,
            [],
            null,
            null,
            ""
        );
        host.Get<PracticeStore>().Keep(gone);
        Assert.Contains("not in the shop any more", await host.Client.GetStringAsync($"/practice/{gone.Id}"));
        var stale = gone with
        {
            Id = Guid.NewGuid(),
            Spec = new("ostrel-ot50", 1, 5),
            Moves = [new(MoveKind.Check, "was-once")],
        };
        host.Get<PracticeStore>().Keep(stale);
        Assert.Contains("changed since this exercise", await host.Client.GetStringAsync($"/practice/{stale.Id}"));
        Assert.Empty(host.Logged);
    }

    [Theory]
    [InlineData("sound")]
    [InlineData("screw")]
    [InlineData("last")]
    [InlineData("turn")]
    [InlineData("glue")]
    public async Task A_drill_that_was_missed_is_asked_again(string kind)
    {
        var page = await host.Client.GetStringAsync("/practice/drill/" + kind);
        var (machine, seed) = (Field(page, "machine"), int.Parse(Field(page, "seed")));
        var question = Drill.Of(kind, host.Shop.ByFiles(host.Shop.FindLayout(machine)!), new Random(seed))!;
        var miss = (question.Right + 1) % question.Choices.Count;
        var (_, answered) = await PostAsync(
            "/practice/drill/" + kind,
            page,
            ("machine", machine),
            ("seed", $"{seed}"),
            ("answer", $"{miss}")
        );
        Assert.Contains("Not so.", answered);
        page = await host.Client.GetStringAsync("/practice/drill/" + kind);
        Assert.Equal($"{seed}", Field(page, "seed"));
        (_, answered) = await PostAsync(
            "/practice/drill/" + kind,
            page,
            ("machine", machine),
            ("seed", $"{seed}"),
            ("answer", $"{question.Right}")
        );
        Assert.Contains("Right.", answered);
        Assert.Null(host.Get<PracticeStore>().Due("", kind, DateTimeOffset.UtcNow.AddHours(20)));
        Assert.NotNull(host.Get<PracticeStore>().Due("", kind, DateTimeOffset.UtcNow.AddDays(1.1)));
    }

    [Fact]
    public async Task A_form_with_an_act_that_is_none_leaves_the_exercise_as_it_stood_and_says_so()
    {
        var (address, page) = await BeginAsync();
        var refused = await host.PostFormAsync(
            address,
            ("kind", "repair-all"),
            ("id", ""),
            ("made", Field(page, "made"))
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var said = await refused.Content.ReadAsStringAsync();
        Assert.Contains("That is no act of this exercise.", said, StringComparison.Ordinal);
        Assert.Equal(Field(page, "made"), Field(said, "made"));
    }
}
