using Idrum.Core.Jobs.Log;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Primitives;

namespace Idrum.Web.Tests;

public class EventFormTests
{
    private static FormCollection Form(params (string Name, string[] Values)[] fields) =>
        new(fields.ToDictionary(f => f.Name, f => new StringValues(f.Values)));

    [Fact]
    public void Repeated_fields_are_lists_and_bracketed_ones_are_counts()
    {
        var (e, errors) = EventForm.Read(
            Form(
                ("kind", ["operation-refitted"]),
                ("operationId", ["deck-screws"]),
                ("counts[deck]", ["2"]),
                ("counts[other]", ["0"]),
                ("plugs", ["a", "b"]),
                ("checks", ["", "c"])
            )
        );
        Assert.Empty(errors);
        var refitted = Assert.IsType<OperationRefitted>(e);
        Assert.Equal([("deck", 2), ("other", 0)], refitted.Counts.Select(c => (c.Key, c.Value)));
        Assert.Equal(["a", "b"], refitted.Plugs);
        Assert.Equal(["c"], refitted.Checks);
    }

    [Fact]
    public void A_machine_card_is_read_with_empty_numbers_as_unknown_and_commas_as_points()
    {
        var (e, _) = EventForm.Read(
            Form(
                ("kind", ["opened"]),
                ("number", ["J-1"]),
                ("machine.layoutId", ["ostrel-ot50"]),
                ("machine.place", [" Cellar "]),
                ("machine.ageYears", ["7,5"]),
                ("machine.usesPerWeek", [""]),
                ("machine.facts", ["earth-clip"])
            )
        );
        var card = Assert.IsType<JobOpened>(e).Machine;
        Assert.Equal((7.5, null, "Cellar"), (card.AgeYears, card.UsesPerWeek, card.Place));
        Assert.Equal(["earth-clip"], card.Facts);
    }

    [Theory]
    [InlineData("two")]
    [InlineData("1.5")]
    [InlineData("")]
    [InlineData("1e99")]
    public void A_count_that_is_no_whole_number_is_named(string text)
    {
        var (e, errors) = EventForm.Read(
            Form(("kind", ["operation-done"]), ("operationId", ["x"]), ("counts[deck]", [text]))
        );
        Assert.Null(e);
        Assert.Equal("counts", Assert.Single(errors).Pointer);
    }

    [Theory]
    [InlineData("station-entered", "station", "moon")]
    [InlineData("no-such-kind", "", "")]
    public void What_is_not_understood_is_an_error_and_no_exception(string kind, string field, string value)
    {
        var (e, errors) = EventForm.Read(Form(("kind", [kind]), (field, [value])));
        Assert.Null(e);
        Assert.NotEmpty(errors);
    }

    [Fact]
    public void Every_kind_of_event_can_be_sent_as_a_form_without_its_fields_and_never_throws()
    {
        foreach (
            var kind in new[]
            {
                "opened",
                "machine-corrected",
                "complaint-stated",
                "finding-answered",
                "targets-chosen",
                "safety-signed",
                "operation-done",
                "problem-noted",
                "note-added",
                "photo-added",
                "reading-taken",
                "timer-started",
                "timer-stopped",
                "part-ordered",
                "parts-bought",
                "order-settled",
                "parts-returned",
                "estimate-given",
                "estimate-approved",
                "price-made",
                "part-fitted",
                "operation-refitted",
                "proof-recorded",
                "station-entered",
                "closed",
                "reopened",
                "undone",
                "restored",
                "cause-decided",
                "ways-chosen",
                "count-settled",
                "glue-coated",
                "glue-joined",
                "glue-slipped",
            }
        )
        {
            var (e, errors) = EventForm.Read(Form(("kind", [kind])));
            Assert.True(e is not null || errors.Count > 0, kind);
            Assert.True(e is null || EventShape.Check(e).Count == 0, kind);
        }
    }

    [Fact]
    public void A_refused_form_gives_back_what_was_typed_to_its_own_kind_only()
    {
        var state = FormState.Refused(
            Form(("kind", ["closed"]), ("reason", ["because"])),
            [new("reason", "Too short.")]
        );
        Assert.Equal("because", state.Value("closed", "reason"));
        Assert.Equal("before", state.Value("reopened", "reason", "before"));
        Assert.Equal("Too short.", state.ErrorAt("closed", "reason"));
        Assert.Equal("", state.ErrorAt("reopened", "reason"));
    }
}
